import type { GridExhibit, Row } from '../../page/page.js'

/** A row as it is written: the texts of its heading columns. */
export interface WrittenRow {
  row: Row
  /** Its index among the rows of the exhibit. */
  at: number
  /** One text if rows are indented; else one for each key, empty if the row above has the same. */
  heads: readonly string[]
  /** The index in `heads` of the row's own heading. */
  own: number
}

/**
 * The rows of a table in its form of nesting. If keys have columns of their own, a group without
 * totals needs no row.
 */
export function writtenRows({ rows, nest, corners }: GridExhibit): WrittenRow[] {
  if (nest === 'indented') return rows.map((row, at) => ({ row, at, heads: [row.heading.text], own: 0 }))
  const out: WrittenRow[] = []
  let pending: string[] = []
  for (const [at, row] of rows.entries()) {
    const indent = Math.max(0, row.depth - 1)
    const heads = corners.map((_, k) => (k === indent ? row.heading.text : k < indent ? (pending[k] ?? '') : ''))
    if (row.group && row.cells.every((cell) => cell === null)) {
      // An outer key that was written above leaves its column empty.
      pending = corners.map((_, k) => (k < indent ? (pending[k] ?? '') : k === indent ? row.heading.text : ''))
      continue
    }
    pending = []
    out.push({ row, at, heads, own: indent })
  }
  return out
}
