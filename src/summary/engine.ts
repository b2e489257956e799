import type { Moments } from '../column/moments.js'
import type { Bound, BoundAggregate } from '../expression/bound.js'
import type { Span, TimeUnit } from '../time/period.js'

/** What an exhibit asks of its rows: the finest grain only, in parts that merge. */
export interface Question {
  /** Dimensions: columns, or time units of the source's date. */
  keys: readonly string[]
  /** Aggregates over the rows of each group. */
  parts: readonly BoundAggregate[]
  /** Columns to be told where all rows of a group agree on them. */
  fields: readonly string[]
  /** Conditions on rows; all must hold. */
  where: readonly Bound[]
  /** Only rows dated in here count; left out, all do. */
  span?: Span
}

/** What the codes of a key mean. */
export type Domain =
  | { kind: 'text'; words: readonly string[] }
  | { kind: 'time'; unit: TimeUnit; periods: readonly number[] }

/** A code a group, into a domain; -1 is missing. */
export interface Keyed {
  name: string
  codes: Int32Array
  domain: Domain
}

/** A code a group; -1 is missing, `MIXED` says that rows differ. */
export interface Agreed {
  name: string
  codes: Int32Array
  domain: Domain
}

export const MIXED = -2

/** The answer: one entry a group that has rows. */
export interface Grain {
  groups: number
  keys: readonly Keyed[]
  /** How many rows a group has. */
  rows: Float64Array
  /** For each part that merges, its moments; nothing for one that does not: it is asked for again at each level. */
  parts: readonly (Moments | undefined)[]
  fields: readonly Agreed[]
}

/** Whoever holds the rows. The same question gets the same answer from every engine. */
export interface Engine {
  ask(question: Question): Promise<Grain>
  /** A part that does not merge, for each combination of `keys`: values beside the keys they belong to. */
  askWhole(question: Question, part: BoundAggregate): Promise<{ keys: readonly Keyed[]; values: Float64Array }>
  /** First and last day of the source's date, whatever is filtered later; undefined without dates. */
  extent(): Promise<Span | undefined>
}
