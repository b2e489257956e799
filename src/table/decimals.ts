import { decimalsOfValues } from '../column/decimals.js'
import type { Bound, Reference } from '../expression/bound.js'
import { decimalsAfter, decimalsOf, type KnownDecimals } from '../expression/decimals.js'
import type { Table, TableColumn } from './table.js'

/** What was found of a column's values, which are never written to. */
const found = new WeakMap<Float64Array, number | undefined>()

/**
 * The decimals of a column: what is known of it, else those of its values, which are read once.
 * Undefined where it has none.
 */
export function columnDecimals(own: TableColumn | undefined): number | undefined {
  if (own === undefined || own.decimals === null) return undefined
  if (own.decimals !== undefined) return own.decimals
  return own.column.kind === 'number' ? valuesDecimals(own.column.values) : undefined
}

/** The decimals that values have; read once. */
export function valuesDecimals(values: Float64Array): number | undefined {
  if (!found.has(values)) found.set(values, decimalsOfValues(values))
  return found.get(values)
}

/**
 * The decimals of an expression over the rows of a table; `name` tells those of what is no column.
 */
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
