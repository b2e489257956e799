import type { Column } from '../column/column.js'
import type { Moments } from '../column/moments.js'
import type { Bound, BoundAggregate, Type } from '../expression/bound.js'
import type { LookupRows } from '../table/lookup.js'
import type { SourceTable } from '../table/source-table.js'
import type { Table } from '../table/table.js'
import type { Calendar } from '../time/calendar.js'
import type { Span, TimeUnit } from '../time/period.js'

/** A question of an exhibit: the finest grain, in mergeable statistics. */
export interface Question {
  /** Dimensions: columns, or time units of the source's date. */
  keys: readonly string[]
  /** Aggregates over the rows of each group. */
  parts: readonly BoundAggregate[]
  /** Columns whose value is returned if all rows of a group have the same. */
  fields: readonly string[]
  /** Conditions on rows; all must hold. */
  where: readonly Bound[]
  /** Only rows with a date inside it count; left out, all do. */
  span?: Span
}

/** The meaning of the codes of a key. `calendar` is left out if years begin in January. */
export type Domain =
  | {
      kind: 'text'
      words: readonly string[]
      /** Whether the words are in the order of the report's locale already. */
      sorted?: true
    }
  | { kind: 'time'; unit: TimeUnit; periods: readonly number[]; calendar?: Calendar }

/** A code for each group, into a domain; -1 is missing. */
export interface Keyed {
  name: string
  codes: Int32Array
  domain: Domain
}

/** A code for each group; -1 is missing, `MIXED` means that rows differ. */
export interface UniformField {
  name: string
  codes: Int32Array
  domain: Domain
}

export const MIXED = -2

/** The answer: one entry for each group with rows. */
export interface GroupedAnswer {
  groups: number
  keys: readonly Keyed[]
  /** The number of rows of each group. */
  rows: Float64Array
  /**
   * The moments of each mergeable part; nothing for one that does not merge: it is asked for at
   * each level.
   */
  parts: readonly (Moments | undefined)[]
  /** The decimals of each part, from what it reads; undefined if unknown. */
  decimals: readonly (number | undefined)[]
  fields: readonly UniformField[]
}

/** Values of a part that does not merge, with their keys. */
export interface UnmergedAnswer {
  keys: readonly Keyed[]
  values: Float64Array
}

/** Facts about a source, whatever the filters. */
export interface SourceStats {
  rows: number
  /** Rows without a date; 0 without dates. */
  undated: number
  /** First and last day; undefined without dates. */
  span?: Span
}

/** A column looked up in another source by keys, and maybe the date, that this source has. */
export interface LookedUpColumn {
  name: string
  /** The keys of this source, which may be looked up themselves. */
  by: readonly string[]
  /** The rows of the other source. */
  rows: LookupRows
  /** A value for each of them. */
  column: Column
  type: Type
  /** The decimals of its values; null if unknown. Left out, the values are scanned. */
  decimals?: number | null
}

/** A column that the source does not have itself: looked up, or a second name of another. */
export type DerivedColumn = LookedUpColumn | { name: string; same: string }

/** Answers questions about rows. The same question gets the same answer from every engine. */
export interface Engine {
  ask(question: Question): Promise<GroupedAnswer>
  /** A part that does not merge, for each combination of `keys`. */
  askWhole(question: Question, part: BoundAggregate): Promise<UnmergedAnswer>
  stats(): Promise<SourceStats>
  /**
   * The rows themselves, with their numbers in the source from 1; left out if the engine cannot
   * return them.
   */
  records?(question: Pick<Question, 'where' | 'span'>): Promise<{ table: Table; numbers: Float64Array }>
  /** The same source with more columns. */
  withColumns(more: readonly DerivedColumn[]): Engine
}

/** The time of a source. */
export interface EngineOptions {
  /** The column with the date. */
  date?: string
  /** How years and quarters are cut; default: years from January. */
  calendar?: Calendar
}

/**
 * Rows that stay in a database: columns without rows, and a function that connects an engine.
 * `fields` are computed there, too.
 */
export interface RemoteTable extends SourceTable {
  connect(fields: ReadonlyMap<string, Bound>, types: ReadonlyMap<string, Type>, options: EngineOptions): Engine
}
