import type { Column } from '../column/column.js'

/** A value as text for matching keys; null if missing. */
export function wordAt(column: Column, i: number): string | null {
  if (column.kind === 'text') return column.codes[i] < 0 ? null : column.words[column.codes[i]]
  const x = column.values[i]
  if (Number.isNaN(x) || (column.kind === 'condition' && x < 0)) return null
  return column.kind === 'condition' ? String(x === 1) : String(x)
}

/** The values of a column at some indexes; -1 is missing. */
export function rowPlaces(column: Column, places: ArrayLike<number>): Column {
  if (column.kind === 'text')
    return { ...column, codes: taken(column.codes, new Int32Array(places.length), places, -1) }
  if (column.kind === 'condition')
    return { kind: 'condition', values: taken(column.values, new Int8Array(places.length), places, -1) }
  return { kind: column.kind, values: taken(column.values, new Float64Array(places.length), places, Number.NaN) }
}

function taken<T extends Float64Array | Int32Array | Int8Array>(
  from: T,
  into: T,
  places: ArrayLike<number>,
  missing: number,
): T {
  for (let i = 0; i < places.length; i++) into[i] = places[i] < 0 ? missing : from[places[i]]
  return into
}
