import { round14 } from '../../column/round.js'
import { typeText } from '../../expression/bind.js'
import { type Bound, walk } from '../../expression/bound.js'
import { codes, conditions, numbers, type Vector } from '../../expression/evaluate.js'
import type { Path } from '../../problem/problem.js'
import { parsePeriod, type Span, spanOf } from '../../time/period.js'
import { addLimit, type BoundText, type Checker, type Judged, type Kind, type Print, writtenOutcome } from '../kind.js'
import type { BandSpec } from '../spec.js'

const SIGNS = ['atLeast', 'above', 'atMost', 'below'] as const
type Sign = (typeof SIGNS)[number]

type Test =
  | { kind: 'limit'; sign: Sign; limit: BoundText }
  | { kind: 'equals'; written: string; values: readonly Literal[]; spans: readonly Span[] }
  | { kind: 'contains'; text: string }
  | { kind: 'when'; condition: BoundText }

type Literal = string | number | boolean

interface Band {
  tests: Test[]
  gives: number
}

interface Plan {
  bands: Band[]
  /** Class of the missing, -1 when the rule leaves them alone. */
  missing: number
  /** Class of what is left, -1 when the ladder is open. */
  otherwise: number
}

/** Limits in order; the first band that holds gives its look. */
export const bands: Kind<Plan> = {
  key: 'bands',

  check(spec, checker, at) {
    const list = spec.bands ?? []
    const plan: Plan = { bands: [], missing: -1, otherwise: -1 }
    list.forEach((band, i) => {
      const here = [...at, 'bands', i]
      if (band.missing !== undefined)
        plan.missing = checker.outcome(band.missing, [...here, 'missing'], 'missing') ?? -1
      if (band.otherwise !== undefined) {
        if (list.slice(i + 1).some((later) => later.missing === undefined)) checker.tell('otherwise-last', {}, here)
        plan.otherwise = checker.outcome(band.otherwise, [...here, 'otherwise'], 'otherwise') ?? -1
      }
      const tests = checkTests(band, checker, here)
      if (tests.length === 0) {
        if (band.missing === undefined && band.otherwise === undefined) checker.tell('empty-band', {}, here)
        return
      }
      const own = writtenOutcome(band, here)
      const gives = checker.outcome(own.outcome, own.at, 'the band')
      if (gives !== undefined) plan.bands.push({ tests, gives })
    })
    return plan
  },

  expressions: (plan) => limitsOf(plan).map((limit) => limit.bound),

  readsPopulation: () => false,

  run(plan, judged) {
    const intervals = constantIntervals(plan, judged)
    return intervals === undefined ? runLadder(plan, judged) : runIntervals(plan, intervals, judged)
  },

  legend(plan, judged, print) {
    const limits: string[] = []
    for (const { gives, tests } of plan.bands)
      addLimit(limits, gives, tests.map((test) => testText(test, judged, print)).join(' and '))
    if (plan.otherwise >= 0) addLimit(limits, plan.otherwise, otherwiseText(plan, judged, print))
    if (plan.missing >= 0) addLimit(limits, plan.missing, 'missing')
    return { limits }
  },
}

function checkTests(band: BandSpec, checker: Checker, at: Path): Test[] {
  const tests: Test[] = []
  for (const sign of SIGNS) {
    const limit = band[sign]
    if (limit === undefined) continue
    const bound = checker.limit(limit, [...at, sign])
    // After a problem the test is kept as one that never holds, so that the band is not called empty too.
    tests.push(bound === undefined ? NEVER : { kind: 'limit', sign, limit: bound })
  }
  if (band.equals !== undefined) tests.push(checkLiterals([band.equals], checker, [...at, 'equals']))
  if (band.oneOf !== undefined) tests.push(checkLiterals(band.oneOf, checker, [...at, 'oneOf']))
  if (band.contains !== undefined) {
    const found = typeText(checker.judged)
    if (!isKind(checker, 'text'))
      checker.tell('wrong-type', { what: 'contains', expected: 'a text to judge', found }, [...at, 'contains'])
    tests.push({ kind: 'contains', text: band.contains })
  }
  if (band.when !== undefined) {
    const condition = checker.condition(band.when, [...at, 'when'])
    tests.push(condition === undefined ? NEVER : { kind: 'when', condition })
  }
  return tests
}

/** Holds for no cell. */
const NEVER: Test = { kind: 'equals', written: '', values: [], spans: [] }

function isKind({ judged }: Checker, kind: Checker['judged']['kind']): boolean {
  return judged.kind === kind || judged.kind === 'unknown'
}

/** Plain values must be of the kind that is judged: numbers for a number, periods for a date. */
function checkLiterals(values: readonly Literal[], checker: Checker, at: Path): Test {
  const spans = values.map(spanOfText).filter((span) => span !== undefined)
  const fits: Record<string, (value: Literal) => boolean> = {
    number: (value) => typeof value === 'number',
    condition: (value) => typeof value === 'boolean',
    date: (value) => spanOfText(value) !== undefined,
  }
  const { kind } = checker.judged
  const stray = values.find((value) => !(fits[kind]?.(value) ?? true))
  if (stray !== undefined)
    checker.tell('unlike-types', { left: typeText(checker.judged), right: `'${stray}'`, verb: 'compared' }, at)
  const written = values.join(' or ')
  if (kind === 'date') return { kind: 'equals', written, values: [], spans }
  return { kind: 'equals', written, values, spans: [] }
}

function limitsOf(plan: Plan): BoundText[] {
  const found: BoundText[] = []
  for (const band of plan.bands)
    for (const test of band.tests) {
      if (test.kind === 'limit') found.push(test.limit)
      if (test.kind === 'when') found.push(test.condition)
    }
  return found
}

/** Each band as the interval of values it takes, ends included, where all limits are one number for all cells. */
function constantIntervals(plan: Plan, judged: Judged): { low: Float64Array; high: Float64Array } | undefined {
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
      // Doubles are a ladder of their own: above x is at least the next one.
      if (test.sign === 'atLeast') low[b] = Math.max(low[b], x)
      else if (test.sign === 'above') low[b] = Math.max(low[b], nextUp(x))
      else if (test.sign === 'atMost') high[b] = Math.min(high[b], x)
      else high[b] = Math.min(high[b], -nextUp(-x))
    }
  return { low, high }
}

const bits = new DataView(new ArrayBuffer(8))

/** The smallest double above x (IEEE 754-2019, nextUp). */
function nextUp(x: number): number {
  if (x === 0) return Number.MIN_VALUE
  if (!Number.isFinite(x)) return x
  bits.setFloat64(0, x)
  bits.setBigInt64(0, bits.getBigInt64(0) + (x > 0 ? 1n : -1n))
  return bits.getFloat64(0)
}

function runIntervals(
  plan: Plan,
  { low, high }: { low: Float64Array; high: Float64Array },
  judged: Judged,
): Int16Array {
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

/** The general way: limits that differ by cell, text, free conditions. Three values of truth, the ladder stops at a missing one. */
function runLadder(plan: Plan, judged: Judged): Int16Array {
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
      // In one band false beats missing.
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

function missingMask(value: Vector, length: number): Uint8Array {
  if (value.kind === 'number') return Uint8Array.from(numbers(value, length), (x) => Number(Number.isNaN(x)))
  const whole = value.kind === 'text' ? codes(value, length) : conditions(value, length)
  return Uint8Array.from(whole, (c) => Number(c < 0))
}

function truthOf(test: Test, judged: Judged): Int8Array {
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

function spanOfText(value: Literal): Span | undefined {
  // A year is read by YAML as a number.
  const period = typeof value === 'boolean' ? undefined : parsePeriod(String(value))
  return period === undefined ? undefined : spanOf(period.unit, period.period)
}

const SIGN_WORDS: Readonly<Record<Sign, string>> = { atLeast: 'from', above: 'above', atMost: 'up to', below: 'below' }

function testText(test: Test, judged: Judged, print: Print): string {
  if (test.kind === 'limit') return `${SIGN_WORDS[test.sign]} ${limitText(test.limit, judged, print)}`
  if (test.kind === 'equals') return test.written
  return test.kind === 'contains' ? `contains ${test.text}` : test.condition.text
}

/** A limit as a number where it is one for all cells, with its words where they say more than the number. */
export function limitText(limit: BoundText, judged: Judged, print: Print): string {
  const value = judged.run(limit.bound)
  if (!value.constant || value.kind !== 'number') return `${limit.text}${parametersText(limit.bound, judged, print)}`
  const number = print(value.values[0])
  return isWritten(limit.bound) ? number : `${number} (${limit.text})`
}

/** Where a limit differs from cell to cell, its parameters at least are told as numbers: ` (slack 15%)`. */
function parametersText(bound: Bound, judged: Judged, print: Print): string {
  const told = new Set<string>()
  walk(bound, (part) => {
    if (part.op !== 'name' || part.ref.kind !== 'parameter') return
    const [value] = numbers(judged.run(part), 1)
    const percent = part.type.kind === 'number' && part.type.unit.is === 'percent'
    told.add(`${part.ref.name} ${percent ? `${round14(value * 100)}%` : print(value)}`)
  })
  return told.size === 0 ? '' : ` (${[...told].join(', ')})`
}

function isWritten(bound: Bound): boolean {
  return bound.op === 'number' || (bound.op === 'negate' && bound.of.op === 'number')
}

/** What is left under a ladder of one-sided limits is told as its far side. */
function otherwiseText(plan: Plan, judged: Judged, print: Print): string {
  const far: Readonly<Record<Sign, string>> = { atLeast: 'below', above: 'up to', atMost: 'above', below: 'from' }
  const signs = new Set<Sign>()
  let last: BoundText | undefined
  for (const { tests } of plan.bands) {
    const [test] = tests
    if (tests.length !== 1 || test.kind !== 'limit') return 'all others'
    signs.add(test.sign)
    last = test.limit
  }
  const lower = [...signs].every((s) => s === 'atLeast' || s === 'above')
  const upper = [...signs].every((s) => s === 'atMost' || s === 'below')
  const lastTest = plan.bands.at(-1)?.tests[0]
  if (last === undefined || (!lower && !upper) || lastTest?.kind !== 'limit') return 'all others'
  const value = judged.run(last.bound)
  return `${far[lastTest.sign]} ${value.constant && value.kind === 'number' ? print(value.values[0]) : last.text}`
}
