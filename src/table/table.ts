import type { Column } from '../column/column.js'
import type { Type } from '../expression/bound.js'
import type { Unit } from '../expression/unit.js'

/** Which direction is good news. */
export type Better = 'higher' | 'lower' | 'neither'

/** A column with its name for readers and what its numbers mean. */
export interface TableColumn {
  name: string
  label: string
  column: Column
  type: Type
  /** A number format such as `money EUR 0`; default: a plain number with up to 2 decimals. */
  format?: string
  better?: Better
  /**
   * Digits behind the point that its values have at most; null where that is unknown. Left out, the
   * values tell.
   */
  decimals?: number | null
}

/**
 * Named columns of one length. What a rule is run over, be it rows as read or the cells of a
 * summary.
 */
export interface Table {
  length: number
  columns: ReadonlyMap<string, TableColumn>
}

export function createTable(length: number, columns: Iterable<TableColumn>): Table {
  return { length, columns: new Map(Array.from(columns, (c) => [c.name, c])) }
}

/** The same table with one more column, or with a column replaced. */
export function withColumn(table: Table, column: TableColumn): Table {
  return { length: table.length, columns: new Map([...table.columns, [column.name, column]]) }
}

/** The type of the expressions that a column gives. */
export function columnType(column: Column, unit: Unit = { is: 'none' }): Type {
  return column.kind === 'number' ? { kind: 'number', unit } : { kind: column.kind }
}
