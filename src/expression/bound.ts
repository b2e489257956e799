import type { Statistic } from '../column/statistic.js'
import type { Calendar } from '../time/calendar.js'
import type { PeriodUnit, Span, TimeUnit } from '../time/period.js'
import type { Shift } from '../time/shift.js'
import type { Step } from '../time/step.js'
import type { Wording } from './functions.js'
import type { Arithmetic, Comparison } from './tree.js'
import type { Unit } from './unit.js'

/**
 * The type of an expression. `zero` marks a written 0, which fits every unit; `unknown` follows a
 * problem that was reported.
 */
export type Type =
  | { kind: 'number'; unit: Unit; zero?: boolean }
  | { kind: 'text' }
  /** `unit` is the period of a date that is longer than a day: `month(date)`. */
  | { kind: 'date'; unit?: PeriodUnit }
  | { kind: 'condition' }
  /**
   * A column without values: it takes the expected kind and is missing everywhere. It is stored as
   * text without words.
   */
  | { kind: 'blank' }
  | { kind: 'unknown' }

/** Whether a type fits any other: it is unknown, or has no values. */
export function isOpen({ kind }: Type): boolean {
  return kind === 'unknown' || kind === 'blank'
}

/** What a name refers to. */
export interface Reference {
  kind: 'field' | 'measure' | 'parameter' | 'key' | 'value'
  name: string
  /** The source of a column; left out for the home source. */
  source?: string
}

export interface BoundAggregate {
  op: 'aggregate'
  statistic: Statistic
  /** What is aggregated; left out for `count()`. */
  of?: Bound
  where?: Bound
  /** The percentile, 0 to 1. */
  share: number
  /** Keys of the population; undefined for those of the rule, empty for all cells. */
  within?: readonly string[]
  /** The source whose rows are read; left out for the home source. */
  source?: string
  /** Canonical text: equal aggregates are computed once. */
  key: string
  type: Type
}

/** An expression with resolved names and checked types, ready to be evaluated over columns. */
export type Bound =
  | BoundAggregate
  | ({ type: Type } & (
      | { op: 'number'; value: number }
      | { op: 'text'; value: string }
      | { op: 'truth'; value: boolean }
      | { op: 'name'; ref: Reference }
      | { op: 'call'; name: string; args: Bound[] }
      | { op: 'wording'; name: Wording | 'length'; of: Bound }
      | { op: 'dated'; unit: TimeUnit; calendar: Calendar; of: Bound }
      | { op: 'moved'; of: Bound; step: Step }
      /** `within` is left out in a rule that uses its own groups. */
      | { op: 'beside'; how: 'share' | 'rank'; of: Bound; within?: readonly string[] }
      | { op: 'streak'; of: Bound; unit?: PeriodUnit; key: string }
      /** With the values of a key alone that have rows in a cell's span and in the moved one. */
      | { op: 'sameKeys'; of: Bound; by: string; shift: Shift }
      /**
       * The share of a cell's whole periods that is over, the periods in its span, or the share of
       * the period of its last day that is over: 1 for one that ends by the date of the report.
       */
      | { op: 'spanned'; of: 'elapsed' | 'periods' | 'passed'; unit?: PeriodUnit; key: string }
      | { op: 'negate' | 'not'; of: Bound }
      | { op: 'arithmetic'; sign: Arithmetic; left: Bound; right: Bound }
      | { op: 'compare'; sign: Comparison; left: Bound; right: Bound }
      | { op: 'during'; sign: Comparison; of: Bound; span: Span }
      | { op: 'contains'; of: Bound; text: string }
      | { op: 'and' | 'or'; left: Bound; right: Bound }
      | { op: 'in'; of: Bound; list: Bound[]; not: boolean }
      | { op: 'missing'; of: Bound; not: boolean }
      /** `method` is the number of the way in which a projected value is found. */
      | { op: 'if'; test: Bound; yes: Bound; no: Bound; method?: Bound }
    ))

/** Calls `visit` on the expression and on every part of it. */
export function walk(bound: Bound, visit: (part: Bound) => void): void {
  visit(bound)
  for (const part of operandsOf(bound)) walk(part, visit)
}

/** The parts that make up an expression. */
export function operandsOf(bound: Bound): Bound[] {
  switch (bound.op) {
    case 'aggregate':
      return [bound.of, bound.where].filter((b) => b !== undefined)
    case 'call':
      return bound.args
    case 'in':
      return [bound.of, ...bound.list]
    case 'negate':
    case 'not':
    case 'moved':
    case 'wording':
    case 'dated':
    case 'beside':
    case 'streak':
    case 'sameKeys':
    case 'missing':
    case 'during':
    case 'contains':
      return [bound.of]
    case 'arithmetic':
    case 'compare':
    case 'and':
    case 'or':
      return [bound.left, bound.right]
    case 'if':
      return [bound.test, bound.yes, bound.no]
    default:
      return []
  }
}

/**
 * Whether an expression of a rule reads other cells: by a statistic, a share or rank among them, or
 * their lowest or highest value.
 */
export function readsCells(bound: Bound): boolean {
  let reads = false
  walk(bound, (part) => {
    if (part.op === 'aggregate' || part.op === 'beside') reads = true
    if (part.op === 'name' && part.ref.kind === 'value' && part.ref.name !== 'value') reads = true
  })
  return reads
}

/** The distinct names that an expression reads. */
export function referencesOf(bound: Bound): Reference[] {
  const references = new Map<string, Reference>()
  walk(bound, (part) => {
    if (part.op === 'name') references.set(`${part.ref.kind} ${part.ref.source ?? ''} ${part.ref.name}`, part.ref)
  })
  return [...references.values()]
}

/** The distinct aggregates of an expression, by canonical text. */
export function aggregatesOf(bound: Bound): BoundAggregate[] {
  const aggregates = new Map<string, BoundAggregate>()
  walk(bound, (part) => {
    if (part.op === 'aggregate') aggregates.set(part.key, part)
  })
  return [...aggregates.values()]
}

/** A column without values as the expected kind. */
export function filled(bound: Bound, type: Type): Bound {
  return bound.type.kind === 'blank' ? { ...bound, type } : bound
}

/** The type of a number, without what is known of its value. */
export function unitOnly(type: Type): Type {
  return type.kind === 'number' ? { kind: 'number', unit: type.unit } : type
}

/**
 * Whether a number adds up over time: sums and counts, added, subtracted, or times a number. A
 * function of time reads other spans, so it does not.
 *
 * @param measure whether a measure does, by its name
 */
export function addsUp(bound: Bound, measure: (name: string) => boolean): boolean {
  switch (bound.op) {
    case 'aggregate':
      return bound.statistic === 'sum' || bound.statistic === 'count'
    case 'name':
      return bound.ref.kind === 'measure' && measure(bound.ref.name)
    case 'negate':
      return addsUp(bound.of, measure)
    case 'arithmetic': {
      const { sign, left, right } = bound
      if (sign === '+' || sign === '-') return addsUp(left, measure) && addsUp(right, measure)
      if (sign === '/') return addsUp(left, measure) && isConstant(right)
      return (isConstant(left) && addsUp(right, measure)) || (isConstant(right) && addsUp(left, measure))
    }
    default:
      return false
  }
}

function isConstant(bound: Bound): boolean {
  return bound.op === 'number' || (bound.op === 'name' && bound.ref.kind === 'parameter')
}
