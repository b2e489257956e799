import { quantileSorted } from '../column/quantile.js'
import type { Bound } from '../expression/bound.js'
import { walk } from '../expression/bound.js'
import { readFormat } from '../format/format.js'
import { createPhrases } from '../rule/explain/phrases.js'
import type { Ladder } from '../rule/kinds/ladder.js'
import type { BoundText, RuleResult } from '../rule/model.js'
import { valueAt } from './bands.js'
import { finding, type ProofFinding } from './finding.js'
import { levelText, runsOf, type Subject } from './subject.js'

/**
 * A limit this many times above the data is in another unit; a small one may be intended, such as a
 * tolerance.
 */
const UNIT_FACTOR = 20
const FAR_BELOW = 60

/** The limits of a ladder with their paths. */
function placedLimits(result: RuleResult): { limit: BoundText; path: (string | number)[] }[] {
  const { rule } = result
  if (rule.kind.key !== 'bands') return []
  return (rule.plan as Ladder).bands.flatMap(({ tests }, band) =>
    tests.flatMap((test) =>
      test.kind === 'limit' ? [{ limit: test.limit, path: ['rules', rule.index, 'bands', band, test.sign] }] : [],
    ),
  )
}

/** A limit about a hundred times larger or smaller than all values. */
export function hundredfold(subject: Subject): ProofFinding[] {
  const seen = new Set<string>()
  return runsOf(subject).flatMap(({ level, result }) => {
    let [most, least] = [0, Number.POSITIVE_INFINITY]
    for (let i = 0; i < result.classes.length; i++) {
      const amount = Math.abs(valueAt(result, i))
      if (!(amount > 0)) continue
      most = Math.max(most, amount)
      least = Math.min(least, amount)
    }
    if (most === 0) return []
    return placedLimits(result).flatMap(({ limit, path }, _, all) => {
      const size = largestValue(result, limit)
      // A percent without its sign is a finding of its own.
      if (isBare(limit, size) && all.some((one) => largestValue(result, one.limit) >= PERCENT_FACTOR * size)) return []
      const off = size > most ? size / most : size > 0 && size < least ? least / size : 0
      const key = path.join()
      if (off < (size > most ? UNIT_FACTOR : FAR_BELOW) || seen.has(key)) return []
      seen.add(key)
      const telling = createPhrases(result.rule, subject.facts)
      const message = `${telling.limit(limit)} is compared with values from ${telling.print(least)} to ${telling.print(most)}, about ${Math.round(off)} times off`
      const at = `${result.rule.name}, ${levelText(level, result.measure)}`
      return [finding('hundredfold', { at, message, numbers: { limit: size, least, most, off }, path })]
    })
  })
}

/** A number in a limit that is also the value of a parameter. */
export function typedLimits({ rules, facts }: Subject): ProofFinding[] {
  const seen = new Set<string>()
  return rules.flatMap((rule) => {
    if (rule.paused) return []
    return [...rule.kind.expressions(rule.plan)]
      .flatMap((bound) => typedNumbers(bound))
      .flatMap((value) => {
        const parameter = [...facts.parameters.values()].find((parameter) => parameter.value === value && value !== 0)
        const key = `${rule.index} ${value}`
        if (parameter === undefined || seen.has(key)) return []
        seen.add(key)
        const message = `${createPhrases(rule, facts).print(value)} is written here, and the parameter ${parameter.name} has the same value`
        return [
          finding('typed-limit', {
            at: `${rule.name}, ${parameter.name}`,
            message,
            numbers: { value },
            path: ['rules', rule.index],
          }),
        ]
      })
  })
}

/** Amounts in a limit: not the p of `p of x`, which is a share. */
function typedNumbers(bound: Bound): number[] {
  const shares = new Set<Bound>()
  const values: number[] = []
  walk(bound, (part) => {
    if (part.op === 'arithmetic' && (part.sign === 'of' || part.sign === '*' || part.sign === '/'))
      shares.add(part.left).add(part.right)
    if (part.op === 'number' && !shares.has(part)) values.push(part.value)
  })
  return values
}

/** The digits of the judged measure as round() takes them: for a percent two more. */
function shownDigits({ rule, measure }: RuleResult, { facts }: Subject): number {
  const written = facts.format(rule.judge?.bound.op === 'name' ? rule.judge.bound.ref.name : measure)
  const format = written === undefined ? undefined : readFormat(written)
  if (format === undefined) return 2
  return (format.digits ?? 2) + (format.kind === 'percent' ? 2 : 0)
}

/**
 * A bare number up to a hundred beside values and another limit many times as large: a percent
 * without its sign.
 */
export function barePercents(subject: Subject): ProofFinding[] {
  const seen = new Set<string>()
  return runsOf(subject).flatMap(({ level, result }) => {
    const { judged } = result.rule
    if (judged.kind === 'number' && judged.unit.is === 'percent') return []
    const limits = placedLimits(result)
    const sizes = limits.map(({ limit }) => largestValue(result, limit))
    const amounts = Array.from(result.classes, (_, i) => Math.abs(valueAt(result, i))).filter((x) => x > 0)
    const middle = quantileSorted(Float64Array.from(amounts).sort(), 0.5)
    return limits.flatMap(({ limit, path }, i) => {
      const key = path.join()
      const largest = Math.max(...sizes.filter((x) => !Number.isNaN(x)))
      if (
        !isBare(limit, sizes[i]) ||
        seen.has(key) ||
        !(largest >= PERCENT_FACTOR * sizes[i]) ||
        !(middle >= PERCENT_FACTOR * sizes[i])
      )
        return []
      seen.add(key)
      const telling = createPhrases(result.rule, subject.facts)
      const other = limits[sizes.indexOf(largest)]
      const message = `${telling.limit(limit)} is compared with values around ${telling.print(middle)}, beside a limit of ${telling.limit(other.limit)}`
      const out = `did you mean ${sizes[i]}% of ${other.limit.text}?`
      const at = `${result.rule.name}, ${levelText(level, result.measure)}`
      return [finding('percent-meant', { at, message, numbers: { limit: sizes[i], middle }, path, fix: out })]
    })
  })
}

/** The number of a constant limit; NaN for any other. */
function largestValue({ judged }: RuleResult, { bound }: BoundText): number {
  const vector = judged.run(bound)
  return vector.constant && vector.kind === 'number' ? Math.abs(vector.values[0]) : Number.NaN
}

function isBare({ bound }: BoundText, size: number): boolean {
  return bound.op === 'number' && size >= 10 && size <= 100
}

/** Values this many times as large cannot be meant by a limit up to a hundred. */
const PERCENT_FACTOR = 10

/** A number with all its digits, in its unit. */
function exact(value: number, { rule }: RuleResult): string {
  const percent = rule.judged.kind === 'number' && rule.judged.unit.is === 'percent'
  return percent ? `${Number((value * 100).toPrecision(8))}%` : String(Number(value.toPrecision(12)))
}

/** Cells that miss a limit although their rounded text equals it. */
export function readsAsLimit(subject: Subject): ProofFinding[] {
  return runsOf(subject).flatMap(({ level, result }) => {
    const telling = createPhrases(result.rule, subject.facts)
    return placedLimits(result).flatMap(({ limit, path }) => {
      const vector = result.judged.run(limit.bound)
      if (vector.kind !== 'number') return []
      let count = 0
      let example = Number.NaN
      for (let i = 0; i < result.classes.length; i++) {
        const value = valueAt(result, i)
        const limitValue = vector.values[vector.constant ? 0 : result.judgedAt(i)]
        if (
          Number.isNaN(value) ||
          value === limitValue ||
          Number.isNaN(limitValue) ||
          telling.print(value) !== telling.print(limitValue)
        )
          continue
        // Only cells that miss the limit are misread; above it the text is right.
        const missed = path.at(-1) === 'atLeast' || path.at(-1) === 'above' ? value < limitValue : value > limitValue
        if (!missed) continue
        count++
        example = value
      }
      if (count === 0) return []
      const message = `${count} ${count === 1 ? 'cell reads' : 'cells read'} ${telling.print(example)}, as the limit does, and ${count === 1 ? 'is' : 'are'} ${exact(example, result)}`
      const at = `${result.rule.name}, ${levelText(level, result.measure)}`
      const judged = result.rule.judge?.text ?? result.measure
      const out = `show more digits, or round the judged value: judge: round(${judged}, ${shownDigits(result, subject)})`
      return [finding('reads-as-limit', { at, message, numbers: { count, example }, path, fix: out })]
    })
  })
}
