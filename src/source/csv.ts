import Papa from 'papaparse'
import { type Coder, createCoder } from '../column/column.js'
import { nearest } from '../problem/nearest.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import type { NearlyNumbers, ReadAs, SourceTable } from '../table/source-table.js'
import { createTable, type TableColumn } from '../table/table.js'
import { inferColumn } from './infer.js'

export interface CsvOptions {
  /** The file as the user named it, for problems. */
  file?: string
  /** How to read columns where reading by itself would guess wrong. */
  read?: Readonly<Record<string, ReadAs>>
  /** The column that time is read from: all its values must be dates. */
  date?: string
}

/** A column while it is read: dictionary codes, and the line on which each word first stood. */
export interface RawColumn {
  name: string
  coder: Coder
  codes: number[]
  firstLine: number[]
}

/** Reads CSV text to typed columns. Types are inferred over all rows. Throws with every problem that makes it unreadable. */
export function readCsv(text: string, options: CsvOptions = {}): SourceTable {
  const place = options.file === undefined ? {} : { file: options.file }
  const problems: Problem[] = []
  const at = (line: number, p: Problem): void => {
    problems.push({ ...p, place: { ...place, line } })
  }
  const plain = text.startsWith('\uFEFF') ? text.slice(1) : text
  if (plain.trim() === '') throw new ProblemError([problem('file-empty', {}, place)])
  const columns: RawColumn[] = []
  const ragged = { line: 0, found: 0, count: 0 }
  let line = 1
  Papa.parse<string[]>(plain, {
    header: false,
    skipEmptyLines: false,
    step: ({ data, errors }) => {
      const own = line
      line += 1 + data.reduce((n, cell) => n + newlines(cell), 0)
      for (const error of errors)
        if (error.type === 'Quotes') at(own, problem('csv-broken', { why: quoteFault(error.code) }))
      if (data.length === 1 && data[0].trim() === '') return
      if (columns.length === 0) {
        for (const name of data) columns.push({ name: name.trim(), coder: createCoder(), codes: [], firstLine: [] })
        checkHeader(columns, (p) => at(own, p))
        return
      }
      if (data.length !== columns.length) {
        if (ragged.count++ === 0) Object.assign(ragged, { line: own, found: data.length })
        return
      }
      for (let c = 0; c < columns.length; c++) addCell(columns[c], data[c], own)
    },
  })
  if (columns.length === 0) throw new ProblemError([problem('header-missing', {}, place)])
  if (ragged.count > 0) at(ragged.line, problem('ragged-row', { ...ragged, expected: columns.length }))
  checkNamed(columns, options, place, problems)
  if (problems.length > 0) throw new ProblemError(problems)
  return typedColumns(columns, options, place)
}

function newlines(cell: string): number {
  let n = 0
  for (let i = cell.indexOf('\n'); i >= 0; i = cell.indexOf('\n', i + 1)) n++
  return n
}

function quoteFault(code: string): string {
  return code === 'MissingQuotes'
    ? 'a quote is opened and not closed'
    : 'a quote stands inside a quoted value; double it'
}

function checkHeader(columns: readonly RawColumn[], tell: (p: Problem) => void): void {
  const seen = new Set<string>()
  columns.forEach(({ name }, i) => {
    if (name === '') tell(problem('header-empty', { position: i + 1 }))
    else if (seen.has(name)) tell(problem('header-twice', { name }))
    seen.add(name)
  })
}

/** Blank is missing; white space around a value is no part of it. */
function addCell(column: RawColumn, cell: string, line: number): void {
  const value = cell.trim()
  if (value === '') {
    column.codes.push(-1)
    return
  }
  const code = column.coder.code(value)
  if (code === column.firstLine.length) column.firstLine.push(line)
  column.codes.push(code)
}

function checkNamed(columns: readonly RawColumn[], options: CsvOptions, place: object, problems: Problem[]): void {
  const known = columns.map((c) => c.name)
  const named = [...Object.keys(options.read ?? {}), ...(options.date === undefined ? [] : [options.date])]
  for (const name of new Set(named))
    if (!known.includes(name))
      problems.push(problem('unknown-column', { name, nearest: nearest(name, known), known }, place))
}

function typedColumns(raw: readonly RawColumn[], options: CsvOptions, place: object): SourceTable {
  const nearly = new Map<string, NearlyNumbers>()
  const notes: Problem[] = []
  const problems: Problem[] = []
  const columns = raw.map((own): TableColumn => {
    const { name } = own
    const read = options.read !== undefined && Object.hasOwn(options.read, name) ? options.read[name] : undefined
    const asked = name === options.date ? 'date' : read
    const made = inferColumn(own, asked)
    if (made.nearly !== undefined) nearly.set(name, made.nearly)
    if (made.unread !== undefined && name === options.date)
      problems.push(problem('not-dates', { column: name, ...made.unread }, place))
    else if (made.unread !== undefined) notes.push(problem('note-unread', { column: name, ...made.unread }, place))
    return { name, label: name, column: made.column, type: made.type }
  })
  if (problems.length > 0) throw new ProblemError(problems)
  return { table: createTable(raw[0].codes.length, columns), nearly, notes }
}
