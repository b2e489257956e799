import { decimalsOfValues } from '../column/decimals.js'
import type { Bound, Reference } from '../expression/bound.js'
import { decimalsAfter, decimalsOf, type KnownDecimals } from '../expression/decimals.js'
import type { Table, TableColumn } from './table.js'

/** The decimals of columns by their values, which never change. */
const cache = new WeakMap<Float64Array, number | undefined>()

/**
 * The decimals of a column: as declared, else of its values, which are scanned once. Undefined if
 * it has none.
 */
export function columnDecimals(column: TableColumn | undefined): number | undefined {
  if (column === undefined || column.decimals === null) return undefined
  if (column.decimals !== undefined) return column.decimals
  return column.column.kind === 'number' ? valuesDecimals(column.column.values) : undefined
}

/** The decimals of values, scanned once. */
export function valuesDecimals(values: Float64Array): number | undefined {
  if (!cache.has(values)) cache.set(values, decimalsOfValues(values))
  return cache.get(values)
}

/** The decimals of an expression over the rows of a table; `name` gives those of other names. */
export function tableDecimals(
  table: Table,
  name: (ref: Reference) => number | undefined = () => undefined,
): (bound: Bound) => number | undefined {
  const cachedDecimals: KnownDecimals = {
    name: (ref) =>
      ref.kind === 'parameter' || ref.kind === 'value' ? name(ref) : columnDecimals(table.columns.get(ref.name)),
    aggregate: (part) => decimalsAfter(part.statistic, part.of === undefined ? 0 : decimalsOf(part.of, cachedDecimals)),
  }
  return (bound) => decimalsOf(bound, cachedDecimals)
}
