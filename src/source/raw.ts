import { type Coder, createCoder } from '../column/column.js'

/** A column while it is read: dictionary codes, and where each word first stood. */
export interface RawColumn {
  name: string
  coder: Coder
  codes: number[]
  /** For each word the line or record, and the file, in which it first stood. */
  firstAt: number[]
  firstFile: number[]
  /** Whether some value was written as a text where numbers could have been (quoted in JSON). */
  quoted: boolean
}

/** Rows while they are read, from one file or several of the same columns. */
export interface RawTable {
  columns: RawColumn[]
  files: string[]
  /** What places are counted in. */
  unit: 'line' | 'record'
  rows: number
}

export function createRawTable(unit: RawTable['unit']): RawTable {
  return { columns: [], files: [], unit, rows: 0 }
}

export function createRawColumn(name: string): RawColumn {
  return { name, coder: createCoder(), codes: [], firstAt: [], firstFile: [], quoted: false }
}

/** Adds a value to its column; white space around it is no part of it, and blank is missing. */
export function addWord(column: RawColumn, text: string, at: number, file: number): void {
  const word = text.trim()
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

/** `line 4`; with several files `line 4 of b.csv`. */
export function whereText(raw: RawTable, column: RawColumn, code: number): string {
  const place = `${raw.unit} ${column.firstAt[code]}`
  return raw.files.length > 1 ? `${place} of ${raw.files[column.firstFile[code]]}` : place
}
