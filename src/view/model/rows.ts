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

/** Written rows in their order. Those of a long table are made when they are looked at. */
export interface WrittenRows {
  readonly length: number
  /** The row of an index; a negative one counts from the end. */
  at(index: number): WrittenRow | undefined
  /** The same as it was laid out; nothing is made for it. */
  rowAt(index: number): Row | undefined
  /** Rows as a list, all of them if no ends are given. */
  slice(from?: number, to?: number): readonly WrittenRow[]
}

/**
 * The rows of a table in its form of nesting. If keys have columns of their own, a group without
 * totals needs no row.
 */
export function writtenRows({ rows, nest, corners }: GridExhibit): WrittenRows {
  if (nest === 'indented') return new IndentedRows(rows)
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
  return Object.assign(out, { rowAt: (index: number) => out[index]?.row })
}

/**
 * The rows whose headings are measured: all of a short table; of a long one those that are made,
 * and one with its longest heading.
 */
export function measuredRows(
  { longestHeading, nest, rows: all }: GridExhibit,
  rows: WrittenRows,
): readonly WrittenRow[] {
  if (longestHeading === undefined || nest !== 'indented') return rows.slice()
  let measured = MEASURED.get(all)
  if (measured === undefined) {
    const made: WrittenRow[] = []
    let detail: WrittenRow | undefined
    for (let at = 0; at < all.length; at++) {
      const row = all[at]
      if (row.place === undefined) made.push(new IndentedRow(row, at))
      else detail ??= { row, at, own: 0, heads: [longestHeading] }
    }
    measured = detail === undefined ? made : [detail, ...made]
    MEASURED.set(all, measured)
  }
  return measured
}

/** Asked for several times while a table is written; all its rows are looked at for it. */
const MEASURED = new WeakMap<readonly Row[], readonly WrittenRow[]>()

/** The rows of a table whose headings are indented: each row is written. */
class IndentedRows implements WrittenRows {
  readonly #rows: readonly Row[]

  constructor(rows: readonly Row[]) {
    this.#rows = rows
  }

  get length(): number {
    return this.#rows.length
  }

  at(index: number): WrittenRow | undefined {
    const at = index < 0 ? this.length + index : index
    const row = this.#rows[at]
    return row === undefined ? undefined : new IndentedRow(row, at)
  }

  rowAt(index: number): Row | undefined {
    return this.#rows[index]
  }

  slice(from = 0, to = this.length): readonly WrittenRow[] {
    return this.#rows.slice(from, to).map((row, i) => new IndentedRow(row, from + i))
  }
}

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

/** A table that is not shown yet. */
export const NO_ROWS: WrittenRows = new IndentedRows([])
