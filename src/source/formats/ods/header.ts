import { ProblemError } from '../../../problem/problem-error.js'
import { problem } from '../../../problem/workbook.js'
import { dayText } from '../../../time/day.js'
import { KIND } from './cell.js'
import { cellName } from './place.js'
import type { SheetRow } from './sheets.js'

/** Finding the header of a table in a sheet, and the names of its columns. */

/** A copy of the row. */
export function copied(row: SheetRow): SheetRow {
  const { length } = row
  return {
    ...row,
    kinds: row.kinds.slice(0, length),
    numbers: row.numbers.slice(0, length),
    texts: row.texts.slice(0, length),
    currencies: row.currencies.slice(0, length),
  }
}

/** The index of the header: the first row with a word above every column that is used below. */
export function headerOf(rows: readonly SheetRow[], isOwn: boolean): number {
  if (isOwn) return rows.findLastIndex(({ isHeading }) => isHeading)
  const strict = rows.findIndex((_, at) => isHeader(rows, at, (kind) => kind === KIND.text))
  if (strict >= 0) return strict
  // Months and years as dates and numbers may head columns, too, beside a word.
  return rows.findIndex(
    (row, at) =>
      row.kinds.includes(KIND.text) &&
      isHeader(rows, at, (kind, number) => kind === KIND.text || kind === KIND.date || isYear(kind, number)),
  )
}

const isYear = (kind: number, number: number): boolean =>
  kind === KIND.number && Number.isInteger(number) && number >= 1900 && number <= 2100

function isHeader(rows: readonly SheetRow[], at: number, fits: (kind: number, number: number) => boolean): boolean {
  // A table without a row below its header has none.
  const head = rows[at]
  const usedBelow = widthBelow(rows, at)
  let words = 0
  for (let c = 0; c < Math.max(head.length, usedBelow.length); c++) {
    const isThere = c < head.length && head.kinds[c] !== KIND.missing
    if (!isThere && usedBelow[c] !== true) continue
    if (!isThere || !fits(head.kinds[c], head.numbers[c])) return false
    words++
  }
  return words > 0 && (rows.length === 1 || at < rows.length - 1 || at === 0)
}

/** Which columns have a value in the header's row or below. */
function widthBelow(rows: readonly SheetRow[], at: number): boolean[] {
  const used: boolean[] = []
  for (const row of rows.slice(at + 1))
    for (let c = 0; c < row.length; c++) if (row.kinds[c] !== KIND.missing) used[c] = true
  return used
}

export function noHeader(sheet: string, rows: readonly SheetRow[], place: { file: string }): ProblemError {
  // The row with the most words is the likeliest.
  const words = rows.map(({ kinds }) => kinds.reduce((n, kind) => n + Number(kind === KIND.text), 0))
  const at = words.indexOf(Math.max(...words))
  const row = rows[at]
  const lacks: string[] = []
  widthBelow(rows, at).forEach((isUsed, c) => {
    if (isUsed && row.kinds[c] !== KIND.text) lacks.push(cellName(row.index, c))
  })
  return new ProblemError([problem('sheet-no-header', { sheet, row: row.index + 1, lacks }, place)])
}

/**
 * The names of columns by their place in the sheet. Of a sheet of this library the headings above
 * each other make one name.
 */
export function headerNames(
  rows: readonly SheetRow[],
  { left, right, isOwn }: { left: number; right: number; isOwn: boolean },
): (string | undefined)[] {
  const heads = isOwn ? rows.filter(({ isHeading }) => isHeading) : rows.slice(-1)
  const last = heads[heads.length - 1]
  const days = [...last.kinds].flatMap((kind, c) => (kind === KIND.date ? [dayText(last.numbers[c])] : []))
  // Months as dates are their first days.
  const areMonths = days.length > 1 && days.every((day) => day.endsWith('-01'))
  const textOf = (row: SheetRow, c: number): string => {
    if (c >= row.length || row.kinds[c] === KIND.missing) return ''
    if (row.kinds[c] === KIND.date) return dayText(row.numbers[c]).slice(0, areMonths ? 7 : undefined)
    return row.kinds[c] === KIND.text ? row.texts[c] : String(row.numbers[c])
  }
  return Array.from({ length: Math.min(last.length, right + 1) }, (_, c) => {
    if (c < left) return undefined
    const parts = heads.map((row) => textOf(row, c)).filter((text, i, all) => text !== '' && all.indexOf(text) === i)
    return parts.length === 0 || textOf(last, c) === '' ? undefined : parts.join(' · ').replace(/\s+/g, ' ')
  })
}
