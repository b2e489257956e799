import type { Column } from '../column/column.js'
import type { Moments } from '../column/moments.js'
import type { Bound, BoundAggregate, Type } from '../expression/bound.js'
import type { SourceTable } from '../table/source-table.js'
import type { Table } from '../table/table.js'
import type { Calendar } from '../time/calendar.js'
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

/**
 * What the codes of a key mean. `calendar` is left out where years begin in January.
 */
export type Domain =
  | { kind: 'text'; words: readonly string[] }
  | { kind: 'time'; unit: TimeUnit; periods: readonly number[]; calendar?: Calendar }

/** A code a group, into a domain; -1 is missing. */
export interface Keyed {
  name: string
  codes: Int32Array
  domain: Domain
}

/** A code a group; -1 is missing, `MIXED` says that rows differ. */
export interface UniformField {
  name: string
  codes: Int32Array
  domain: Domain
}

export const MIXED = -2

/** The answer: one entry a group that has rows. */
export interface GroupedAnswer {
  groups: number
  keys: readonly Keyed[]
  /** How many rows a group has. */
  rows: Float64Array
  /**
   * For each part that merges, its moments; nothing for one that does not: it is asked for again at
   * each level.
   */
  parts: readonly (Moments | undefined)[]
  /** The decimals of each part, known from what it reads; undefined where they are unknown. */
  decimals: readonly (number | undefined)[]
  fields: readonly UniformField[]
}

/** Values of a part that does not merge, beside the keys they belong to. */
export interface UnmergedAnswer {
  keys: readonly Keyed[]
  values: Float64Array
}

/** What a source holds, whatever is filtered later. */
export interface SourceStats {
  rows: number
  /** Rows without a date, where there are dates. */
  undated: number
  /** First and last day; undefined without dates. */
  span?: Span
}

/**
 * A column looked up elsewhere, by a key that the source has: `column` holds a value for each of
 * `words`.
 */
export interface LookedUpColumn {
  name: string
  by: string
  words: readonly string[]
  column: Column
  type: Type
}

/**
 * A column that a source does not have itself: looked up, or the same as another by a second name.
 */
export type DerivedColumn = LookedUpColumn | { name: string; same: string }

/** Whoever holds the rows. The same question gets the same answer from every engine. */
export interface Engine {
  ask(question: Question): Promise<GroupedAnswer>
  /** A part that does not merge, for each combination of `keys`. */
  askWhole(question: Question, part: BoundAggregate): Promise<UnmergedAnswer>
  stats(): Promise<SourceStats>
  /**
   * The rows themselves, with their numbers in the source, counted from 1; left out where they
   * cannot be had.
   */
  records?(question: Pick<Question, 'where' | 'span'>): Promise<{ table: Table; numbers: Float64Array }>
  /** The same source with more columns. */
  withColumns(more: readonly DerivedColumn[]): Engine
}

/** How time is read from a source. */
export interface EngineOptions {
  /** The column that time is read from. */
  date?: string
  /** The month (1 to 12) in which years begin; default: 1. */
  calendar?: Calendar
}

/**
 * Rows that stay where they are: columns without rows, and who answers for them. `fields` are
 * worked out there, too.
 */
export interface RemoteTable extends SourceTable {
  connect(fields: ReadonlyMap<string, Bound>, types: ReadonlyMap<string, Type>, options: EngineOptions): Engine
}
