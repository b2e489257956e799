import type { Coder, Column } from '../column/column.js'
import type { Type } from '../expression/bound.js'
import { type CodeList, createCodeList, createWordCoder } from './lists.js'
import { putPlainNumber } from './parse-values.js'

/** A column while it is read: dictionary codes, and the place where each word first occurs. */
export interface RawColumn {
  name: string
  coder: Coder
  codes: CodeList
  /** For each word the line or record, and the file, where it first occurs. */
  firstAt: number[]
  firstFile: number[]
  /** Whether some value was quoted in JSON although it is a number. */
  quoted: boolean
  /**
   * The numbers, as long as every value is one: amounts hardly repeat, and a dictionary would cost
   * more than the parser.
   */
  numbers: Numbers | undefined
  /**
   * Set if a value late in the file is no number: the earlier words are lost, and the file is read
   * again.
   */
  again: boolean
  /**
   * Of a format whose cells say what they are: the finished column, or the kind that its words
   * have.
   */
  typed?: MadeColumn | { kind: 'text' }
}

/** A column whose type was said by its file. */
export interface MadeColumn {
  kind: 'made'
  column: Column
  type: Type
  /** ISO 4217. */
  currency?: string
}

interface Numbers {
  values: Float64Array
  length: number
  /** The first values as written with their places, for a dictionary. */
  words: string[]
  places: number[]
  files: number[]
}

/** How many values are kept as written; a column of texts mostly shows within these. */
const KEPT_WORDS = 2000

/** Rows while they are read, from one file or several of the same columns. */
export interface RawTable {
  columns: RawColumn[]
  files: string[]
  /** The unit of places. */
  unit: 'line' | 'record' | 'row'
  rows: number
  /** Whether a column may be read as plain numbers without a dictionary. */
  plain: (name: string) => boolean
}

export function createRawTable(unit: RawTable['unit'], plain: RawTable['plain'] = () => false): RawTable {
  return { columns: [], files: [], unit, rows: 0, plain }
}

export function createRawColumn(name: string, plain = false, expected = 1024): RawColumn {
  return {
    name,
    coder: createWordCoder(),
    // Numbers need codes only if the column turns out to be text.
    codes: createCodeList(plain ? 1024 : expected),
    firstAt: [],
    firstFile: [],
    quoted: false,
    numbers: plain ? { values: new Float64Array(expected), length: 0, words: [], places: [], files: [] } : undefined,
    again: false,
  }
}

/** Adds a value to its column, without the white space around it; a blank value is missing. */
export function addWord(column: RawColumn, text: string, at: number, file: number): void {
  const { numbers } = column
  if (numbers !== undefined) {
    if (addNumber(numbers, text, at, file)) return
    demote(column, numbers)
  }
  if (!column.again) addText(column, text, at, file)
}

function addText(column: RawColumn, text: string, at: number, file: number): void {
  const word = isTight(text) ? text : text.trim()
  if (word === '') {
    column.codes.push(-1)
    return
  }
  const code = column.coder.code(word)
  if (code === column.firstAt.length) {
    column.firstAt.push(at)
    column.firstFile.push(file)
  }
  column.codes.push(code)
}

/**
 * Whether there is probably no white space at either end; characters beyond ASCII are tested more
 * closely.
 */
function isTight(text: string): boolean {
  const first = text.charCodeAt(0)
  const last = text.charCodeAt(text.length - 1)
  return first > 32 && first < 128 && last > 32 && last < 128
}

function addNumber(numbers: Numbers, text: string, at: number, file: number): boolean {
  const { length } = numbers
  if (length === numbers.values.length) lengthen(numbers)
  if (!putPlainNumber(numbers.values, length, text)) return false
  if (length < KEPT_WORDS) {
    numbers.words.push(text)
    numbers.places.push(at)
    numbers.files.push(file)
  }
  numbers.length = length + 1
  return true
}

function lengthen(numbers: Numbers): void {
  const longer = new Float64Array(numbers.length * 2)
  longer.set(numbers.values)
  numbers.values = longer
}

/** Turns numbers back into words, if these are still there. */
function demote(column: RawColumn, { length, words, places, files }: Numbers): void {
  column.numbers = undefined
  if (length > words.length) column.again = true
  else for (let i = 0; i < words.length; i++) addWord(column, words[i], places[i], files[i])
}

/** `line 4`; with several files `line 4 of b.csv`. */
export function whereText(raw: RawTable, column: RawColumn, code: number): string {
  const place = `${raw.unit} ${column.firstAt[code]}`
  return raw.files.length > 1 ? `${place} of ${raw.files[column.firstFile[code]]}` : place
}

/**
 * Reads with number columns without a dictionary; if one turns out to be text late in the file,
 * reads again with dictionaries.
 */
export function readTwice(
  read: (raw: RawTable) => RawTable,
  options: { read?: Readonly<Record<string, string>> | undefined; date?: string | undefined },
): RawTable {
  const declared = (name: string): boolean => {
    const as = options.read?.[name]
    return name === options.date || (as !== undefined && as.trim() !== 'number')
  }
  const raw = read(createRawTable('line', (name) => !declared(name)))
  const again = new Set(raw.columns.flatMap((column) => (column.again ? [column.name] : [])))
  return again.size === 0 ? raw : read(createRawTable('line', (name) => !declared(name) && !again.has(name)))
}
