import { codes, conditions, numbers, type Vector } from '../../expression/evaluate.js'
import { parsePeriod, type Span, spanOf } from '../../time/period.js'
import type { BoundText, Judged } from '../model.js'

export const SIGNS = ['atLeast', 'above', 'atMost', 'below'] as const
export type Sign = (typeof SIGNS)[number]

export type Test =
  | { kind: 'limit'; sign: Sign; limit: BoundText }
  | { kind: 'equals'; written: string; values: readonly Literal[]; spans: readonly Span[] }
  | { kind: 'contains'; text: string }
  | { kind: 'when'; condition: BoundText }

export type Literal = string | number | boolean

export interface Band {
  tests: Test[]
  gives: number
}

export interface Ladder {
  bands: Band[]
  /** The class of missing values, -1 if the rule leaves them out. */
  missing: number
  /** The index of the band with `missing`; -1 without one. */
  missingBand: number
  /** The class of `otherwise`, -1 without one. */
  otherwise: number
}

/** The bands as intervals if every limit is constant; undefined if they are tested cell by cell. */
export type LadderFit = Intervals | undefined

export interface Intervals {
  low: Float64Array
  high: Float64Array
}

/** Each band as the closed interval of its values, if all limits are constant. */
export function constantIntervals(plan: Ladder, judged: Judged): Intervals | undefined {
  if (judged.value.kind !== 'number') return undefined
  const n = plan.bands.length
  const low = new Float64Array(n).fill(Number.NEGATIVE_INFINITY)
  const high = new Float64Array(n).fill(Number.POSITIVE_INFINITY)
  for (let b = 0; b < n; b++)
    for (const test of plan.bands[b].tests) {
      if (test.kind !== 'limit') return undefined
      const limit = judged.run(test.limit.bound)
      if (!limit.constant || limit.kind !== 'number' || Number.isNaN(limit.values[0])) return undefined
      const x = limit.values[0]
      // Doubles are discrete: above x is at least the next one.
      if (test.sign === 'atLeast') low[b] = Math.max(low[b], x)
      else if (test.sign === 'above') low[b] = Math.max(low[b], nextUp(x))
      else if (test.sign === 'atMost') high[b] = Math.min(high[b], x)
      else high[b] = Math.min(high[b], -nextUp(-x))
    }
  return { low, high }
}

const bits = new DataView(new ArrayBuffer(8))

/** The smallest double above x (IEEE 754-2019, nextUp). */
export function nextUp(x: number): number {
  if (x === 0) return Number.MIN_VALUE
  if (!Number.isFinite(x)) return x
  bits.setFloat64(0, x)
  bits.setBigInt64(0, bits.getBigInt64(0) + (x > 0 ? 1n : -1n))
  return bits.getFloat64(0)
}

export function runIntervals(plan: Ladder, { low, high }: Intervals, judged: Judged): Int16Array {
  const { length } = judged
  const values = numbers(judged.value, length)
  const out = new Int16Array(length)
  const gives = Int16Array.from(plan.bands, (band) => band.gives)
  const { missing, otherwise } = plan
  const n = gives.length
  for (let i = 0; i < length; i++) {
    const v = values[i]
    let given = otherwise
    for (let b = 0; b < n; b++)
      if (v >= low[b] && v <= high[b]) {
        given = gives[b]
        break
      }
    out[i] = Number.isNaN(v) ? missing : given
  }
  return out
}

/**
 * The general case: limits that differ by cell, texts, free conditions. With three truth values:
 * the ladder stops at a missing one.
 */
export function runLadder(plan: Ladder, judged: Judged): Int16Array {
  const { length, value } = judged
  const out = new Int16Array(length)
  const absent = missingMask(value, length)
  const truths = plan.bands.map((band) => band.tests.map((test) => truthOf(test, judged)))
  for (let i = 0; i < length; i++) {
    out[i] = plan.otherwise
    if (absent[i] === 1) {
      out[i] = plan.missing
      continue
    }
    for (let b = 0; b < truths.length; b++) {
      // Within one band false beats missing.
      let holds = 1
      for (const truth of truths[b]) {
        if (truth[i] === 0) {
          holds = 0
          break
        }
        if (truth[i] < 0) holds = -1
      }
      if (holds === 0) continue
      out[i] = holds === 1 ? plan.bands[b].gives : plan.missing
      break
    }
  }
  return out
}

export function missingMask(value: Vector, length: number): Uint8Array {
  const out = new Uint8Array(length)
  if (value.kind === 'number') {
    const values = numbers(value, length)
    for (let i = 0; i < length; i++) out[i] = Number(Number.isNaN(values[i]))
    return out
  }
  const whole = value.kind === 'text' ? codes(value, length) : conditions(value, length)
  return out.map((_, i) => Number(whole[i] < 0))
}

export function truthOf(test: Test, judged: Judged): Int8Array {
  const { length, value } = judged
  if (test.kind === 'when') return conditions(judged.run(test.condition.bound), length)
  if (test.kind === 'equals') return equalsTruth(test.values, test.spans, value, length)
  if (test.kind === 'contains') {
    if (value.kind !== 'text') return new Int8Array(length)
    const holds = value.words.map((word) => Number(word.includes(test.text)))
    return Int8Array.from(codes(value, length), (c) => (c < 0 ? -1 : holds[c]))
  }
  const x = numbers(value, length)
  const y = numbers(judged.run(test.limit.bound), length)
  return compareAll(test.sign, x, y)
}

function compareAll(sign: Sign, x: Float64Array, y: Float64Array): Int8Array {
  const out = new Int8Array(x.length)
  if (sign === 'atLeast') for (let i = 0; i < x.length; i++) out[i] = Number(x[i] >= y[i])
  else if (sign === 'above') for (let i = 0; i < x.length; i++) out[i] = Number(x[i] > y[i])
  else if (sign === 'atMost') for (let i = 0; i < x.length; i++) out[i] = Number(x[i] <= y[i])
  else for (let i = 0; i < x.length; i++) out[i] = Number(x[i] < y[i])
  for (let i = 0; i < x.length; i++) if (Number.isNaN(x[i]) || Number.isNaN(y[i])) out[i] = -1
  return out
}

function equalsTruth(values: readonly Literal[], spans: readonly Span[], value: Vector, length: number): Int8Array {
  if (value.kind === 'text') {
    const wanted = new Set(values.map(String))
    const holds = value.words.map((word) => Number(wanted.has(word)))
    return Int8Array.from(codes(value, length), (c) => (c < 0 ? -1 : holds[c]))
  }
  if (value.kind === 'condition')
    return Int8Array.from(conditions(value, length), (c) => (c < 0 ? -1 : Number(values.includes(c === 1))))
  const plain = new Set(values.filter((v) => typeof v === 'number'))
  return Int8Array.from(numbers(value, length), (x) =>
    Number.isNaN(x) ? -1 : Number(plain.has(x) || spans.some((s) => x >= s.from && x <= s.to)),
  )
}

export function spanOfText(value: Literal): Span | undefined {
  // YAML reads a year as a number.
  const period = typeof value === 'boolean' ? undefined : parsePeriod(String(value))
  return period === undefined ? undefined : spanOf(period.unit, period.period)
}
