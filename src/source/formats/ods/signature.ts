/** The first bytes of an archive (APPNOTE 4.3.7), and of an empty one. */
const ARCHIVE = [0x50, 0x4b]
/** The first bytes of a compound file, in which old programs keep workbooks and encrypted ones. */
const COMPOUND = [0xd0, 0xcf, 0x11, 0xe0]

/** The media type of spreadsheets (ISO/IEC 26300, part 2, 3.3). */
export const SPREADSHEET = 'application/vnd.oasis.opendocument.spreadsheet'

/** How far into a file the root element of a flat document is looked for. */
const HEAD_LENGTH = 8192

/** What the first bytes of a file say that it is. */
export type Container = 'archive' | 'compound' | 'flat' | undefined

/** Whether a file is an archive, a compound file, or a flat document, by its first bytes. */
export function containerOf(content: string | Uint8Array): Container {
  if (typeof content === 'string') return isFlat(content.slice(0, HEAD_LENGTH)) ? 'flat' : undefined
  const begins = (bytes: readonly number[]): boolean => bytes.every((byte, i) => content[i] === byte)
  if (begins(ARCHIVE) && (content[2] === 3 || content[2] === 5)) return 'archive'
  if (begins(COMPOUND)) return 'compound'
  return isFlat(headOf(content)) ? 'flat' : undefined
}

/** Whether a text begins like a document in one XML file. */
function isFlat(head: string): boolean {
  return /<(?:[\w.-]+:)?document\b/.test(head) && head.includes('urn:oasis:names:tc:opendocument:xmlns:office:1.0')
}

/** The first bytes as ASCII, also of UTF-16: the zero bytes between are left out. */
function headOf(bytes: Uint8Array): string {
  let head = ''
  for (let i = 0; i < Math.min(bytes.length, HEAD_LENGTH); i++)
    if (bytes[i] !== 0) head += String.fromCharCode(bytes[i])
  return head
}
