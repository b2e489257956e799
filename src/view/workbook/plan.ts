import type { NumberFormat } from '../../format/format.js'
import { PLAIN_STYLE } from '../../style/cell-style.js'
import { glyphsOf, unclearWords } from '../model/glyph.js'
import type { Sheet, SheetCell } from '../model/sheet.js'

/** A column of a workbook: a value, or what stands beside it. */
export interface SheetColumn {
  part: 'head' | 'value' | 'before' | 'after' | 'bar' | 'flag' | 'trend'
  /** The column of the table that it belongs to. */
  of: number
}

/** The columns of a table as a workbook has them. */
export interface SheetPlan {
  columns: readonly SheetColumn[]
  /** For each column of the table the first of its own, and the number of them. */
  places: readonly { from: number; count: number }[]
  /** The words of icons that no sign stands for. */
  words(cell: SheetCell): string
}

/** Finds which cells of a table have icons, bars and flags, which have columns of their own. */
export function planColumns({ headings, columns, rows }: Sheet): SheetPlan {
  const has = columns.map(() => ({ before: false, after: false, bar: false, flag: false, trend: false }))
  const painted = function* (): Generator<SheetCell> {
    for (const { cells } of rows) for (const cell of cells) if (cell.look !== PLAIN_STYLE) yield cell
  }
  const words = unclearWords(painted())
  for (const { cells } of rows)
    cells.forEach((cell, c) => {
      const own = has[c]
      if (cell.trend !== null) own.trend = true
      if (cell.bar !== null) own.bar = true
      if (cell.flag !== null) own.flag = true
      if (cell.look === PLAIN_STYLE) return
      const { before, after } = glyphsOf(cell.look, cell.icon)
      if (before !== '' || words(cell) !== '') own.before = true
      if (after !== '') own.after = true
    })
  const planned: SheetColumn[] = []
  const places = has.map(({ before, after, bar, flag, trend }, of) => {
    const from = planned.length
    if (before) planned.push({ part: 'before', of })
    planned.push({ part: of < headings ? 'head' : trend ? 'trend' : 'value', of })
    if (after) planned.push({ part: 'after', of })
    if (bar) planned.push({ part: 'bar', of })
    if (flag) planned.push({ part: 'flag', of })
    return { from, count: planned.length - from }
  })
  return { columns: planned, places, words }
}

/** Digits after the point are those that most texts show. */
const SAMPLE = 200

/** The digits after the point that a format has, or that the texts of a column show. */
export function digitsOf(format: NumberFormat, texts: Iterable<string>, decimal: string): number {
  if (format.digits !== undefined) return format.digits
  const digits = new RegExp(`[${decimal}](\\p{Nd}+)`, 'u')
  let most = 0
  let seen = 0
  for (const text of texts) {
    most = Math.max(most, digits.exec(text)?.[1].length ?? 0)
    if (++seen === SAMPLE) break
  }
  return most
}
