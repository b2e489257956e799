import type { SourceTable } from '../../table/source-table.js'
import type { RawTable } from '../raw.js'
import type { SourceFile } from '../source-file.js'
import type { ReadOptions } from '../typed.js'

/** The parts that every data format has. */
interface FormatHead {
  key: string
  /** For docs: `CSV, TSV`. */
  label: string
  /** File endings, in lower case and without the dot. */
  endings: readonly string[]
  /** Endings that report files have as well. */
  shared?: readonly string[]
  /** Whether its files hold sheets, of which some are read. */
  sheets?: true
}

/** A format of text, whose records are added to untyped columns. */
export interface TextFormat extends FormatHead {
  of: 'text'
  /**
   * Whether a text without a known ending is of this format; the default format has no such test.
   */
  begins?(text: string): boolean
  /**
   * Adds the records of one file. `ending` is that of its name.
   *
   * @throws ProblemError with what is wrong in it.
   */
  add(raw: RawTable, file: { name: string; text: string; ending: string }, options: ReadOptions): void
}

/** A binary format with types of its own. Its reader is loaded on demand. */
export interface BinaryFormat extends FormatHead {
  of: 'bytes'
  /** Whether a file is of this format, by its first bytes. */
  begins(content: string | Uint8Array): boolean
  load(): Promise<(files: readonly SourceFile[], options: ReadOptions) => Promise<SourceTable>>
}

/** A data format. To add one, add a folder here and its name in `scripts/schema/registries.js`. */
export type SourceFormat = TextFormat | BinaryFormat
