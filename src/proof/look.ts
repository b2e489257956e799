import { colorText } from '../color/color.js'
import { worstDifference } from '../color/color-vision.js'
import { contrast, READABLE } from '../color/contrast.js'
import { PAPER } from '../color/pigments.js'
import { type Effect, iconOf } from '../style/cell-style.js'
import { effectOf } from '../style/effect.js'
import { finding, type ProofFinding } from './finding.js'
import { levelText, type Subject } from './subject.js'

/** Statuses and styles whose own text colour is not readable on their own fill, or on paper. */
export function lowContrast({ levels, facts, palette }: Subject): ProofFinding[] {
  const findings = new Map<string, ProofFinding>()
  for (const [name, status] of Object.entries(facts.statuses)) {
    const { fill, ink } = effectOf(status, name, palette)
    if (ink === null) continue
    const ratio = contrast(ink, fill ?? PAPER)
    if (ratio >= READABLE) continue
    const message = `${colorText(ink)} on ${fill === null ? 'paper' : colorText(fill)} contrasts ${ratio.toFixed(1)}`
    findings.set(
      name,
      finding('contrast', { at: name, message, numbers: { contrast: ratio }, path: ['statuses', name] }),
    )
  }
  for (const level of levels)
    for (const [measure, { styles: looks }] of level.result.painting)
      for (const { fill, ink, status, paintedBy } of looks) {
        if (ink === null || status !== null) continue
        const ratio = contrast(ink, fill ?? PAPER)
        const at = `${paintedBy.ink}, ${levelText(level, measure)}`
        if (ratio >= READABLE || findings.has(at)) continue
        const message = `${colorText(ink)} on ${fill === null ? 'paper' : colorText(fill)} contrasts ${ratio.toFixed(1)}`
        findings.set(at, finding('contrast', { at, message, numbers: { contrast: ratio } }))
      }
  return [...findings.values()]
}

/** Pairs of statuses of one rule. */
function pairs({ rules, facts }: Subject): { rule: string; index: number; one: Effect; other: Effect }[] {
  const seen = new Set<string>()
  return rules.flatMap((rule) => {
    if (rule.paused) return []
    const effects = rule.effects.filter((given) => given.status !== null && Object.hasOwn(facts.statuses, given.status))
    return effects.flatMap((one, i) =>
      effects.slice(i + 1).flatMap((other) => {
        const key = `${one.status} ${other.status}`
        if (one.status === other.status || seen.has(key)) return []
        seen.add(key)
        return [{ rule: rule.name, index: rule.index, one, other }]
      }),
    )
  })
}

/** Statuses of one rule that differ in colour alone. */
export function byColorAlone(subject: Subject): ProofFinding[] {
  return pairs(subject).flatMap(({ one, other }) => {
    const same =
      iconOf(one) === iconOf(other) &&
      one.weight === other.weight &&
      one.flag === other.flag &&
      one.picture === other.picture
    if (!same) return []
    const message = `${one.status} and ${other.status} differ in colour alone`
    return [
      finding('color-alone', { at: `${one.status}, ${other.status}`, message, path: ['statuses', other.status ?? ''] }),
    ]
  })
}

/** Below this distance two colours are hardly different. */
const MIN_DISTANCE = 6

/**
 * Statuses of one rule whose fills, or text colours where they have none, are hardly different to
 * some readers.
 */
export function tooClose(subject: Subject): ProofFinding[] {
  return pairs(subject).flatMap(({ one, other }) => {
    // A flag tells them apart, whatever their colours.
    if (one.flag !== other.flag) return []
    const [a, b] = one.fill !== null && other.fill !== null ? [one.fill, other.fill] : [one.ink, other.ink]
    if (a === null || b === null) return []
    const distance = worstDifference(a, b)
    if (distance >= MIN_DISTANCE) return []
    const message = `${colorText(a)} of ${one.status} and ${colorText(b)} of ${other.status} are ${distance.toFixed(1)} apart`
    return [
      finding('too-close', {
        at: `${one.status}, ${other.status}`,
        message,
        numbers: { distance },
        path: ['statuses', other.status ?? ''],
      }),
    ]
  })
}

/** With this share of filled cells a table shows no exceptions. */
const MAX_PAINTED_SHARE = 2 / 3
/** A table with few cells may be full. */
const MIN_CELLS = 12

/** Tables with a fill in most cells. Heatmaps are full on purpose. */
export function crowded({ levels, rules }: Subject): ProofFinding[] {
  // A gradient colours every cell on purpose.
  const scales = new Set(rules.filter(({ kind }) => kind.key === 'gradient').map(({ name }) => name))
  return levels.flatMap((level) => {
    if (level.kind !== 'table' || level.cells.level !== 'detail') return []
    const cells = level.cells.table.length * level.show.length
    let filled = 0
    for (const measure of level.show) {
      const painted = level.result.painting.get(measure)
      if (painted === undefined) continue
      const full = painted.styles.map((look) => look.fill !== null && !scales.has(look.paintedBy.fill ?? ''))
      for (const id of painted.ids) if (full[id]) filled++
    }
    const share = filled / cells
    if (cells < MIN_CELLS || share < MAX_PAINTED_SHARE) return []
    const message = `${filled} of ${cells} cells (${Math.round(share * 100)}%) have a fill`
    return [finding('crowded', { at: level.exhibit ?? 'the table', message, numbers: { filled, cells, share } })]
  })
}

/** Hidden numbers in cells that no rule paints. */
export function hiddenPlain({ levels }: Subject): ProofFinding[] {
  return levels.flatMap((level) => {
    if (!level.hidden || level.cells.level !== 'detail') return []
    return level.show.flatMap((measure) => {
      const looks = level.result.painting.get(measure)?.styles ?? []
      if (looks.some((look) => look.fill !== null || iconOf(look) !== null || look.bar !== null || look.flag !== null))
        return []
      const cells = level.cells.table.length
      const message = `the numbers of ${cells} cells are hidden, and no rule paints them`
      return [finding('hidden-plain', { at: levelText(level, measure), message, numbers: { cells } })]
    })
  })
}
