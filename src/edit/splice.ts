import {
  isMap,
  isScalar,
  isSeq,
  LineCounter,
  type Node,
  type Pair,
  parseDocument,
  type YAMLMap,
  type YAMLSeq,
} from 'yaml'
import { type Problem, problem } from '../problem/problem.js'
import { REPORT_SPEC } from '../shape/table.js'

/**
 * Edits of the text of a report file that leave everything else as it is: comments, order, spelling
 * and line ends. After an edit the text is read again and compared; an edit that would change
 * anything else is refused.
 */

/** A rule to be inserted: its sentence, maybe with a name. */
export interface SentenceEntry {
  sentence: string
  name?: string
}

/** What is edited: the text with its tree. */
interface Source {
  text: string
  root: YAMLMap
  lines: LineCounter
  newline: string
  /** Whether it is JSON: then every text is in double quotes. */
  isJson: boolean
}

/** The keys of a report in the order of the schema. */
const SECTIONS = Object.keys(REPORT_SPEC.keys).map((key) => key.replace('?', ''))

/**
 * Inserts a rule as a sentence into the list of rules.
 *
 * @param at its index afterwards; at most the number of rules.
 * @returns the new text, or the problem for which it is refused.
 */
export function insertSentence(text: string, entry: SentenceEntry, at: number): string | Problem {
  const source = readSource(text)
  if (source === undefined) return problem('edit-unreadable', {})
  const node = source.root.get('rules', true) as unknown
  const next =
    node === undefined
      ? insertSection(source, entry)
      : isSeq(node)
        ? node.flow === true || source.isJson
          ? insertInFlow(source, node, entry, at)
          : insertInBlock(source, node, entry, at)
        : isNothing(node)
          ? fillSection(source, entry)
          : undefined
  return next !== undefined && isSameBut(text, next, entry, at) ? next : problem('edit-refused', {})
}

function readSource(text: string): Source | undefined {
  const lines = new LineCounter()
  const doc = parseDocument(text, { lineCounter: lines, version: '1.2', schema: 'core', uniqueKeys: false })
  if (doc.errors.length > 0 || !isMap(doc.contents)) return undefined
  const isJson = doc.contents.flow === true && /^\s*\{/.test(text.replace(/^\uFEFF/, ''))
  return { text, root: doc.contents as YAMLMap, lines, newline: /\r\n/.test(text) ? '\r\n' : '\n', isJson }
}

function isNothing(node: unknown): boolean {
  return node === null || (isScalar(node) && node.value === null)
}

/** Whether the new text is the old report with the entry in its place, and nothing else. */
function isSameBut(before: string, after: string, { sentence, name }: SentenceEntry, at: number): boolean {
  const read = (text: string): Record<string, unknown> | undefined => {
    const doc = parseDocument(text, { version: '1.2', schema: 'core', uniqueKeys: false })
    return doc.errors.length > 0 ? undefined : (doc.toJS({ maxAliasCount: 0 }) as Record<string, unknown>)
  }
  const [old, now] = [read(before), read(after)]
  if (old === undefined || now === undefined) return false
  const rules = [...((old.rules as unknown[] | null | undefined) ?? [])]
  const written = (now.rules as unknown[])[at]
  const isWritten =
    name === undefined
      ? written === sentence || entryText(written) === sentence
      : JSON.stringify(written) === JSON.stringify({ name, say: sentence })
  rules.splice(at, 0, written)
  return isWritten && sameTree({ ...old, rules }, now)
}

/** A map of one entry as the sentence that it is read as. */
function entryText(value: unknown): string | undefined {
  if (typeof value !== 'object' || value === null) return undefined
  const entries = Object.entries(value)
  return entries.length === 1 ? `${entries[0][0]}: ${String(entries[0][1])}` : undefined
}

/** Maps are compared without their order: a new section has a place of its own. */
function sameTree(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return Object.is(a, b)
  if (Array.isArray(a) !== Array.isArray(b)) return false
  const [left, right] = [a as Record<string, unknown>, b as Record<string, unknown>]
  const keys = Object.keys(left)
  return (
    keys.length === Object.keys(right).length &&
    keys.every((key) => Object.hasOwn(right, key) && sameTree(left[key], right[key]))
  )
}

/** The entry as it stands behind a dash. */
function blockEntry({ sentence, name }: SentenceEntry): string {
  if (name !== undefined) return `{ name: ${plainOrQuoted(name)}, say: ${quoted(sentence)} }`
  return isPlain(sentence) ? sentence : quoted(sentence)
}

/** Whether YAML reads a sentence behind a dash as one entry, and nothing of it otherwise. */
function isPlain(sentence: string): boolean {
  const doc = parseDocument(`- ${sentence}\n`, { version: '1.2', schema: 'core' })
  if (doc.errors.length > 0 || doc.warnings.length > 0) return false
  const list: unknown = doc.toJS({ maxAliasCount: 0 })
  return Array.isArray(list) && list.length === 1 && entryText(list[0]) === sentence && !/\s#/.test(sentence)
}

function plainOrQuoted(text: string): string {
  return /^[\p{L}_][\p{L}\p{N}_-]*$/u.test(text) && !/^(true|false|null|yes|no|~)$/i.test(text) ? text : quoted(text)
}

/** Single quotes; control characters and line ends need double ones. */
function quoted(text: string): string {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is looked for
  return /[\u0000-\u001f\u007f-\u009f\u2028\u2029\ufeff]/.test(text)
    ? JSON.stringify(text)
    : `'${text.replaceAll("'", "''")}'`
}

/** The start of the line that holds an offset. */
function lineStart({ text }: Source, offset: number): number {
  return text.lastIndexOf('\n', offset - 1) + 1
}

/** The end of the line that holds an offset, behind its line end. */
function lineEnd({ text }: Source, offset: number): number {
  const end = text.indexOf('\n', offset)
  return end < 0 ? text.length : end + 1
}

function lineAt(source: Source, start: number): string {
  return source.text.slice(start, lineEnd(source, start)).replace(/\r?\n$/, '')
}

/** The offset of the dash of an entry. */
function dashOf(source: Source, item: Node): number {
  const start = item.range?.[0] ?? 0
  const before = source.text.slice(0, start)
  return before.lastIndexOf('-')
}

/** Where an entry begins with the comment block directly above it. */
function entryStart(source: Source, dash: number): number {
  let start = lineStart(source, dash)
  for (;;) {
    if (start === 0) return start
    const above = lineStart(source, start - 1)
    // A block at the first line is about the file.
    if (above === 0 || !/^\s*#/.test(lineAt(source, above))) return start
    start = above
  }
}

/** Where an entry ends, with what is indented deeper below it. */
function entryEnd(source: Source, item: Node, column: number): number {
  const [from = 0, to = 0] = item.range ?? []
  const trimmed = source.text.slice(from, to).trimEnd().length
  let end = lineEnd(source, from + trimmed)
  while (end < source.text.length) {
    const line = lineAt(source, end)
    const indent = /^\s*/.exec(line)?.[0].length ?? 0
    if (!/^\s*#/.test(line) || indent <= column) return end
    end = lineEnd(source, end)
  }
  return end
}

function insertInBlock(source: Source, seq: YAMLSeq, entry: SentenceEntry, at: number): string | undefined {
  const { text, newline } = source
  const items = seq.items as Node[]
  if (items.length === 0 || items.some((item) => item === null)) return undefined
  const dashes = items.map((item) => dashOf(source, item))
  const column = dashes[0] - lineStart(source, dashes[0])
  const indent = text.slice(lineStart(source, dashes[0]), dashes[0])
  if (indent.trim() !== '') return undefined
  const starts = dashes.map((dash) => entryStart(source, dash))
  const gaps = starts.slice(1).filter((start) => lineAt(source, lineStart(source, start - 1)).trim() === '').length
  const isSpaced = items.length > 1 && gaps * 2 > items.length - 1
  const line = `${indent}- ${blockEntry(entry)}${newline}`
  if (at < items.length) {
    const offset = starts[at]
    return `${text.slice(0, offset)}${line}${isSpaced ? newline : ''}${text.slice(offset)}`
  }
  const offset = entryEnd(source, items[items.length - 1], column)
  const isOpen = offset > 0 && text[offset - 1] !== '\n'
  return `${text.slice(0, offset)}${isOpen ? newline : ''}${isSpaced ? newline : ''}${isOpen ? line.slice(0, -newline.length) : line}${text.slice(offset)}`
}

function insertInFlow(source: Source, seq: YAMLSeq, entry: SentenceEntry, at: number): string | undefined {
  const { text, isJson } = source
  const items = seq.items as Node[]
  const { sentence, name } = entry
  const written = isJson
    ? JSON.stringify(name === undefined ? sentence : { name, say: sentence })
    : name === undefined
      ? quoted(sentence)
      : blockEntry(entry)
  const [begin = 0, end = 0] = seq.range ?? []
  if (items.length === 0) return `${text.slice(0, begin)}[${isJson ? '' : ''}${written}]${text.slice(end)}`
  const starts = items.map((item) => item.range?.[0] ?? 0)
  // Entries on lines of their own keep their white space between them.
  const lead = text.slice(lineStart(source, starts[0]), starts[0])
  const isLined = lead.trim() === '' && starts[0] > begin + 1 && text.slice(begin, starts[0]).includes('\n')
  const between = isLined ? `,${source.newline}${lead}` : ', '
  if (at < items.length) return `${text.slice(0, starts[at])}${written}${between}${text.slice(starts[at])}`
  const last = items[items.length - 1].range?.[1] ?? 0
  return `${text.slice(0, last)}${between}${written}${text.slice(last)}`
}

/** `rules:` with nothing behind it. */
function fillSection(source: Source, entry: SentenceEntry): string | undefined {
  const { text, newline, root } = source
  const pair = (root.items as Pair[]).find(({ key }) => isScalar(key) && key.value === 'rules')
  const key = pair?.key as Node | undefined
  if (key?.range == null || root.flow === true) return undefined
  const end = lineEnd(source, key.range[1])
  const isOpen = text[end - 1] !== '\n'
  return `${text.slice(0, end)}${isOpen ? newline : ''}  - ${blockEntry(entry)}${isOpen ? '' : newline}${text.slice(end)}`
}

/** A section of its own, in the order of the schema. */
function insertSection(source: Source, entry: SentenceEntry): string | undefined {
  const { text, newline, root, isJson } = source
  const keys = (root.items as Pair[]).map(({ key }) => key as Node & { value?: unknown })
  const place = SECTIONS.indexOf('rules')
  const after = keys.find((key) => SECTIONS.indexOf(String(key.value)) > place)
  if (isJson || root.flow === true) {
    const written = `"rules": [${JSON.stringify(entry.name === undefined ? entry.sentence : { name: entry.name, say: entry.sentence })}]`
    if (after?.range == null) return undefined
    const lead = text.slice(lineStart(source, after.range[0]), after.range[0])
    const between = lead.trim() === '' ? `,${newline}${lead}` : ', '
    return `${text.slice(0, after.range[0])}${written}${between}${text.slice(after.range[0])}`
  }
  const section = `rules:${newline}  - ${blockEntry(entry)}${newline}`
  if (after?.range == null) {
    const isOpen = text !== '' && !text.endsWith('\n')
    return `${text}${isOpen ? newline : ''}${section}`
  }
  const start = entryStart(source, after.range[0])
  const isSpaced = start > 0 && lineAt(source, lineStart(source, start - 1)).trim() === ''
  return `${text.slice(0, start)}${section}${isSpaced ? newline : ''}${text.slice(start)}`
}
