import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { stopIf } from '../problem/stop.js'
import { checkShape } from '../shape/shape.js'
import type { SourceTable } from '../table/source-table.js'
import { addCsv, readTwice } from './formats/csv.js'
import { isParquet } from './formats/is-parquet.js'
import { addJson } from './formats/json.js'
import { laidOut } from './layout.js'
import type { RawTable } from './raw.js'
import type { SourceFile } from './source-file.js'
import { checkOptions, type ReadOptions, typedTable } from './typed.js'

// Every platform has one; it is no part of the language's own types.
declare class TextDecoder {
  constructor(label: string, options?: { fatal?: boolean })
  decode(bytes: Uint8Array): string
}

/**
 * Reads one file, or several of the same columns: Parquet by its first bytes; CSV and TSV, JSON and
 * NDJSON by their ending, else by how they begin. Throws with every problem.
 */
export async function readSource(files: readonly SourceFile[], given: ReadOptions = {}): Promise<SourceTable> {
  checkFiles(files)
  checkOptions(given)
  const { signal, onRows } = given
  const tell = (rows: number): void => {
    stopIf(signal)
    onRows?.(rows)
  }
  const options = signal === undefined ? given : { ...given, onRows: tell }
  const parquet = files.some(({ name, content }) => isParquet(content) || /\.parquet$/i.test(name))
  const read = parquet
    ? await (await import('./formats/parquet.js')).readParquet(files, options)
    : readTexts(files, options)
  return laidOut(read, options, options.file ?? files[0]?.name)
}

function checkFiles(files: readonly SourceFile[]): void {
  checkShape({ list: { keys: { name: 'text', content: 'anything' } }, min: 1 }, files, ['files'])
  files.forEach(({ content }, i) => {
    if (!(content instanceof Uint8Array)) checkShape('text', content, ['files', i, 'content'])
  })
}

/** Text alone, which needs no waiting. */
export function readTexts(files: readonly SourceFile[], options: ReadOptions = {}): SourceTable {
  const notes: Problem[] = []
  const texts = files.map(({ name, content }) => ({ name, text: textOf(content, name, notes) }))
  const raw = readTwice((own) => {
    const problems: Problem[] = []
    for (const { name, text } of texts) {
      try {
        if (typeof text !== 'string') throw text
        addText(own, name, text, options)
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error
        problems.push(...error.problems)
      }
    }
    if (problems.length > 0) throw new ProblemError(problems)
    return own
  }, options)
  const table = typedTable(raw, { ...options, file: options.file ?? files[0]?.name })
  return { ...table, notes: [...notes, ...table.notes] }
}

function addText(raw: RawTable, name: string, text: string, { onRows, noLimit }: ReadOptions): void {
  const ending = /\.([a-z]+)$/i.exec(name)?.[1].toLowerCase() ?? ''
  const isJson =
    ['json', 'ndjson', 'jsonl'].includes(ending) ||
    (!['csv', 'tsv', 'txt'].includes(ending) && /^\uFEFF?\s*[[{]/.test(text))
  if (isJson) addJson(raw, text, name, noLimit)
  else addCsv(raw, text, name, { ...(ending === 'tsv' ? { delimiter: '\t' } : {}), onRows, noLimit })
}

/** The text, or what is wrong with it, to be told with what is wrong with the other files. */
function textOf(content: string | Uint8Array, name: string, notes: Problem[]): string | ProblemError {
  try {
    return typeof content === 'string' ? content : decode(content, name, notes)
  } catch (error) {
    if (error instanceof ProblemError) return error
    throw error
  }
}

/**
 * Text from bytes: UTF-8, UTF-16 with its mark, else Windows-1252, which is said. Bytes that are no
 * text are refused.
 */
function decode(bytes: Uint8Array, file: string, notes: Problem[]): string {
  const marked = (a: number, b: number): boolean => bytes[0] === a && bytes[1] === b
  if (marked(0xff, 0xfe)) return new TextDecoder('utf-16le').decode(bytes)
  if (marked(0xfe, 0xff)) return new TextDecoder('utf-16be').decode(bytes)
  // A text holds no zero bytes; pictures, archives and programs do, early on.
  if (bytes.subarray(0, 8000).includes(0)) throw new ProblemError([problem('not-text', {}, { file })])
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    notes.push(problem('note-encoding', { file }, { file }))
    return new TextDecoder('windows-1252').decode(bytes)
  }
}
