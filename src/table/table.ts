import type { Column } from '../column/column.js'
import type { Type } from '../expression/bound.js'
import type { Unit } from '../expression/unit.js'

/** Which direction is good. */
export type Better = 'higher' | 'lower' | 'neither'

/** A column with its label, unit and format. */
export interface TableColumn {
  name: string
  label: string
  column: Column
  type: Type
  /** A number format such as `money EUR 0`; default: a plain number with up to 2 decimals. */
  format?: string
  better?: Better
  /**
   * The most digits after the point of its values; null if unknown. Left out, the values are
   * scanned.
   */
  decimals?: number | null
}

/** Named columns of one length: rows of a source, or cells of a summary. */
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

/** The expression type of a column. */
export function columnType(column: Column, unit: Unit = { is: 'none' }): Type {
  return column.kind === 'number' ? { kind: 'number', unit } : { kind: column.kind }
}
