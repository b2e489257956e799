import { parseDocument } from 'yaml'
import type { Source } from './source.js'

/** The longest line that a map or list is written on by itself. */
const WIDEST = 120

/** How values of a file are written. */
export type Spelling = Pick<Source, 'isJson' | 'quote' | 'newline'>

/** Where a text stands: in brackets more characters mean something. */
type Around = 'block' | 'flow' | 'key'

/** A value on one line. */
export function inlineValue(value: unknown, spelling: Spelling, around: Around = 'block'): string {
  if (Array.isArray(value)) return `[${value.map((item) => inlineValue(item, spelling, 'flow')).join(', ')}]`
  if (isPlainMap(value)) {
    const entries = Object.entries(value).map(
      ([key, item]) => `${keyText(key, spelling)}: ${inlineValue(item, spelling, 'flow')}`,
    )
    return entries.length === 0 ? '{}' : `{ ${entries.join(', ')} }`
  }
  return typeof value === 'string' ? textValue(value, spelling, around) : String(value)
}

/** A value that is no map or list, or an empty one. */
export function isLeaf(value: unknown): boolean {
  if (Array.isArray(value)) return value.length === 0
  return !isPlainMap(value) || Object.keys(value).length === 0
}

function isPlainMap(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

export function keyText(key: string, spelling: Spelling): string {
  return spelling.isJson ? JSON.stringify(key) : textValue(key, spelling, 'key')
}

/** A text: plain where it is read as the same text, else in the quotes of the file. */
export function textValue(text: string, { isJson, quote }: Spelling, around: Around): string {
  if (isJson) return jsonText(text)
  if (isPlainText(text, around)) return text
  // biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is looked for
  const isControl = /[\u0000-\u001f\u007f-\u009f\u2028\u2029\ufeff]/.test(text)
  return isControl || quote === '"' ? jsonText(text) : `'${text.replaceAll("'", "''")}'`
}

/** Line separators and controls beyond ASCII are written as escapes, too. */
function jsonText(text: string): string {
  return JSON.stringify(text).replace(
    /[\u007f-\u009f\u2028\u2029\ufeff]/g,
    (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`,
  )
}

/** Whether a text without quotes is read as itself. */
export function isPlainText(text: string, around: Around): boolean {
  if (text === '' || text.trim() !== text || /[\r\n\t]/.test(text)) return false
  // A comma ends an entry in brackets, and in a block it is easily taken for one that does.
  const written = around === 'flow' ? `[ ${text} ]` : around === 'key' ? `{ ${text}: 0 }` : `k: ${text}`
  const doc = parseDocument(written, { version: '1.2', schema: 'core', strict: true, stringKeys: true })
  if (doc.errors.length > 0 || doc.warnings.length > 0) return false
  const read: unknown = doc.toJS({ maxAliasCount: 0 })
  if (around === 'flow') return Array.isArray(read) && read.length === 1 && read[0] === text
  const [entry, ...more] = Object.entries((read ?? {}) as object)
  if (entry === undefined || more.length > 0) return false
  return around === 'key' ? entry[0] === text && entry[1] === 0 : entry[1] === text
}

/**
 * An entry of a block collection as lines: `head` is its dash or its key with a colon.
 *
 * @param style how maps and lists are written: in brackets, or in lines; where nothing says it, by
 * their length.
 */
export function blockEntry(
  head: string,
  value: unknown,
  column: number,
  spelling: Spelling,
  style?: 'flow' | 'block',
): string[] {
  const pad = ' '.repeat(column)
  const inline = `${pad}${head} ${inlineValue(value, spelling)}`
  const isInline = isLeaf(value) || style === 'flow' || (style === undefined && inline.length <= WIDEST)
  if (isInline || spelling.isJson) return [inline]
  const inner = nestedLines(value, column + 2, spelling)
  // A map behind a dash begins on the line of the dash.
  if (head !== '-') return [`${pad}${head}`, ...inner]
  return [`${pad}- ${inner[0].trimStart()}`, ...inner.slice(1)]
}

/** The lines of a map or list. */
export function nestedLines(value: unknown, column: number, spelling: Spelling): string[] {
  if (Array.isArray(value)) return value.flatMap((item) => blockEntry('-', item, column, spelling))
  return Object.entries(value as object).flatMap(([key, item]) =>
    blockEntry(`${keyText(key, spelling)}:`, item, column, spelling),
  )
}
