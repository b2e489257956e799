import { createCoder } from '../column/column.js'
import { settleAll } from '../column/decimals.js'
import { createRecoder, recode } from '../column/recode.js'
import type { Calendar } from '../time/calendar.js'
import { isPeriodUnit, periodOf, type Span, spanOf, type TimeUnit } from '../time/period.js'
import type { Step } from '../time/step.js'
import type { Bound, BoundAggregate, Reference } from './bound.js'
import { isWorkedOut } from './decimals.js'
import { FUNCTIONS, type Wording, wording } from './functions.js'
import type { Arithmetic, Comparison } from './tree.js'

/**
 * The values of an expression: one for each row, or a single one that holds for all rows
 * (`constant`). Missing has the form that it has in columns: NaN, and -1 in codes and conditions.
 */
export type Vector =
  | { kind: 'number'; constant: boolean; values: Float64Array }
  | { kind: 'text'; constant: boolean; codes: Int32Array; words: readonly string[] }
  | { kind: 'condition'; constant: boolean; values: Int8Array }

/** The scope of an evaluation. Dates are numbers here: days. */
export interface Scope {
  length: number
  read(ref: Reference): Vector
  aggregate(aggregate: BoundAggregate): Vector
  /**
   * The decimals of a number here; undefined where they are unknown. Without it nothing is rounded
   * before a comparison.
   */
  decimals?(bound: Bound): number | undefined
  /** The same at another time; only in measures. */
  moved?(step: Step): Scope
  /** A value compared with those of other cells: shares, ranks and streaks; only in measures. */
  beside?(bound: Bound & { op: 'beside' | 'streak' | 'spanned' | 'sameKeys' }): Vector
}

/**
 * Evaluates a bound expression with one plain loop for each operator; constants are computed once.
 */
export function evaluate(bound: Bound, scope: Scope): Vector {
  switch (bound.op) {
    case 'number':
      return constantNumber(bound.value)
    case 'text':
      return { kind: 'text', constant: true, codes: Int32Array.of(0), words: [bound.value] }
    case 'truth':
      return { kind: 'condition', constant: true, values: Int8Array.of(bound.value ? 1 : 0) }
    case 'name':
      return scope.read(bound.ref)
    case 'aggregate':
      return scope.aggregate(bound)
    case 'call': {
      const args = bound.args.map((arg) => evaluate(arg, scope))
      const n = lengthOf(args, scope)
      const run = FUNCTIONS[bound.name].run(
        args.map((arg) => numbers(arg, n)),
        n,
      )
      return { kind: 'number', constant: constant(args), values: run }
    }
    case 'moved':
      if (scope.moved === undefined) throw new Error('there are no other times here')
      return evaluate(bound.of, scope.moved(bound.step))
    case 'beside':
    case 'streak':
    case 'spanned':
    case 'sameKeys':
      if (scope.beside === undefined) throw new Error('there are no other cells here')
      return scope.beside(bound)
    case 'wording':
      return worded(bound.name, evaluate(bound.of, scope))
    case 'dated': {
      const of = evaluate(bound.of, scope)
      const days = numbers(of, ownLength(of))
      return { kind: 'number', constant: of.constant, values: dated(bound.unit, bound.calendar, days) }
    }
    case 'negate':
      return mapNumbers(evaluate(bound.of, scope), (x) => -x)
    case 'not': {
      const of = evaluate(bound.of, scope)
      return mapConditions(of, conditions(of, ownLength(of)), (c) => (c < 0 ? -1 : 1 - c))
    }
    case 'arithmetic': {
      const pair = [evaluate(bound.left, scope), evaluate(bound.right, scope)]
      const n = lengthOf(pair, scope)
      const values = arithmetic(bound.sign, numbers(pair[0], n), numbers(pair[1], n))
      return { kind: 'number', constant: constant(pair), values }
    }
    case 'compare':
      return compare(bound.sign, compared(bound.left, scope), compared(bound.right, scope), scope)
    case 'during': {
      const of = evaluate(bound.of, scope)
      const days = numbers(of, ownLength(of))
      return { kind: 'condition', constant: of.constant, values: during(bound.sign, days, bound.span) }
    }
    case 'contains':
      return contains(evaluate(bound.of, scope), bound.text)
    case 'and':
    case 'or':
      return logic(bound.op, evaluate(bound.left, scope), evaluate(bound.right, scope), scope)
    case 'in': {
      const of = compared(bound.of, scope)
      let any = compare('=', of, compared(bound.list[0], scope), scope)
      for (const item of bound.list.slice(1))
        any = logic('or', any, compare('=', of, compared(item, scope), scope), scope)
      if (!bound.not) return any
      return mapConditions(any, conditions(any, ownLength(any)), (c) => (c < 0 ? -1 : 1 - c))
    }
    case 'missing': {
      const of = evaluate(bound.of, scope)
      const values = missing(of)
      if (bound.not) for (let i = 0; i < values.length; i++) values[i] = 1 - values[i]
      return { kind: 'condition', constant: of.constant, values }
    }
    case 'if':
      return choose(evaluate(bound.test, scope), evaluate(bound.yes, scope), evaluate(bound.no, scope), scope)
  }
}

/**
 * Operands of a comparison: a sum or difference of amounts is rounded to their decimals first, so
 * that 60000.10 − 60000.00 is 0.1.
 */
function compared(bound: Bound, scope: Scope): Vector {
  const vector = evaluate(bound, scope)
  if (vector.kind !== 'number' || !isWorkedOut(bound)) return vector
  const decimals = scope.decimals?.(bound)
  return decimals === undefined ? vector : { ...vector, values: settleAll(vector.values, decimals) }
}

export function constantNumber(value: number): Vector {
  return { kind: 'number', constant: true, values: Float64Array.of(value) }
}

/** Text without words is a column without values, which fits any kind. */
function isBlank(vector: Vector): boolean {
  return vector.kind === 'text' && vector.words.length === 0
}

/** The numbers of a vector; a constant is repeated n times. */
export function numbers(vector: Vector, n: number): Float64Array {
  if (isBlank(vector)) return new Float64Array(n).fill(Number.NaN)
  if (vector.kind !== 'number') throw new Error('numbers were expected')
  return vector.constant && n !== 1 ? new Float64Array(n).fill(vector.values[0]) : vector.values
}

/** The conditions of a vector; a constant is repeated n times. */
export function conditions(vector: Vector, n: number): Int8Array {
  if (isBlank(vector)) return new Int8Array(n).fill(-1)
  if (vector.kind !== 'condition') throw new Error('conditions were expected')
  return vector.constant && n !== 1 ? new Int8Array(n).fill(vector.values[0]) : vector.values
}

/** The codes of a text vector; a constant is repeated n times. */
export function codes(vector: Vector & { kind: 'text' }, n: number): Int32Array {
  return vector.constant && n !== 1 ? new Int32Array(n).fill(vector.codes[0]) : vector.codes
}

function ownLength(vector: Vector): number {
  return vector.kind === 'text' ? vector.codes.length : vector.values.length
}

function constant(vectors: readonly Vector[]): boolean {
  return vectors.every((v) => v.constant)
}

function lengthOf(vectors: readonly Vector[], scope: Scope): number {
  return constant(vectors) ? 1 : scope.length
}

function mapNumbers(of: Vector, f: (x: number) => number): Vector {
  return { kind: 'number', constant: of.constant, values: numbers(of, ownLength(of)).map(f) }
}

function mapConditions(of: Vector, values: Int8Array, f: (c: number) => number): Vector {
  return { kind: 'condition', constant: of.constant, values: values.map(f) }
}

function arithmetic(sign: Arithmetic, a: Float64Array, b: Float64Array): Float64Array {
  const n = a.length
  const out = new Float64Array(n)
  if (sign === '+') for (let i = 0; i < n; i++) out[i] = a[i] + b[i]
  else if (sign === '-') for (let i = 0; i < n; i++) out[i] = a[i] - b[i]
  else if (sign === '*' || sign === 'of') for (let i = 0; i < n; i++) out[i] = a[i] * b[i]
  // Division by zero is missing, never infinity.
  else for (let i = 0; i < n; i++) out[i] = b[i] === 0 ? Number.NaN : a[i] / b[i]
  return out
}

function compare(sign: Comparison, left: Vector, right: Vector, scope: Scope): Vector {
  const pair = [left, right]
  const n = lengthOf(pair, scope)
  const values = new Int8Array(n)
  if (isBlank(left) || isBlank(right)) values.fill(-1)
  else if (left.kind === 'text' && right.kind === 'text') compareCodes(sign, left, right, n, values)
  else if (left.kind === 'condition' && right.kind === 'condition') {
    const a = conditions(left, n)
    const b = conditions(right, n)
    for (let i = 0; i < n; i++) values[i] = a[i] < 0 || b[i] < 0 ? -1 : Number((a[i] === b[i]) === (sign === '='))
  } else compareNumbers(sign, numbers(left, n), numbers(right, n), values)
  return { kind: 'condition', constant: constant(pair), values }
}

function compareNumbers(sign: Comparison, a: Float64Array, b: Float64Array, out: Int8Array): void {
  const n = out.length
  if (sign === '=') for (let i = 0; i < n; i++) out[i] = Number(a[i] === b[i])
  else if (sign === '!=') for (let i = 0; i < n; i++) out[i] = Number(a[i] !== b[i])
  else if (sign === '<') for (let i = 0; i < n; i++) out[i] = Number(a[i] < b[i])
  else if (sign === '<=') for (let i = 0; i < n; i++) out[i] = Number(a[i] <= b[i])
  else if (sign === '>') for (let i = 0; i < n; i++) out[i] = Number(a[i] > b[i])
  else for (let i = 0; i < n; i++) out[i] = Number(a[i] >= b[i])
  for (let i = 0; i < n; i++) if (Number.isNaN(a[i]) || Number.isNaN(b[i])) out[i] = -1
}

function compareCodes(
  sign: Comparison,
  left: Vector & { kind: 'text' },
  right: Vector & { kind: 'text' },
  n: number,
  out: Int8Array,
): void {
  // The dictionaries are matched once; then codes alone are compared.
  const meant = recode(right.words, left.words)
  const a = codes(left, n)
  const b = codes(right, n)
  const equal = sign === '='
  for (let i = 0; i < n; i++) out[i] = a[i] < 0 || b[i] < 0 ? -1 : Number((a[i] === meant[b[i]]) === equal)
}

/**
 * A day compared with a span: equal is inside it, less is before all of it, at most is up to its
 * end.
 */
function during(sign: Comparison, days: Float64Array, span: Span): Int8Array {
  const out = new Int8Array(days.length)
  for (let i = 0; i < days.length; i++) {
    const d = days[i]
    if (Number.isNaN(d)) out[i] = -1
    else if (sign === '=') out[i] = Number(d >= span.from && d <= span.to)
    else if (sign === '!=') out[i] = Number(d < span.from || d > span.to)
    else if (sign === '<') out[i] = Number(d < span.from)
    else if (sign === '<=') out[i] = Number(d <= span.to)
    else if (sign === '>') out[i] = Number(d > span.to)
    else out[i] = Number(d >= span.from)
  }
  return out
}

/**
 * Applied to each distinct word. Two words may become equal, so the result gets a new dictionary.
 */
function worded(name: Wording | 'length', of: Vector): Vector {
  if (of.kind !== 'text') throw new Error('a text was expected')
  if (name === 'length') {
    // Counts characters as readers do, not UTF-16 units.
    const lengths = of.words.map((word) => [...word].length)
    const values = Float64Array.from(of.codes, (code) => (code < 0 ? Number.NaN : lengths[code]))
    return { kind: 'number', constant: of.constant, values }
  }
  const coder = createCoder()
  const meant = of.words.map((word) => coder.code(wording(name, word)))
  return {
    kind: 'text',
    constant: of.constant,
    codes: of.codes.map((c) => (c < 0 ? -1 : meant[c])),
    words: coder.words,
  }
}

/**
 * A period as its first day; a cycle as its number from 1. There are few distinct days, so the
 * calendar is computed once for each.
 */
function dated(unit: TimeUnit, calendar: Calendar, days: Float64Array): Float64Array {
  const cache = new Map<number, number>()
  return days.map((day) => {
    if (Number.isNaN(day)) return Number.NaN
    let cached = cache.get(day)
    if (cached === undefined) {
      const period = periodOf(unit, day, calendar)
      cached = isPeriodUnit(unit) ? spanOf(unit, period, calendar).from : period + 1
      cache.set(day, cached)
    }
    return cached
  })
}

function contains(of: Vector, text: string): Vector {
  if (of.kind !== 'text') throw new Error('a text was expected')
  const holds = Int8Array.from(of.words, (word) => Number(word.includes(text)))
  const values = Int8Array.from(of.codes, (code) => (code < 0 ? -1 : holds[code]))
  return { kind: 'condition', constant: of.constant, values }
}

/** Logic of three values (Kleene): false beats missing in `and`, true beats it in `or`. */
function logic(op: 'and' | 'or', left: Vector, right: Vector, scope: Scope): Vector {
  const pair = [left, right]
  const n = lengthOf(pair, scope)
  const a = conditions(left, n)
  const b = conditions(right, n)
  const values = new Int8Array(n)
  const strong = op === 'and' ? 0 : 1
  for (let i = 0; i < n; i++) {
    if (a[i] === strong || b[i] === strong) values[i] = strong
    else values[i] = a[i] < 0 || b[i] < 0 ? -1 : 1 - strong
  }
  return { kind: 'condition', constant: constant(pair), values }
}

function missing(of: Vector): Int8Array {
  if (of.kind === 'number') return Int8Array.from(of.values, (x) => Number(Number.isNaN(x)))
  if (of.kind === 'text') return Int8Array.from(of.codes, (code) => Number(code < 0))
  return of.values.map((c) => Number(c < 0))
}

function choose(test: Vector, yes: Vector, no: Vector, scope: Scope): Vector {
  const all = [test, yes, no]
  const n = lengthOf(all, scope)
  const t = conditions(test, n)
  const isConstant = constant(all)
  // A branch without values takes the kind of the other.
  const kind = isBlank(yes) ? no.kind : yes.kind
  if (kind === 'text') {
    if (yes.kind !== 'text' || no.kind !== 'text') throw new Error('texts were expected')
    const a = codes(yes, n)
    const b = codes(no, n)
    const words = [...yes.words]
    const meant = no.words.map(createRecoder(words))
    const out = Int32Array.from(t, (c, i) => (c < 0 ? -1 : c === 1 ? a[i] : b[i] < 0 ? -1 : meant[b[i]]))
    return { kind: 'text', constant: isConstant, codes: out, words }
  }
  if (kind === 'condition') {
    const a = conditions(yes, n)
    const b = conditions(no, n)
    return { kind: 'condition', constant: isConstant, values: t.map((c, i) => (c < 0 ? -1 : c === 1 ? a[i] : b[i])) }
  }
  const a = numbers(yes, n)
  const b = numbers(no, n)
  const values = Float64Array.from(t, (c, i) => (c < 0 ? Number.NaN : c === 1 ? a[i] : b[i]))
  return { kind: 'number', constant: isConstant, values }
}
