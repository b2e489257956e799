import type { Column } from '../../column/column.js'
import { createRecoder, translateCodes } from '../../column/recode.js'
import type { Bound } from '../../expression/bound.js'
import type { Problem } from '../../problem/problem.js'
import { createTable, type Table, type TableColumn } from '../../table/table.js'
import type { BoundRule, Cells, RuleResult } from '../model.js'

/** The column that marks cells without the reader's filters; no valid name. */
const EVERYTHING = '(everything)'

/**
 * Runs a rule whose population is the cells without the reader's filters: they are appended to the
 * shown cells in one table and are the population. A rank is that of the same cell among them; a
 * cell that is not there has none.
 */
export function runAmongEverything(
  rule: BoundRule,
  { unfiltered: _, ...cells }: Cells,
  everything: Cells,
  notes: Problem[],
  run: (rule: BoundRule, cells: Cells, notes: Problem[]) => RuleResult,
): RuleResult {
  const { amongUnfiltered: _own, ...among } = rule
  const bound: Bound = { op: 'name', ref: { kind: 'field', name: EVERYTHING }, type: { kind: 'condition' } }
  const { length } = cells.table
  const { runCache: _kept, styleCaches: _looks, rows, ...rest } = cells
  const joined: Cells = { ...rest, table: together(cells.table, everything.table) }
  if (rows !== undefined && everything.rows !== undefined) {
    const shown = rows.cells.table.length
    const { cells: all, of } = everything.rows
    joined.rows = {
      cells: { ...rows.cells, table: together(rows.cells.table, all.table) },
      of: Int32Array.from([...rows.of, ...of.map((row) => shown + row)]),
    }
  }
  const result = run({ ...among, among: { bound, text: 'unfiltered' } }, joined, notes)
  const at = rule.kind.key === 'rank' ? sameCells(cells, everything) : undefined
  const place = (cell: number): number => (at === undefined ? cell : at[cell] < 0 ? cell : length + at[cell])
  const { bars, judgedAt } = result
  const cut = (list: Float32Array): Float32Array => Float32Array.from({ length }, (_, i) => list[place(i)])
  return {
    ...result,
    rule,
    classes: Int16Array.from({ length }, (_, i) => result.classes[place(i)]),
    ...(bars && { bars: { from: cut(bars.from), to: cut(bars.to) } }),
    judgedAt: (cell) => judgedAt(place(cell)),
  }
}

/** The cells of two tables, concatenated, with their common columns. */
function together(shown: Table, all: Table): Table {
  const columns = [...shown.columns.values()].flatMap((shownColumn): TableColumn[] => {
    const other = all.columns.get(shownColumn.name)?.column
    const column = other && appended(shownColumn.column, other)
    return column === undefined ? [] : [{ ...shownColumn, column }]
  })
  const values = new Int8Array(shown.length + all.length).fill(1, shown.length)
  columns.push({
    name: EVERYTHING,
    label: EVERYTHING,
    column: { kind: 'condition', values },
    type: { kind: 'condition' },
  })
  return createTable(shown.length + all.length, columns)
}

function appended(column: Column, other: Column): Column | undefined {
  if (column.kind === 'text') {
    if (other.kind !== 'text') return undefined
    const words = [...column.words]
    const codes = translateCodes(other.codes, other.words.map(createRecoder(words)))
    return { ...column, words, codes: Int32Array.from([...column.codes, ...codes]) }
  }
  if (column.kind === 'condition')
    return other.kind === column.kind
      ? { ...column, values: Int8Array.from([...column.values, ...other.values]) }
      : undefined
  return other.kind === column.kind
    ? { ...column, values: Float64Array.from([...column.values, ...other.values]) }
    : undefined
}

/** The index of each cell among all, by its keys; -1 if it is not there. */
function sameCells({ table, keys }: Cells, all: Cells): Int32Array {
  const codes = new Map<string, number>()
  for (let i = 0; i < all.table.length; i++) codes.set(keyAt(all.table, keys, i), i)
  return Int32Array.from({ length: table.length }, (_, i) => codes.get(keyAt(table, keys, i)) ?? -1)
}

function keyAt(table: Table, keys: readonly string[], i: number): string {
  return JSON.stringify(
    keys.map((key) => {
      const column = table.columns.get(key)?.column
      if (column === undefined) return null
      return column.kind === 'text' ? (column.words[column.codes[i]] ?? null) : column.values[i]
    }),
  )
}
