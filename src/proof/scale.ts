import { quantileSorted } from '../column/quantile.js'
import { numbers } from '../expression/evaluate.js'
import { createPhrases } from '../rule/explain/phrases.js'
import type { RuleResult } from '../rule/model.js'
import { finding, type ProofFinding } from './finding.js'
import { levelText, runsOf, type Subject } from './subject.js'

/** The ends of a scale for each group, as gradients and bars compute them. */
interface Ends {
  from: Float64Array
  to: Float64Array
  middle?: Float64Array
}

function scaleEnds({ rule, fit }: RuleResult): Ends | undefined {
  return rule.kind.key === 'gradient' || rule.kind.key === 'bar' ? (fit as Ends) : undefined
}

/**
 * A middle that is not zero although all values have one sign: the colours of the other side are
 * used for them.
 */
export function againstSign(subject: Subject): ProofFinding[] {
  return runsOf(subject).flatMap(({ level, result }) => {
    const ends = scaleEnds(result)
    const centred = result.rule.kind.key === 'gradient' && (result.rule.plan as { centred: boolean }).centred
    if (ends?.middle === undefined || !centred) return []
    const { judged, rule } = result
    const values = numbers(judged.value, judged.length)
    let [wrong, below, above] = [0, 0, 0]
    let middle = Number.NaN
    for (let i = 0; i < values.length; i++) {
      const m = ends.middle[judged.groups[i]]
      if (values[i] < 0) below++
      if (values[i] > 0) above++
      if ((values[i] > 0 && values[i] < m) || (values[i] < 0 && values[i] > m)) {
        wrong++
        middle = m
      }
    }
    if (wrong === 0 || below === 0 || above === 0) return []
    const telling = createPhrases(rule, subject.facts)
    const side =
      middle > 0 ? 'above zero have the colours of the low side' : 'below zero have the colours of the high side'
    const message = `${wrong} values ${side}, as the middle is at ${telling.print(middle)}`
    const at = `${rule.name}, ${levelText(level, result.measure)}`
    return [
      finding('against-sign', { at, message, numbers: { wrong, middle }, path: ['rules', rule.index, 'gradient'] }),
    ]
  })
}

/** Smaller populations have no outliers to speak of. */
const MIN_CELLS = 8
/**
 * The values without a twentieth at each end, at least one, should cover this share of the scale.
 */
const MAX_SHARE = 0.25

/** Nearly all values within a small part of the scale, because of few outliers. */
export function squeezed(subject: Subject): ProofFinding[] {
  return runsOf(subject).flatMap(({ level, result }) => {
    const ends = scaleEnds(result)
    if (ends === undefined) return []
    const { judged, rule } = result
    const values = numbers(judged.value, judged.length)
    const all: number[][] = Array.from({ length: judged.groupCount }, () => [])
    for (let i = 0; i < values.length; i++)
      if (judged.population[i] >= 0 && !Number.isNaN(values[i])) all[judged.population[i]].push(values[i])
    const telling = createPhrases(rule, subject.facts)
    for (const [g, values] of all.entries()) {
      if (values.length < MIN_CELLS) continue
      const sorted = Float64Array.from(values).sort()
      const apart = Math.max(1, Math.floor(sorted.length / 20))
      const [low, high] = [sorted[apart], sorted[sorted.length - 1 - apart]]
      const inside = Math.min(high, ends.to[g]) - Math.max(low, ends.from[g])
      // A scale that begins at zero shows the size of values, however close they are.
      const from = ends.from[g] === 0 ? Math.max(0, sorted[0]) : ends.from[g]
      const share = inside / (ends.to[g] - from)
      if (!(share < MAX_SHARE) || sorted[0] === sorted[sorted.length - 1]) continue
      const message = `all but ${apart === 1 ? 'the lowest and the highest' : `the ${apart} lowest and highest`} lie between ${telling.print(low)} and ${telling.print(high)}, ${Math.round(Math.max(0, share) * 100)}% of a scale from ${telling.print(ends.from[g])} to ${telling.print(ends.to[g])}`
      const at = `${rule.name}, ${levelText(level, result.measure)}`
      const numbers = { low, high, from: ends.from[g], to: ends.to[g], share }
      return [finding('scale-squeezed', { at, message, numbers, path: ['rules', rule.index, rule.kind.key] })]
    }
    return []
  })
}

/** A measure this many times as large leaves no differences visible in another. */
const MAX_RATIO = 10

/** Measures with one scale whose usual sizes are far apart. */
export function unlikeTogether(subject: Subject): ProofFinding[] {
  const seen = new Set<number>()
  return runsOf(subject).flatMap(({ level, result }) => {
    const { rule } = result
    if (rule.oneScale.length === 0 || rule.judge !== undefined || seen.has(rule.index)) return []
    const sizes = rule.oneScale.flatMap((measure) => {
      const column = level.cells.table.columns.get(measure)?.column
      if (column?.kind !== 'number') return []
      const sorted = column.values
        .filter((v) => !Number.isNaN(v))
        .map(Math.abs)
        .sort()
      return sorted.length === 0 ? [] : [{ measure, size: quantileSorted(sorted, 0.5) }]
    })
    const large = sizes.reduce((a, b) => (b.size > a.size ? b : a), { measure: '', size: 0 })
    const small = sizes.reduce((a, b) => (b.size < a.size ? b : a), { measure: '', size: Number.POSITIVE_INFINITY })
    if (!(large.size >= MAX_RATIO * small.size) || sizes.length < 2) return []
    seen.add(rule.index)
    const message = `${large.measure} is usually ${small.size === 0 ? 'far larger than' : `${Math.round(large.size / small.size)} times`} ${small.measure}`
    const numbers = { large: large.size, small: small.size }
    return [finding('one-scale-unlike', { at: rule.name, message, numbers, path: ['rules', rule.index, 'oneScale'] })]
  })
}
