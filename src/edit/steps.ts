import { isMap } from 'yaml'
import type { Path } from '../problem/problem.js'
import { REPORT_SPEC } from '../shape/table.js'
import { spliceLine } from './text/comments.js'
import { isPlainMap, valueAt, withEntry, withMoved, withoutValue, withValue } from './text/plain.js'
import { entryLines, insertAt, moveAt, removeAt, replaceAt } from './text/primitives.js'
import { inlineValue, isPlainText, keyText } from './text/print.js'
import { setAt } from './text/set.js'
import { contentEnd, nodeAt, readSource } from './text/source.js'
import { spliceScalar } from './text/splice-scalar.js'

/** A step of an edit over the file's own tree. */
export type Step =
  | { do: 'set'; path: Path; value: unknown }
  /** The same, with nothing kept of how the old value is written. */
  | { do: 'replace'; path: Path; value: unknown }
  | { do: 'remove'; path: Path }
  | { do: 'insert'; path: Path; key?: string; value: unknown; at: number }
  /** A sentence without quotes, into a list in lines. */
  | { do: 'insertEntry'; path: Path; value: string; at: number }
  | { do: 'move'; path: Path; to: number }
  /** A copy behind the entry: of a list, or of a map under another key. */
  | { do: 'copy'; path: Path; key?: string }
  /** A key of a map, in its place. */
  | { do: 'rekey'; path: Path; key: string }
  /** A text whose unchanged parts keep their spelling. */
  | { do: 'splice'; path: Path; value: string }
  /** A sentence without quotes: the whole entry of a list is a text for the writer. */
  | { do: 'entry'; path: Path; value: string }

/** The keys of a report in the order of the schema. */
const SECTIONS = Object.keys(REPORT_SPEC.keys).map((key) => key.replace('?', ''))

/** What a step makes of the plain tree. */
export function stepped(tree: unknown, step: Step): unknown {
  const { path } = step
  switch (step.do) {
    case 'set':
    case 'replace':
    case 'splice':
      return withValue(tree, path, step.value)
    case 'remove':
      return withoutValue(tree, path)
    case 'insert':
      return withEntry(tree, path, step, step.at)
    case 'insertEntry':
      return withEntry(tree, path, { value: entryValue(step.value) }, step.at)
    case 'move':
      return withMoved(tree, path, step.to)
    case 'copy': {
      const parent = path.slice(0, -1)
      const holder = valueAt(tree, parent)
      const own = path[path.length - 1]
      const at = Array.isArray(holder) ? Number(own) : Object.keys(holder as object).indexOf(String(own))
      return withEntry(
        tree,
        parent,
        { ...(step.key !== undefined && { key: step.key }), value: valueAt(tree, path) },
        at + 1,
      )
    }
    case 'rekey': {
      const parent = path.slice(0, -1)
      const entries = Object.entries(valueAt(tree, parent) as object)
      const own = String(path[path.length - 1])
      return withValue(
        tree,
        parent,
        Object.fromEntries(entries.map(([key, value]) => [key === own ? step.key : key, value])),
      )
    }
    case 'entry':
      return withValue(tree, path, entryValue(step.value))
  }
}

/** A sentence as YAML reads it without quotes, where it does; else the text. */
export function entryValue(sentence: string): unknown {
  const colon = sentence.indexOf(': ')
  return isUnquoted(sentence) ? { [sentence.slice(0, colon)]: sentence.slice(colon + 2) } : sentence
}

/** Whether YAML reads a sentence behind a dash as one entry, and nothing of it otherwise. */
function isUnquoted(sentence: string): boolean {
  const colon = sentence.indexOf(': ')
  if (colon < 1 || / #/.test(sentence)) return false
  const [key, value] = [sentence.slice(0, colon), sentence.slice(colon + 2)]
  return isPlainText(key, 'key') && isPlainText(value, 'block') && !/^[[{&*!|>'"%@`?-]/.test(key)
}

/** What a step makes of the text; undefined where it cannot be made. */
export function steppedText(text: string, step: Step): string | undefined {
  const { path } = step
  switch (step.do) {
    case 'set':
      return setAt(text, path, step.value, SECTIONS)
    case 'replace':
      return replaceAt(text, path, step.value)
    case 'remove':
      return removeAt(text, path)
    case 'insert':
      return insertAt(text, path, step, step.at)
    case 'insertEntry':
      return isUnquoted(step.value) ? insertAt(text, path, { value: null, plain: step.value }, step.at) : undefined
    case 'move':
      return moveAt(text, path, step.to)
    case 'copy':
      return copied(text, path, step.key)
    case 'rekey':
      return rekeyed(text, path, step.key)
    case 'splice':
      return spliced(text, path, step.value)
    case 'entry':
      return entryText(text, path, step.value)
  }
}

function copied(text: string, path: Path, key: string | undefined): string | undefined {
  const source = readSource(text)
  const parent = path.slice(0, -1)
  const holder = source === undefined ? undefined : nodeAt(source, parent)
  const lines = source === undefined ? undefined : entryLines(source, path)
  if (source === undefined || lines === undefined) return undefined
  const own = path[path.length - 1]
  if (!isMap(holder)) return insertAt(text, parent, { value: null, lines }, Number(own) + 1)
  if (key === undefined) return undefined
  const at = holder.items.findIndex((pair) => String((pair.key as { value?: unknown } | null)?.value) === String(own))
  const [from, to] = (holder.items[at].key as { range?: [number, number] }).range ?? [0, 0]
  const written = source.text.slice(from, to)
  const begin = lines[0].indexOf(written)
  const first = lines[0].slice(0, begin) + keyText(key, source) + lines[0].slice(begin + written.length)
  return insertAt(text, parent, { key, value: null, lines: [first, ...lines.slice(1)] }, at + 1)
}

function rekeyed(text: string, path: Path, key: string): string | undefined {
  const source = readSource(text)
  const holder = source === undefined ? undefined : nodeAt(source, path.slice(0, -1))
  if (source === undefined || !isMap(holder)) return undefined
  const own = String(path[path.length - 1])
  const pair = holder.items.find((one) => String((one.key as { value?: unknown } | null)?.value) === own)
  const range = (pair?.key as { range?: [number, number] } | undefined)?.range
  return range === undefined
    ? undefined
    : source.mark + spliceLine(source.text, range[0], range[1], keyText(key, source))
}

function spliced(text: string, path: Path, value: string): string | undefined {
  const source = readSource(text)
  if (source === undefined) return undefined
  const next = spliceScalar(source, nodeAt(source, path), value)
  // Where folds or escapes are in the way, the text is written anew.
  const isRead = next !== undefined && isTextAt(source.mark + next, path, value)
  return isRead && next !== undefined ? source.mark + next : replaceAt(text, path, value)
}

function isTextAt(text: string, path: Path, value: string): boolean {
  const source = readSource(text)
  const node = source === undefined ? undefined : nodeAt(source, path)
  return (node as { value?: unknown } | null | undefined)?.value === value
}

/** A sentence without quotes stays one where YAML reads it so. */
function entryText(text: string, path: Path, sentence: string): string | undefined {
  const source = readSource(text)
  const node = source === undefined ? undefined : nodeAt(source, path)
  const range = node?.range
  if (source === undefined || node == null || range == null) return undefined
  const end = contentEnd(source, node) ?? range[1]
  const written = isPlainMap(entryValue(sentence)) ? sentence : inlineValue(sentence, source)
  return source.mark + spliceLine(source.text, range[0], end, written)
}
