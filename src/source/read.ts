import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { stopIf } from '../problem/stop.js'
import { checkShape } from '../shape/shape.js'
import type { SourceTable } from '../table/source-table.js'
import { createDecoder } from './decoder.js'
import type { SourceFormat } from './formats/format.js'
import { FORMATS } from './formats/registry.js'
import { laidOut } from './layout.js'
import { type RawTable, readTwice } from './raw.js'
import type { SourceFile } from './source-file.js'
import { checkOptions, type ReadOptions, typedTable } from './typed.js'

/**
 * Reads one file, or several of the same columns. The format is determined by the first bytes, by
 * the ending of the name, or by the beginning of the text. Throws with every problem.
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
  const binary = FORMATS.filter((format) => format.of === 'bytes').find(({ begins, endings }) =>
    files.some(({ name, content }) => begins(content) || endings.includes(endingOf(name))),
  )
  checkSheetOptions(given, binary, files[0].name)
  const read = binary === undefined ? readTexts(files, options) : await (await binary.load())(files, options)
  return laidOut(read, options, options.file ?? files[0]?.name)
}

/**
 * The same for a starter, which declares what the file asks for: cells under merged ones are
 * filled, as their keys would be missing.
 */
export async function readForStarter(files: readonly SourceFile[], options: ReadOptions = {}): Promise<SourceTable> {
  const table = await readSource(files, options)
  const hasMerged = table.notes.some(({ code }) => code === 'note-sheet-merged')
  return hasMerged ? readSource(files, { ...options, merged: 'repeat' }) : table
}

/** @throws ProblemError if something is said of sheets, and the format has none. */
function checkSheetOptions(options: ReadOptions, format: SourceFormat | undefined, file: string): void {
  if (format?.sheets === true) return
  const problems = SHEET_KEYS.filter((key) => options[key] !== undefined).map((key) =>
    problem('sheet-elsewhere', { key, format: format?.label ?? 'a text file' }, { file, path: [key] }),
  )
  if (problems.length > 0) throw new ProblemError(problems)
}

const SHEET_KEYS = ['sheet', 'range', 'header', 'merged'] as const

function checkFiles(files: readonly SourceFile[]): void {
  checkShape({ list: { keys: { name: 'text', content: 'anything' } }, min: 1 }, files, ['files'])
  files.forEach(({ content }, i) => {
    if (!(content instanceof Uint8Array)) checkShape('text', content, ['files', i, 'content'])
  })
}

/** Text formats, which are read synchronously. */
export function readTexts(files: readonly SourceFile[], options: ReadOptions = {}): SourceTable {
  const notes: Problem[] = []
  const texts = files.map(({ name, content }) => ({ name, text: textOf(content, name, notes) }))
  const raw = readTwice((reading) => {
    const problems: Problem[] = []
    for (const { name, text } of texts) {
      try {
        if (typeof text !== 'string') throw text
        addText(reading, name, text, options)
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error
        problems.push(...error.problems)
      }
    }
    if (problems.length > 0) throw new ProblemError(problems)
    return reading
  }, options)
  const table = typedTable(raw, { ...options, file: options.file ?? files[0]?.name })
  return { ...table, notes: [...notes, ...table.notes] }
}

function addText(raw: RawTable, name: string, text: string, options: ReadOptions): void {
  const texts = FORMATS.filter((format) => format.of === 'text')
  const ending = endingOf(name)
  const format =
    texts.find(({ endings }) => endings.includes(ending)) ??
    texts.find(({ begins }) => begins?.(text) === true) ??
    texts.find(({ begins }) => begins === undefined)
  format?.add(raw, { name, text, ending }, options)
}

/** The ending of a file's name, in small letters and without its dot. */
function endingOf(name: string): string {
  return /\.([a-z0-9]+)$/i.exec(name)?.[1].toLowerCase() ?? ''
}

/** The text, or the problem of decoding it, to be reported with those of other files. */
function textOf(content: string | Uint8Array, name: string, notes: Problem[]): string | ProblemError {
  try {
    return typeof content === 'string' ? content : decode(content, name, notes)
  } catch (error) {
    if (error instanceof ProblemError) return error
    throw error
  }
}

/**
 * Decodes UTF-8, UTF-16 with a byte order mark, else Windows-1252, which is reported. Binary files
 * are refused.
 */
function decode(bytes: Uint8Array, file: string, notes: Problem[]): string {
  const marked = (a: number, b: number): boolean => bytes[0] === a && bytes[1] === b
  if (marked(0xff, 0xfe)) return createDecoder('utf-16le').decode(bytes)
  if (marked(0xfe, 0xff)) return createDecoder('utf-16be').decode(bytes)
  // Text has no zero bytes; pictures, archives and programs do, near the beginning.
  if (bytes.subarray(0, 8000).includes(0)) throw new ProblemError([problem('not-text', {}, { file })])
  try {
    return createDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    notes.push(problem('note-encoding', { file }, { file }))
    return createDecoder('windows-1252').decode(bytes)
  }
}
