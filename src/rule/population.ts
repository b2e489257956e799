import { createCoder, type Column } from '../column/column.js'
import type { Table } from '../table/table.js'

/** The group of each cell by some of its keys; all in one group without keys. A missing key is a group of its own. */
export function groupCells(table: Table, keys: readonly string[]): { groups: Int32Array; count: number } {
  const groups = new Int32Array(table.length)
  let count = 1
  for (const name of keys) {
    const column = table.columns.get(name)?.column
    if (column === undefined) throw new Error(`no column ${name}`)
    const coder = createCoder()
    for (let i = 0; i < groups.length; i++) groups[i] = coder.code(`${groups[i]} ${valueKey(column, i)}`)
    count = coder.words.length
  }
  return { groups, count }
}

function valueKey(column: Column, i: number): number {
  return column.kind === 'text' ? column.codes[i] : column.values[i]
}
