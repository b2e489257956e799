import type { Problem } from '../problem/problem.js'
import type { Table } from './table.js'

export type ReadAs = 'text' | 'number' | 'date' | 'condition'

/** A text column that is numbers but for some values: told when a number is needed of it. */
export interface NearlyNumbers {
  count: number
  of: number
  sample: string
  line: number
}

/** Rows as read: typed columns, and what was said on the way. */
export interface SourceTable {
  table: Table
  nearly: ReadonlyMap<string, NearlyNumbers>
  notes: readonly Problem[]
}
