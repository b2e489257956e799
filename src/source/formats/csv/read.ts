import Papa from 'papaparse'
import { type Problem, ProblemError, problem } from '../../../problem/problem.js'
import { checkShape } from '../../../shape/shape.js'
import type { SourceTable } from '../../../table/source-table.js'
import { checkColumns, checkLines } from '../../limits.js'
import { addWord, createRawColumn, type RawColumn, type RawTable, readTwice } from '../../raw.js'
import { checkOptions, type ReadOptions, typedTable } from '../../typed.js'

/**
 * Reads CSV text to typed columns; the delimiter is detected among comma, semicolon, tab and bar.
 * Throws with every problem.
 */
export function readCsv(text: string, options: ReadOptions = {}): SourceTable {
  checkShape('text', text, ['text'])
  checkOptions(options)
  const read = (raw: RawTable): RawTable => {
    addCsv(raw, text, options.file, options)
    return raw
  }
  return typedTable(readTwice(read, options), options)
}

/** Adds the rows of a text to those read before, which must have the same columns. */
export function addCsv(
  raw: RawTable,
  text: string,
  file: string | undefined,
  { delimiter, onRows, noLimit }: { delimiter?: string } & Pick<ReadOptions, 'onRows' | 'noLimit'> = {},
): void {
  const place = file === undefined ? {} : { file }
  const problems: Problem[] = []
  const at = (line: number, p: Problem): void => {
    problems.push({ ...p, place: { ...place, line } })
  }
  const plain = evenLines(text.startsWith('\uFEFF') ? text.slice(1) : text)
  if (plain.trim() === '') throw new ProblemError([problem('file-empty', {}, place)])
  checkLines(plain, noLimit, place)
  const index = raw.files.push(file ?? 'the data') - 1
  const ragged = { line: 0, found: 0, count: 0 }
  // Only quoted values can span several lines.
  const quoted = plain.includes('"')
  let columns: RawColumn[] | undefined
  let line = 1
  const row = (data: string[]): void => {
    const start = line
    line++
    if (quoted) for (const cell of data) if (cell.includes('\n')) line += cell.split('\n').length - 1
    if (data.length === 1 && data[0].trim() === '') return
    if (columns === undefined) {
      checkColumns(data.length, noLimit, { ...place, line: start })
      columns = header(raw, data, index, expectedRows(plain), (p) => at(start, p))
      return
    }
    if (data.length !== columns.length) {
      if (ragged.count++ === 0) Object.assign(ragged, { line: start, found: data.length })
      return
    }
    for (let c = 0; c < columns.length; c++) addWord(columns[c], data[c], start, index)
    raw.rows++
    if ((raw.rows & 0xffff) === 0) onRows?.(raw.rows)
  }
  const config = {
    header: false,
    skipEmptyLines: false,
    delimiter: delimiter ?? delimiterOf(plain),
    newline: lineEnd(plain),
  } as const
  if (quoted)
    Papa.parse<string[]>(plain, {
      ...config,
      // Row by row: a value that spans lines would be cut at the end of a chunk.
      step: ({ data, errors }) => {
        for (const error of errors)
          if (error.type === 'Quotes') at(line, problem('csv-broken', { why: quoteFault(error.code) }))
        row(data)
      },
    })
  else for (const piece of pieces(plain)) for (const cells of Papa.parse<string[]>(piece, config).data) row(cells)
  if (columns === undefined) throw new ProblemError([problem('header-missing', {}, place)])
  const expected = (columns as RawColumn[]).length
  if (ragged.count > 0) at(ragged.line, problem('ragged-row', { ...ragged, expected }))
  if (problems.length > 0) throw new ProblemError(problems)
}

/** Problems of the parser that do not matter. */
const MIN_ROWS = 1024
/**
 * Characters parsed at a time: the rows of small chunks are collected while they are young, which
 * would otherwise dominate the time.
 */
const PIECE_LENGTH = 1 << 15

/**
 * A text without quotes, in chunks of whole lines: each is parsed separately, as the chunks of the
 * parser would keep all before them.
 */
function* pieces(text: string): Generator<string> {
  const end = lineEnd(text)
  for (let from = 0; from < text.length; ) {
    const cut = from + PIECE_LENGTH < text.length ? text.indexOf(end, from + PIECE_LENGTH) : -1
    yield text.slice(from, cut < 0 ? text.length : cut)
    from = cut < 0 ? text.length : cut + end.length
  }
}

/** An estimate of the number of rows, by the length of the first lines. */
function expectedRows(text: string): number {
  const sample = text.slice(0, 65_536)
  const lines = sample.split('\n').length
  // A single line gives no estimate, and a wide table with few rows needs little memory.
  return lines < 20 ? MIN_ROWS : Math.max(MIN_ROWS, Math.ceil((text.length / sample.length) * lines * 1.05))
}

/** The parser expects one kind of line end; concatenated files may have two. */
function evenLines(text: string): string {
  return text.includes('\r') && text.includes('\n') && /[^\r]\n|\r[^\n]/.test(text)
    ? text.replace(/\r\n?/g, '\n')
    : text
}

function lineEnd(text: string): '\n' | '\r\n' | '\r' {
  if (!text.includes('\r')) return '\n'
  return text.includes('\n') ? '\r\n' : '\r'
}

/**
 * The delimiter detection of the parser, on the first lines without blank ones, which would mislead
 * it.
 */
function delimiterOf(text: string): string {
  const { meta } = Papa.parse(text.slice(0, 65_536), {
    preview: 20,
    skipEmptyLines: true,
    delimitersToGuess: [',', ';', '\t', '|'],
  })
  return meta.delimiter
}

function quoteFault(code: string): string {
  return code === 'MissingQuotes' ? 'a quote is opened and not closed' : 'a quote is inside a quoted value; double it'
}

/** The columns of this file, in order; a further file must have the same ones. */
function header(
  raw: RawTable,
  cells: readonly string[],
  index: number,
  expected: number,
  tell: (p: Problem) => void,
): RawColumn[] {
  const names = cells.map((cell) => cell.trim())
  const seen = new Set<string>()
  names.forEach((name, i) => {
    if (name === '') tell(problem('header-empty', { position: i + 1 }))
    else if (seen.has(name)) tell(problem('header-twice', { name }))
    seen.add(name)
  })
  if (index === 0) {
    raw.columns = names.map((name) => createRawColumn(name, raw.plain(name), expected))
    return raw.columns
  }
  const other = [
    ...raw.columns.map((c) => c.name).filter((name) => !seen.has(name)),
    ...names.filter((name) => !raw.columns.some((c) => c.name === name)),
  ]
  if (other.length > 0) tell(problem('files-differ', { first: raw.files[0], columns: other }))
  return names.map((name) => raw.columns.find((c) => c.name === name) ?? createRawColumn(name))
}
