import { decimalsOfValues } from '../column/decimals.js'
import type { Bound, Reference } from '../expression/bound.js'
import { decimalsAfter, decimalsOf, type KnownDecimals } from '../expression/decimals.js'
import type { Table, TableColumn } from './table.js'

/** The decimals of columns by their values, which never change. */
const found = new WeakMap<Float64Array, number | undefined>()

/**
 * The decimals of a column: as declared, else of its values, which are scanned once. Undefined if
 * it has none.
 */
export function columnDecimals(own: TableColumn | undefined): number | undefined {
  if (own === undefined || own.decimals === null) return undefined
  if (own.decimals !== undefined) return own.decimals
  return own.column.kind === 'number' ? valuesDecimals(own.column.values) : undefined
}

/** The decimals of values, scanned once. */
export function valuesDecimals(values: Float64Array): number | undefined {
  if (!found.has(values)) found.set(values, decimalsOfValues(values))
  return found.get(values)
}

/** The decimals of an expression over the rows of a table; `name` gives those of other names. */
export function tableDecimals(
  table: Table,
  name: (ref: Reference) => number | undefined = () => undefined,
): (bound: Bound) => number | undefined {
  const known: KnownDecimals = {
    name: (ref) =>
      ref.kind === 'parameter' || ref.kind === 'value' ? name(ref) : columnDecimals(table.columns.get(ref.name)),
    aggregate: (part) => decimalsAfter(part.statistic, part.of === undefined ? 0 : decimalsOf(part.of, known)),
  }
  return (bound) => decimalsOf(bound, known)
}
