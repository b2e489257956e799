import { rowPlaces } from '../../table/join.js'
import { placesOf } from '../../table/lookup.js'
import { type Table, withColumn } from '../../table/table.js'
import type { DerivedColumn } from '../contract.js'

/** Adds looked-up columns, row by row. */
export function withKnown(table: Table, more: readonly DerivedColumn[], days: Float64Array | undefined): Table {
  return more.reduce((rows, column) => {
    const { name } = column
    if ('same' in column) {
      const source = rows.columns.get(column.same)
      return source === undefined ? rows : withColumn(rows, { ...source, name })
    }
    const keys = column.by.map((by) => rows.columns.get(by)?.column)
    const known = keys.filter((key) => key !== undefined)
    const places =
      known.length < keys.length
        ? new Int32Array(table.length).fill(-1)
        : placesOf(column.rows, known, days, table.length)
    const { type, decimals } = column
    return withColumn(rows, {
      name,
      label: name,
      column: rowPlaces(column.column, places),
      type,
      ...(decimals !== undefined && { decimals }),
    })
  }, table)
}
