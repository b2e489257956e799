import { nearest } from '../../../problem/nearest.js'
import { problem as commonProblem, type Problem, ProblemError } from '../../../problem/problem.js'
import { problem } from '../../../problem/workbook.js'
import type { SourceTable } from '../../../table/source-table.js'
import { zoneDay } from '../../../time/zone.js'
import { createRawTable } from '../../raw.js'
import { isPattern, type SourceFile } from '../../source-file.js'
import { type ReadOptions, typedTable } from '../../typed.js'
import { unpackContent } from './archive.js'
import { KIND } from './cell.js'
import { rawColumnOf } from './columns.js'
import { OWN, OWN_SHEETS } from './own.js'
import { parseRange, type Range } from './place.js'
import { SheetReader, type SheetVisitor } from './sheets.js'
import { containerOf } from './signature.js'
import { type Found, type SheetTable, TableReader } from './table.js'
import { createParser } from './xml.js'

/** The column that a pattern of sheets adds. */
const NAME_COLUMN = 'sheet'
/** Rows between two calls of `onRows`. */
const TELL_ROWS = 1 << 14

/** The sheets of a file: all names, and what was found in those that were read. */
interface ReadFile {
  file: string
  names: string[]
  found: Found[]
}

/**
 * Reads sheets of one workbook, or of several with the same columns: archives (`.ods`) and flat
 * documents (`.fods`) of ISO/IEC 26300. Throws with every problem.
 */
export async function readOds(files: readonly SourceFile[], options: ReadOptions = {}): Promise<SourceTable> {
  const wanted = await wantedOf(options)
  const table: SheetTable = { columns: [], rows: 0, first: '' }
  const problems: Problem[] = []
  const read: ReadFile[] = []
  for (const file of files) {
    try {
      read.push(readFile(file, table, wanted, options))
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error
      problems.push(...error.problems)
    }
  }
  if (problems.length > 0) throw new ProblemError(problems)
  const raw = createRawTable('row')
  raw.rows = table.rows
  raw.files.push(files[0].name)
  const asWords = new Set(Object.keys(options.read ?? {}))
  raw.columns = table.columns.map((column) => {
    const isDate = column.name === options.date && column.counts[KIND.text] > 0
    return rawColumnOf(column, isDate || asWords.has(column.name))
  })
  const typed = typedTable(raw, { ...options, file: options.file ?? files[0].name })
  const notes = [...notesOf(read, options), ...notesOfColumns(table, options), ...typed.notes]
  return { ...typed, notes, declares: declaresOf(read[0], options) }
}

/** Which sheets are wanted, and which part of each. */
interface Wanted {
  /** Whether a sheet is one of them; undefined for the first. */
  isWanted: ((name: string) => boolean) | undefined
  /** Whether a pattern names them: their names become a column. */
  isPattern: boolean
  range: Range | undefined
  header: number | undefined
}

async function wantedOf({ sheet, range, header }: ReadOptions): Promise<Wanted> {
  const problems: Problem[] = []
  const parsed = range === undefined ? undefined : parseRange(range)
  if (range !== undefined && parsed === undefined)
    problems.push(problem('bad-range', { text: range }, { path: ['range'] }))
  if (range !== undefined && header !== undefined) problems.push(problem('range-and-header', {}, { path: ['header'] }))
  if (problems.length > 0) throw new ProblemError(problems)
  const takesPattern = sheet !== undefined && isPattern(sheet)
  let isWanted: Wanted['isWanted']
  if (sheet !== undefined && takesPattern) {
    const { default: picomatch } = await import('picomatch')
    const isLike = picomatch(sheet, { windows: false, dot: true, bash: true })
    isWanted = (name) => name === sheet || isLike(name)
  } else if (sheet !== undefined) isWanted = (name) => name === sheet
  return { isWanted, isPattern: takesPattern, range: parsed, header: header === undefined ? undefined : header - 1 }
}

function readFile(
  { name: file, content }: SourceFile,
  table: SheetTable,
  wanted: Wanted,
  options: ReadOptions,
): ReadFile {
  const noLimit = options.noLimit === true
  const read: ReadFile = { file, names: [], found: [] }
  let reader: TableReader | undefined
  let told = table.rows
  const visitor: SheetVisitor = {
    sheet(name, style) {
      read.names.push(name)
      // A sheet may have a name that looks like a pattern.
      const isExact = name === options.sheet && table.columns.length === 0
      const isOneOfMany = wanted.isPattern && !isExact
      // The first sheet of a painted report that has data, not its legend.
      const isFirst = wanted.isWanted === undefined && reader === undefined && style !== OWN.words
      if (!isFirst && wanted.isWanted?.(name) !== true) return undefined
      const isOwn = OWN_SHEETS.has(style)
      reader = new TableReader(table, {
        sheet: name,
        range: wanted.range,
        header: wanted.header,
        nameColumn: isOneOfMany ? NAME_COLUMN : undefined,
        isOwn,
        file,
        noLimit,
      })
      return { merged: isOwn || options.merged === 'repeat' }
    },
    columns: (style, times) => reader?.columns(style, times),
    row(row) {
      reader?.row(row)
      if (table.rows - told < TELL_ROWS) return
      told = table.rows
      options.onRows?.(told)
    },
    end() {
      const found = reader?.end()
      if (found !== undefined) read.found.push(found)
    },
  }
  const zone = options.zone === undefined ? undefined : zoneDay(options.zone)
  const sheets = new SheetReader(visitor, { zone, file, noLimit })
  const parser = createParser(sheets, file, noLimit)
  parse(content, parser, file, noLimit)
  if (read.found.length === 0) throw new ProblemError([nothingFound(read, options, { file })])
  return read
}

/** Characters of a flat document that are parsed at a time. */
const STEP = 1 << 16

function parse(
  content: string | Uint8Array,
  parser: ReturnType<typeof createParser>,
  file: string,
  noLimit: boolean,
): void {
  const container = containerOf(content)
  if (container === 'archive' && content instanceof Uint8Array)
    unpackContent(content, { onContent: (chunk) => parser.write(chunk), file, noLimit })
  else if (container === 'flat')
    for (let from = 0; from < content.length; from += STEP)
      parser.write(typeof content === 'string' ? content.slice(from, from + STEP) : content.subarray(from, from + STEP))
  else if (content.length === 0) throw new ProblemError([commonProblem('file-empty', {}, { file })])
  else if (container === 'compound') throw new ProblemError([problem('not-ods', {}, { file })])
  else throw new ProblemError([problem('ods-broken', { why: 'it does not begin like one' }, { file })])
  parser.end()
}

function nothingFound({ names }: ReadFile, { sheet, range }: ReadOptions, place: { file: string }): Problem {
  if (names.length === 0) return problem('sheet-none', {}, place)
  if (sheet !== undefined && !names.includes(sheet))
    return problem(
      'sheet-missing',
      { name: sheet, nearest: nearest(sheet, names), known: names },
      { ...place, path: ['sheet'] },
    )
  const where = range === undefined ? '' : ` in ${range}`
  return problem('sheet-empty', { sheet: sheet ?? names[0], where }, place)
}

/** What was chosen of a file, in the keys that say it. */
function chosenOf({ names }: ReadFile, { sheet, range, isOwn, header }: Found, options: ReadOptions) {
  const isChosen = options.sheet === undefined && names.length > 1
  const isPlaced = !isOwn && options.range === undefined && options.header === undefined && !range.startsWith('A1:')
  return { ...(isChosen && { sheet }), ...(isPlaced && { header }) }
}

function declaresOf(read: ReadFile, options: ReadOptions): Readonly<Record<string, string | number>> {
  const [first] = read.found
  const isMerged = options.merged !== undefined && read.found.some(({ covered }) => covered.count > 0)
  return { ...chosenOf(read, first, options), ...(isMerged && { merged: 'repeat' }) }
}

function notesOf(read: readonly ReadFile[], options: ReadOptions): Problem[] {
  return read.flatMap((own) =>
    own.found.flatMap((one): Problem[] => {
      const { sheet, range, header, errors, hidden, filtered, covered, isOwn } = one
      const { file, names } = own
      const place = { file }
      const notes: Problem[] = []
      const chosen = chosenOf(own, one, options)
      if (Object.keys(chosen).length > 0)
        notes.push(problem('note-sheet', { file, sheet, of: names.length, range, header, chosen }, place))
      if (errors.count > 0) notes.push(problem('note-sheet-errors', errors, place))
      if (hidden + filtered > 0) notes.push(problem('note-sheet-hidden', { hidden, filtered, sheet }, place))
      if (covered.count > 0 && !isOwn && options.merged === undefined)
        notes.push(problem('note-sheet-merged', { count: covered.count, sheet, sample: covered.first }, place))
      return notes
    }),
  )
}

function notesOfColumns({ columns }: SheetTable, { file, read }: ReadOptions): Problem[] {
  const place = file === undefined ? {} : { file }
  return columns.flatMap(({ name, counts, currencies, values, kinds }): Problem[] => {
    if (read !== undefined && Object.hasOwn(read, name)) return []
    const notes: Problem[] = []
    if (counts[KIND.time] > 0 && counts[KIND.text] === 0) {
      const hours = values[kinds.indexOf(KIND.time)]
      const clock = `${Math.floor(hours)}:${String(Math.round((hours % 1) * 60)).padStart(2, '0')}`
      notes.push(
        problem('note-sheet-times', { column: name, sample: `${clock} as ${Number(hours.toFixed(4))}` }, place),
      )
    }
    if (currencies.size > 1)
      notes.push(problem('note-sheet-currencies', { column: name, currencies: [...currencies].sort() }, place))
    return notes
  })
}
