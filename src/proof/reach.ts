import { conditions, numbers } from '../expression/evaluate.js'
import { effectText } from '../rule/explain/phrases.js'
import type { RankPlan } from '../rule/kinds/rank/run.js'
import type { BoundRule, RuleResult } from '../rule/model.js'
import { populationSizes } from '../rule/run/run.js'
import { CHANNELS, type Channel } from '../style/cell-style.js'
import { finding, type ProofFinding } from './finding.js'
import { levelText, type ProofedLevel, runsOf, type Subject } from './subject.js'

/** Rules as written, each with all its results. */
function byRule(subject: Subject): { rule: BoundRule; runs: { level: ProofedLevel; result: RuleResult }[] }[] {
  const runs = runsOf(subject)
  const seen = new Set<number>()
  return subject.rules.flatMap((rule) => {
    if (rule.paused || seen.has(rule.index)) return []
    seen.add(rule.index)
    return [{ rule, runs: runs.filter(({ result }) => result.rule.index === rule.index) }]
  })
}

function given({ classes }: RuleResult): number {
  let count = 0
  for (const c of classes) if (c >= 0) count++
  return count
}

/** Cells in which a rule sets some channel. */
function decided({ level, result }: { level: ProofedLevel; result: RuleResult }): number {
  const painted = level.result.painting.get(result.measure)
  if (painted === undefined) return 0
  const won = painted.styles.map((look) => Object.values(look.paintedBy).includes(result.rule.name))
  let count = 0
  for (const id of painted.ids) if (won[id]) count++
  return count
}

/** A rule that matches no cell, or is shown nowhere. */
export function paintsNothing(subject: Subject): ProofFinding[] {
  return byRule(subject).flatMap(({ rule, runs }) => {
    if (runs.some(({ result }) => given(result) > 0)) return []
    const cells = runs.reduce((sum, { result }) => sum + result.classes.length, 0)
    const skipped = subject.levels.flatMap(({ result }) =>
      result.skipped.filter((entry) => entry.rule.index === rule.index),
    )
    const message =
      skipped.length > 0
        ? `it applies nowhere: ${skipped[0].why}`
        : cells === 0
          ? 'no exhibit shows what it paints'
          : `it paints none of ${cells} cells`
    return [finding('paints-nothing', { at: rule.name, message, numbers: { cells }, path: ['rules', rule.index] })]
  })
}

/** Fewer cells than this may well be equal. */
const MIN_CELLS = 5

/** A rule that gives the same to every cell. */
export function paintsEverything(subject: Subject): ProofFinding[] {
  return byRule(subject).flatMap(({ rule, runs }) => {
    // Bars and constant colours do not judge, and rules of rows paint whole rows on purpose.
    if (rule.kind.key !== 'bands' && rule.kind.key !== 'gradient') return []
    // The sign of values is no limit that could be far off.
    if (comparesWithZero(rule)) return []
    return runs.flatMap(({ level, result }) => {
      const { classes, effects: givens } = result
      const first = classes[0]
      if (classes.length < MIN_CELLS || first === undefined || first < 0 || classes.some((c) => c !== first)) return []
      const message = `all ${classes.length} cells are ${effectText(givens[first], subject.facts)}`
      const at = `${rule.name}, ${levelText(level, result.measure)}`
      return [
        finding('paints-everything', { at, message, numbers: { cells: classes.length }, path: ['rules', rule.index] }),
      ]
    })
  })
}

function comparesWithZero({ kind, plan }: BoundRule): boolean {
  const limits = kind.expressions(plan)
  return limits.length > 0 && limits.every((bound) => bound.op === 'number' && bound.value === 0)
}

/** A rank by count whose first part takes all cells. */
export function countsForShares(subject: Subject): ProofFinding[] {
  const seen = new Set<number>()
  return runsOf(subject).flatMap(({ level, result }) => {
    const { rule } = result
    if (rule.kind.key !== 'rank' || seen.has(rule.index)) return []
    const { parts, end, split } = rule.plan as RankPlan
    const cells = populationSizes(result.judged)[0]
    const [{ size }] = parts
    // Of few cells the best three may well be all.
    if (size.share || size.value < cells || size.value < MAX_LISTED || cells < 2) return []
    seen.add(rule.index)
    const message = `${split ? 'share' : end} ${size.text} takes all ${cells} cells${split && parts.length > 1 ? ', and the parts after it are empty' : ''}`
    const at = `${rule.name}, ${levelText(level, result.measure)}`
    const out = `write ${size.text}% for that share of the cells, or a count below ${cells}`
    const fix = size.value <= 100 ? { fix: out } : {}
    return [
      finding('count-for-share', {
        at,
        message,
        numbers: { cells, count: size.value },
        path: ['rules', rule.index, 'rank'],
        ...fix,
      }),
    ]
  })
}

/** Smaller counts are intended as counts. */
const MAX_LISTED = 10

/** A rank whose condition excludes cells that take its places. */
export function rankedOutside(subject: Subject): ProofFinding[] {
  const seen = new Set<number>()
  return runsOf(subject).flatMap(({ level, result }) => {
    const { rule, judged } = result
    if (rule.kind.key !== 'rank' || rule.where === undefined || rule.among !== undefined || seen.has(rule.index))
      return []
    const { parts, end, split } = rule.plan as RankPlan
    const holds = conditions(judged.run(rule.where.bound), judged.length)
    const values = numbers(judged.value, judged.length)
    let inside = 0
    for (let i = 0; i < judged.length; i++) if (holds[i] === 1 && !Number.isNaN(values[i])) inside++
    const [{ size }] = parts
    const meant = Math.min(inside, size.share ? Math.max(1, Math.round(size.value * inside)) : size.value)
    const got = given(result)
    if (split || got >= meant) return []
    seen.add(rule.index)
    const message = `${end} ${size.text} gives ${got} ${got === 1 ? 'cell' : 'cells'} of the ${inside} where ${rule.where.text}: the other ranks belong to cells that the condition excludes`
    const at = `${rule.name}, ${levelText(level, result.measure)}`
    const out = `write among: ${rule.where.text}, so that cells are compared with those alone`
    return [
      finding('ranked-outside', {
        at,
        message,
        numbers: { inside, given: got },
        path: ['rules', rule.index, 'where'],
        fix: out,
      }),
    ]
  })
}

/** A rule whose channels were all set by earlier rules. */
export function unreachableRules(subject: Subject): ProofFinding[] {
  return byRule(subject).flatMap(({ rule, runs }) => {
    const cells = runs.reduce((sum, { result }) => sum + given(result), 0)
    if (cells === 0 || runs.some((run) => decided(run) > 0)) return []
    const message = `it matches ${cells} cells, and earlier rules set all its channels`
    return [finding('unreachable-rule', { at: rule.name, message, numbers: { cells }, path: ['rules', rule.index] })]
  })
}

/** Two rules that give one cell different values of a channel. */
export function disputes(subject: Subject): ProofFinding[] {
  const pairs = new Map<
    string,
    { first: BoundRule; second: BoundRule; channels: Set<Channel>; cells: number; at: string }
  >()
  for (const level of subject.levels) {
    const { results } = level.result
    results.forEach((second, k) => {
      for (const first of results.slice(0, k)) {
        if (first.measure !== second.measure || first.rule.index === second.rule.index) continue
        const { channels, cells } = disputed(first, second)
        if (cells === 0) continue
        const key = `${first.rule.index} ${second.rule.index} ${levelText(level, first.measure)}`
        const at = `${second.rule.name}, ${first.rule.name}, ${levelText(level, first.measure)}`
        const pair = pairs.get(key)
        if (pair === undefined) pairs.set(key, { first: first.rule, second: second.rule, channels, cells, at })
        else {
          for (const channel of channels) pair.channels.add(channel)
          pairs.set(key, { ...pair, cells: pair.cells + cells })
        }
      }
    })
  }
  return [...pairs.values()].map(({ first, second, channels, cells, at }) => {
    const message = `${second.name} loses ${[...channels].join(', ')} to ${first.name} in ${cells} ${cells === 1 ? 'cell' : 'cells'}`
    return finding('dispute', { at, message, numbers: { cells }, path: ['rules', second.index] })
  })
}

/**
 * Channels with different values, with the number of cells; each pair of classes is compared once.
 */
function disputed(first: RuleResult, second: RuleResult): { channels: Set<Channel>; cells: number } {
  const channels = new Set<Channel>()
  const pairs = new Map<number, boolean>()
  let cells = 0
  for (let i = 0; i < first.classes.length; i++) {
    const [a, b] = [first.classes[i], second.classes[i]]
    if (a < 0 || b < 0) continue
    const pair = a * 65536 + b
    let differs = pairs.get(pair)
    if (differs === undefined) {
      const [one, other] = [first.effects[a], second.effects[b]]
      const sameChannels = CHANNELS.filter(
        (channel) =>
          one[channel] !== null && other[channel] !== null && String(one[channel]) !== String(other[channel]),
      )
      // A text colour that came with a fill is no dispute of its own.
      for (const channel of sameChannels) channels.add(channel)
      differs = sameChannels.length > 0
      pairs.set(pair, differs)
    }
    if (differs) cells++
  }
  return { channels, cells }
}

/** Cells with the words of one status and the icon of another. */
export function mixedStatuses({ levels, facts }: Subject): ProofFinding[] {
  return levels.flatMap((level) =>
    [...level.result.painting].flatMap(([measure, { ids, styles: looks }]) => {
      const mixed = looks.map(
        ({ status, icon, paintedBy }) =>
          status !== null && icon !== null && paintedBy.icon !== paintedBy.status && ownsIcon(facts.statuses, icon),
      )
      let cells = 0
      for (const id of ids) if (mixed[id]) cells++
      if (cells === 0) return []
      const look = looks[mixed.indexOf(true)]
      const message = `${cells} ${cells === 1 ? 'cell has' : 'cells have'} the status of ${look.paintedBy.status} and the icon of ${look.paintedBy.icon}`
      return [finding('mixed-status', { at: levelText(level, measure), message, numbers: { cells } })]
    }),
  )
}

/** Whether an icon means a status: an icon without a status is a mark of its own. */
function ownsIcon(statuses: Subject['facts']['statuses'], icon: string): boolean {
  return Object.values(statuses).some((status) => status.icon === icon)
}
