import { Unzip, UnzipInflate, unzipSync } from 'fflate'
import { ProblemError } from '../../../problem/problem-error.js'
import { problem } from '../../../problem/workbook.js'
import { createDecoder } from '../../decoder.js'
import { SPREADSHEET } from './signature.js'

/** More entries than any document has. */
const MAX_ENTRIES = 10_000
/** Tables of numbers unpack to up to a hundred times their size; deflate makes a thousand. */
const MAX_RATIO = 400
/** Below so many bytes no ratio is refused. */
const MIN_BYTES = 64 * 1024 * 1024
/** Packed bytes that are unpacked at a time: at most a thousand times as many come out. */
const STEP = 1 << 14
/** The most bytes of an entry that is read whole. */
const MAX_SMALL = 1 << 20

/** Who reads a document, and the file for problems. */
export interface Unpacking {
  /** Is given the bytes of `content.xml`, in order. */
  onContent(chunk: Uint8Array): void
  file: string
  noLimit: boolean
}

/**
 * Unpacks the content of a document, step by step, so that it is never whole in memory.
 *
 * @throws ProblemError for an archive that is no spreadsheet, is encrypted, damaged, or a bomb.
 */
export function unpackContent(bytes: Uint8Array, unpacking: Unpacking): void {
  const place = { file: unpacking.file }
  try {
    checkParts(bytes, unpacking)
    let isWhole = false
    let unpacked = 0
    const most = limitOf(bytes, unpacking)
    const unzip = new Unzip((entry) => {
      if (entry.name !== 'content.xml' || isWhole) return
      entry.ondata = (error, chunk, final) => {
        // What is thrown below comes back as the error of the entry.
        if (error !== null) throw error
        unpacked += chunk.length
        if (unpacked > most) throw new ProblemError([problem('ods-too-large', { packed: bytes.length, most }, place)])
        unpacking.onContent(chunk)
        isWhole = final
      }
      entry.start()
    })
    unzip.register(UnzipInflate)
    for (let from = 0; from < bytes.length && !isWhole; from += STEP)
      unzip.push(bytes.subarray(from, from + STEP), from + STEP >= bytes.length)
    if (!isWhole) throw new ProblemError([problem('ods-broken', { why: WHY['unexpected EOF'] }, place)])
  } catch (error) {
    // The unpacker numbers its errors; any other is not about the file.
    if (!(error instanceof Error) || !('code' in error) || typeof error.code !== 'number') throw error
    throw new ProblemError([problem('ods-broken', { why: WHY[error.message] ?? error.message }, place)])
  }
}

/** What the unpacker says, in other words. */
const WHY: Readonly<Record<string, string>> = {
  'invalid zip data': 'the archive is damaged or not complete',
  'unexpected EOF': 'its content ends too soon',
}

/** The most bytes that may come out of so many. */
function limitOf(bytes: Uint8Array, { noLimit }: Unpacking): number {
  return noLimit ? Number.POSITIVE_INFINITY : Math.max(MIN_BYTES, bytes.length * MAX_RATIO)
}

/** Checks by the directory of an archive that it is a spreadsheet that can be read. */
function checkParts(bytes: Uint8Array, { file, noLimit }: Unpacking): void {
  const place = { file }
  const names = new Set<string>()
  const small = unzipSync(bytes, {
    filter: ({ name, originalSize }) => {
      names.add(name)
      if (names.size > MAX_ENTRIES && !noLimit)
        throw new ProblemError([problem('ods-too-many-parts', { most: MAX_ENTRIES }, place)])
      return (name === 'mimetype' || name === 'META-INF/manifest.xml') && originalSize <= MAX_SMALL
    },
  })
  const textOf = (name: string): string =>
    Object.hasOwn(small, name) ? createDecoder('utf-8').decode(small[name]).trim() : ''
  const type = textOf('mimetype')
  if (names.has('encrypted-package') || textOf('META-INF/manifest.xml').includes('encryption-data'))
    throw new ProblemError([problem('ods-encrypted', {}, place)])
  if (type.startsWith('application/vnd.oasis.opendocument.') && !type.startsWith(SPREADSHEET))
    throw new ProblemError([problem('ods-other-document', { type: type.slice(0, 80) }, place)])
  if (names.has('content.xml')) return
  throw new ProblemError([isWorkbook(names) ? problem('not-ods', {}, place) : problem('archive-not-ods', {}, place)])
}

/** Whether the parts of an archive are those of a workbook in another format. */
function isWorkbook(names: ReadonlySet<string>): boolean {
  return [...names].some((name) => /workbook|sheet|^index\/.*\.iwa$/i.test(name))
}
