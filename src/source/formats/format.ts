import type { SourceTable } from '../../table/source-table.js'
import type { RawTable } from '../raw.js'
import type { SourceFile } from '../source-file.js'
import type { ReadOptions } from '../typed.js'

/** What every format of data files has. */
interface FormatHead {
  key: string
  /** For docs: `CSV, TSV`. */
  label: string
  /** Endings of file names, in small letters and without the dot. */
  endings: readonly string[]
  /** Endings that report files have as well. */
  shared?: readonly string[]
}

/** A format of text, whose records are added to untyped columns. */
export interface TextFormat extends FormatHead {
  of: 'text'
  /** Whether a text without a known ending begins as one; the format of all others has none. */
  begins?(text: string): boolean
  /**
   * Adds the records of one file. `ending` is that of its name.
   *
   * @throws ProblemError with what is wrong in it.
   */
  add(raw: RawTable, file: { name: string; text: string; ending: string }, options: ReadOptions): void
}

/** A format of bytes, which brings its own types. What reads it is loaded when it is met. */
export interface BinaryFormat extends FormatHead {
  of: 'bytes'
  /** Whether a file is one, by its first bytes. */
  begins(content: string | Uint8Array): boolean
  load(): Promise<(files: readonly SourceFile[], options: ReadOptions) => Promise<SourceTable>>
}

/** A format of data files. Adding one is a folder here and its name in `scripts/schema/registries.js`. */
export type SourceFormat = TextFormat | BinaryFormat
