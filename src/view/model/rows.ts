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
  if (nest === 'indented') return rows.map((row, at) => new IndentedRow(row, at))
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

/**
 * The rows whose headings are measured: all of a short table; of a long one those that are made,
 * and one with its longest heading.
 */
export function measuredRows(
  { longestHeading, nest }: GridExhibit,
  rows: readonly WrittenRow[],
): readonly WrittenRow[] {
  if (longestHeading === undefined || nest !== 'indented') return rows
  let measured = MEASURED.get(rows)
  if (measured === undefined) {
    const made = rows.filter(({ row }) => row.place === undefined)
    const detail = rows.find(({ row }) => row.place !== undefined)
    measured = detail === undefined ? made : [{ ...detail, row: detail.row, heads: [longestHeading] }, ...made]
    MEASURED.set(rows, measured)
  }
  return measured
}

/** Asked for several times while a table is written; all its rows are looked at for it. */
const MEASURED = new WeakMap<readonly WrittenRow[], readonly WrittenRow[]>()

/** A row whose heading is read when it is written: a long table makes its headings then. */
class IndentedRow implements WrittenRow {
  readonly row: Row
  readonly at: number
  readonly own = 0

  constructor(row: Row, at: number) {
    this.row = row
    this.at = at
  }

  get heads(): readonly string[] {
    return [this.row.heading.text]
  }
}
