import type { Column } from '../column/column.js'
import type { Table, TableColumn } from './table.js'

/** A column of one table told by the keys that it shares with another. */
export interface LookedUp {
  column: TableColumn
  /** The key that it was told by. */
  by: string
  /** Keys of this table that the other does not have. */
  unmatched: string[]
}

/**
 * Looks a column of `home` up for the rows of `other`, by the first of the shared keys for which home has one value each (a shop
 * has one region). Undefined where there is none: what only several keys together seem to tell may be chance.
 */
export function lookUp(home: Table, other: Table, match: readonly string[], name: string): LookedUp | undefined {
  const wanted = home.columns.get(name)
  if (wanted === undefined) return undefined
  for (const by of match) {
    const rows = rowsByKey(home, by, wanted.column)
    if (rows === undefined) continue
    const key = other.columns.get(by)?.column
    const own = Array.from({ length: other.length }, (_, i) => (key === undefined ? null : wordAt(key, i)))
    const from = own.map((word) => (word === null ? -1 : (rows.get(word) ?? -1)))
    const unmatched = new Set(own.filter((word, i) => word !== null && from[i] < 0).map(String))
    return { column: { ...wanted, column: taken(wanted.column, from) }, by, unmatched: [...unmatched] }
  }
  return undefined
}

/** A row of home for each key, or undefined where rows of one key differ in the wanted column. */
function rowsByKey(home: Table, by: string, wanted: Column): Map<string, number> | undefined {
  const rows = new Map<string, number>()
  const key = home.columns.get(by)?.column
  if (key === undefined) return undefined
  for (let i = 0; i < home.length; i++) {
    const word = wordAt(key, i)
    if (word === null) continue
    const known = rows.get(word)
    if (known === undefined) rows.set(word, i)
    else if (!sameValue(wanted, known, i)) return undefined
  }
  return rows
}

function sameValue(column: Column, a: number, b: number): boolean {
  return column.kind === 'text' ? column.codes[a] === column.codes[b] : Object.is(column.values[a], column.values[b])
}

function wordAt(column: Column, i: number): string | null {
  if (column.kind === 'text') return column.codes[i] < 0 ? null : column.words[column.codes[i]]
  const x = column.values[i]
  return Number.isNaN(x) || (column.kind === 'condition' && x < 0) ? null : String(x)
}

/** The values of some rows, by position; -1 is missing. */
function taken(column: Column, rows: readonly number[]): Column {
  if (column.kind === 'text')
    return { ...column, codes: Int32Array.from(rows, (row) => (row < 0 ? -1 : column.codes[row])) }
  if (column.kind === 'condition')
    return { kind: 'condition', values: Int8Array.from(rows, (row) => (row < 0 ? -1 : column.values[row])) }
  return { kind: column.kind, values: Float64Array.from(rows, (row) => (row < 0 ? Number.NaN : column.values[row])) }
}
