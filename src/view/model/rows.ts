import type { GridExhibit, Row } from '../../page/page.js'

/** A row as it is written: the texts of its heading columns. */
export interface WrittenRow {
  row: Row
  /** Its place among the rows of the exhibit. */
  at: number
  /**
   * One text where rows are nested by indenting; else one a key, empty where the row above has said
   * it.
   */
  heads: readonly string[]
  /** The column of `heads` that is the row's own. */
  own: number
}

/**
 * The rows of a table in the way that it nests them. Where keys have columns of their own, a group
 * without totals needs no row.
 */
export function writtenRows({ rows, nest, corners }: GridExhibit): WrittenRow[] {
  if (nest === 'indented') return rows.map((row, at) => ({ row, at, heads: [row.heading.text], own: 0 }))
  const out: WrittenRow[] = []
  let pending: string[] = []
  for (const [at, row] of rows.entries()) {
    const own = Math.max(0, row.depth - 1)
    const heads = corners.map((_, k) => (k === own ? row.heading.text : k < own ? (pending[k] ?? '') : ''))
    if (row.group && row.cells.every((cell) => cell === null)) {
      // A key further out that is said already keeps its column.
      pending = corners.map((_, k) => (k < own ? (pending[k] ?? '') : k === own ? row.heading.text : ''))
      continue
    }
    pending = []
    out.push({ row, at, heads, own })
  }
  return out
}
