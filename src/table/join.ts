import type { Column } from '../column/column.js'

/** The word that stands for a value where keys are matched; null for a missing one. */
export function wordAt(column: Column, i: number): string | null {
  if (column.kind === 'text') return column.codes[i] < 0 ? null : column.words[column.codes[i]]
  const x = column.values[i]
  if (Number.isNaN(x) || (column.kind === 'condition' && x < 0)) return null
  return column.kind === 'condition' ? String(x === 1) : String(x)
}

/** The values of some places of a column; -1 is missing. */
export function rowPlaces(column: Column, places: readonly number[]): Column {
  if (column.kind === 'text')
    return { ...column, codes: Int32Array.from(places, (at) => (at < 0 ? -1 : column.codes[at])) }
  if (column.kind === 'condition')
    return { kind: 'condition', values: Int8Array.from(places, (at) => (at < 0 ? -1 : column.values[at])) }
  return { kind: column.kind, values: Float64Array.from(places, (at) => (at < 0 ? Number.NaN : column.values[at])) }
}
