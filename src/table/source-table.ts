import type { Problem } from '../problem/problem.js'
import type { PeriodUnit } from '../time/period.js'
import type { Table } from './table.js'

/** A text column that is mostly numbers: the other values are reported when a number is needed. */
export interface NearlyNumbers {
  count: number
  of: number
  sample: string
  /** `line 4`, `record 4`, or `line 4 of b.csv`. */
  where: string
}

/** The rows of a source: typed columns and messages. */
export interface SourceTable {
  table: Table
  nearly: ReadonlyMap<string, NearlyNumbers>
  /** The period of the texts of a date column if it is longer than a day: `2023-01` is a month. */
  grains: ReadonlyMap<string, PeriodUnit>
  /** The currency that the values of a column are written with, as an ISO 4217 code. */
  currencies?: ReadonlyMap<string, string>
  notes: readonly Problem[]
  /** Keys of a source that declare what was chosen of a workbook; left out where nothing was. */
  declares?: Readonly<Record<string, string | number>>
}
