import type { Problem } from '../problem/problem.js'
import type { PeriodUnit } from '../time/period.js'
import type { Table } from './table.js'

/** A text column that is numbers but for some values: told when a number is needed of it. */
export interface NearlyNumbers {
  count: number
  of: number
  sample: string
  /** `line 4`, `record 4`, or `line 4 of b.csv`. */
  where: string
}

/** Rows as read: typed columns, and what was said on the way. */
export interface SourceTable {
  table: Table
  nearly: ReadonlyMap<string, NearlyNumbers>
  /**
   * What the texts of a date column stand for, where that is coarser than a day: `2023-01` is a
   * month.
   */
  grains: ReadonlyMap<string, PeriodUnit>
  notes: readonly Problem[]
}
