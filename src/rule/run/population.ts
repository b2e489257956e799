import type { Column } from '../../column/column.js'
import { type Coded, groupRows } from '../../column/group.js'
import type { Table } from '../../table/table.js'

/** The group of each cell by some of its keys; one group without keys. A missing key is a group. */
export function groupCells(table: Table, keys: readonly string[]): { groups: Int32Array; count: number } {
  if (keys.length === 0) return { groups: new Int32Array(table.length), count: 1 }
  const coded = keys.map((name) => {
    const column = table.columns.get(name)?.column
    if (column === undefined) throw new Error(`no column ${name}`)
    return codedColumn(column)
  })
  return groupRows(coded, undefined, table.length)
}

/** The codes of a column: its own, or numbers of its distinct values. */
function codedColumn(column: Column): Coded {
  if (column.kind === 'text') return { codes: column.codes, size: column.words.length }
  if (column.kind === 'condition') return { codes: Int32Array.from(column.values), size: 2 }
  const seen = new Map<number, number>()
  const codes = Int32Array.from(column.values, (x) => {
    if (Number.isNaN(x)) return -1
    const index = seen.get(x)
    if (index !== undefined) return index
    seen.set(x, seen.size)
    return seen.size - 1
  })
  return { codes, size: seen.size }
}
