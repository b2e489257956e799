import { problem as commonProblem, type Problem, ProblemError } from '../../../problem/problem.js'
import { problem } from '../../../problem/workbook.js'
import { checkColumns } from '../../limits.js'
import { KIND } from './cell.js'
import { addCell, createSheetColumn, type SheetColumn } from './columns.js'
import { copied, headerNames, headerOf, noHeader } from './header.js'
import { OWN_COLUMNS, OWN_ROWS } from './own.js'
import { cellName, columnName, type Range } from './place.js'
import type { SheetRow } from './sheets.js'

/** The header is looked for among so many rows with values. */
const HEADER_ROWS = 100
/** The most cells that are read, nine bytes each. */
const MAX_SHEET_CELLS = 50_000_000
/** So many cells with errors are named. */
const MAX_NAMED = 5
/** The most columns whose styles are looked at, in a sheet of this library. */
const MAX_STYLED = 1000

/** Columns that sheets and files are added to. */
export interface SheetTable {
  columns: SheetColumn[]
  rows: number
  /** The first sheet that was added, for problems; empty before. */
  first: string
}

/** A sheet, and where its table stands in it. */
export interface TablePlace {
  sheet: string
  range: Range | undefined
  /** The row of the header, from 0. */
  header: number | undefined
  /** The name of the sheet as a column of its own. */
  nameColumn: string | undefined
  /** Whether the sheet is one that this library has written. */
  isOwn: boolean
  /** The place of problems. */
  file: string
  noLimit: boolean
}

/** What was found in a sheet. */
export interface Found {
  sheet: string
  /** `A3:H200`, and the row of its header, from 1. */
  range: string
  header: number
  errors: { count: number; cells: string[]; sample: string }
  hidden: number
  filtered: number
  covered: { count: number; first: string }
  /** Whether this library has written it. */
  isOwn: boolean
}

/**
 * Reads the rows of one sheet into a table.
 *
 * `row` and `end` throw a ProblemError for a sheet without a header, or with other columns.
 */
export class TableReader {
  readonly #table: SheetTable
  readonly #at: TablePlace
  readonly #range: Range
  readonly #found: Found
  /** Rows until the header is known. */
  #waiting: SheetRow[] = []
  /** For each column of the sheet, the one of the table; undefined before the header is known. */
  #target: readonly (SheetColumn | undefined)[] | undefined
  #named: SheetColumn | undefined
  #styles: string[] = []
  #bottom = 0

  constructor(table: SheetTable, at: TablePlace) {
    this.#table = table
    this.#at = at
    const all = { top: at.header ?? 0, left: 0, bottom: Number.POSITIVE_INFINITY, right: Number.POSITIVE_INFINITY }
    this.#range = at.range ?? all
    this.#found = {
      sheet: at.sheet,
      range: '',
      header: 0,
      errors: { count: 0, cells: [], sample: '' },
      hidden: 0,
      filtered: 0,
      covered: { count: 0, first: '' },
      isOwn: at.isOwn,
    }
  }

  /** So many further columns have a style. */
  columns(style: string, times: number): void {
    if (!this.#at.isOwn) return
    for (let i = 0; i < times && this.#styles.length < MAX_STYLED; i++) this.#styles.push(style)
  }

  row(row: SheetRow): void {
    const { top, bottom } = this.#range
    if (row.index + row.times - 1 < top || row.index > bottom) return
    if (this.#at.isOwn && OWN_ROWS.has(row.style)) return
    if (this.#target !== undefined) this.#add(row)
    else if (this.#hasValue(row)) {
      this.#waiting.push(copied(row))
      const isGiven = this.#at.header !== undefined || this.#at.range !== undefined
      if (isGiven || this.#waiting.length >= HEADER_ROWS) this.#decide()
    }
  }

  /** What was found; undefined for a sheet without values in its range. */
  end(): Found | undefined {
    this.#decide()
    if (this.#target === undefined) return undefined
    const left = this.#target.findIndex((column) => column !== undefined)
    const right = this.#target.length - 1
    const { header } = this.#found
    this.#found.range = `${columnName(left)}${header}:${columnName(right)}${this.#bottom + 1}`
    return this.#found
  }

  #decide(): void {
    if (this.#target !== undefined || this.#waiting.length === 0) return
    const { range, header, isOwn, sheet, file } = this.#at
    const at = range !== undefined || header !== undefined ? 0 : headerOf(this.#waiting, isOwn)
    if (at < 0) throw noHeader(sheet, this.#waiting, { file })
    const rows = this.#waiting
    this.#waiting = []
    this.#begin(rows.slice(0, at + 1), rows.slice(at + 1))
  }

  /** Begins with the header, the last of `heads`. */
  #begin(heads: readonly SheetRow[], rest: readonly SheetRow[]): void {
    const head = heads[heads.length - 1]
    const { isOwn } = this.#at
    this.#found.header = head.index + 1
    this.#bottom = head.index
    const names = headerNames(heads, { left: this.#range.left, right: this.#range.right, isOwn }).map((name, c) =>
      OWN_COLUMNS.has(this.#styles[c] ?? '') ? undefined : name,
    )
    this.#target = targetsOf(this.#table, names, this.#at)
    this.#named = this.#table.columns.find(({ name }) => name === this.#at.nameColumn)
    for (const row of rest) this.#add(row)
  }

  #hasValue(row: SheetRow): boolean {
    const { left, right } = this.#range
    for (let c = left; c < Math.min(row.length, right + 1); c++)
      if (
        row.kinds[c] !== KIND.missing &&
        !(this.#at.isOwn && this.#target !== undefined && this.#target[c] === undefined)
      )
        return true
    return false
  }

  #add(row: SheetRow): void {
    if ((this.#at.isOwn && row.isHeading) || !this.#hasValue(row)) return
    const target = this.#target ?? []
    const table = this.#table
    const times = Math.min(row.times, this.#range.bottom - row.index + 1)
    if (!this.#at.noLimit && (table.rows + times) * table.columns.length > MAX_SHEET_CELLS)
      throw new ProblemError([problem('ods-too-many-cells', { most: MAX_SHEET_CELLS }, { file: this.#at.file })])
    this.#checkNames(row)
    for (let c = 0; c < target.length; c++) {
      const column = target[c]
      if (column === undefined) continue
      const kind = c < row.length ? row.kinds[c] : KIND.missing
      if (kind === KIND.error) this.#tellError(row, c, times)
      if (kind === KIND.missing || kind === KIND.error) addCell(column, kind, Number.NaN, '', '', times)
      else addCell(column, kind, row.numbers[c], row.texts[c], row.currencies[c], times)
    }
    if (this.#named !== undefined) addCell(this.#named, KIND.text, Number.NaN, this.#at.sheet, '', times)
    table.rows += times
    this.#bottom = row.index + times - 1
    this.#tell(row, times)
  }

  /** A value in a column without a name is refused: nothing is left out unsaid. */
  #checkNames(row: SheetRow): void {
    if (this.#at.isOwn) return
    const target = this.#target ?? []
    for (let c = this.#range.left; c < Math.min(row.length, this.#range.right + 1); c++) {
      if (row.kinds[c] === KIND.missing || target[c] !== undefined) continue
      const [cell, below] = [cellName(this.#found.header - 1, c), cellName(row.index, c)]
      const { sheet, file } = this.#at
      throw new ProblemError([problem('sheet-no-name', { sheet, cell, below }, { file })])
    }
  }

  #tellError(row: SheetRow, c: number, times: number): void {
    const { errors } = this.#found
    if (errors.count === 0) errors.sample = row.texts[c]
    errors.count += times
    for (let i = 0; i < times && errors.cells.length < MAX_NAMED; i++) errors.cells.push(cellName(row.index + i, c))
  }

  #tell(row: SheetRow, times: number): void {
    const { covered } = this.#found
    if (row.hidden === 'hidden') this.#found.hidden += times
    else if (row.hidden === 'filtered') this.#found.filtered += times
    if (row.covered === 0) return
    if (covered.count === 0) covered.first = cellName(row.index, row.firstCovered)
    covered.count += row.covered
  }
}

/** The columns of the table for those of a sheet; a further sheet must have the same ones. */
function targetsOf(
  table: SheetTable,
  names: readonly (string | undefined)[],
  { nameColumn, sheet, file, noLimit }: TablePlace,
): (SheetColumn | undefined)[] {
  const place = { file }
  const own = names.filter((name) => name !== undefined)
  checkColumns(own.length, noLimit, place)
  const problems: Problem[] = own
    .filter((name, i) => own.indexOf(name) !== i)
    .map((name) => commonProblem('header-twice', { name }, place))
  if (nameColumn !== undefined && own.includes(nameColumn)) problems.push(problem('sheet-taken', {}, place))
  if (table.first === '') {
    table.columns = [...own, ...(nameColumn === undefined ? [] : [nameColumn])].map((name) =>
      createSheetColumn(name, table.rows),
    )
    table.first = sheet
  } else {
    const known = table.columns.map(({ name }) => name).filter((name) => name !== nameColumn)
    const columns = [...known.filter((name) => !own.includes(name)), ...own.filter((name) => !known.includes(name))]
    if (columns.length > 0) problems.push(commonProblem('files-differ', { first: table.first, columns }, place))
  }
  if (problems.length > 0) throw new ProblemError(problems)
  const byName = new Map(table.columns.map((column) => [column.name, column]))
  return names.map((name) => (name === undefined ? undefined : byName.get(name)))
}
