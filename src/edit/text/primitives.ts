import { isCollection, isMap, isScalar, isSeq, type Node } from 'yaml'
import type { Path } from '../../problem/problem.js'
import { type Block, isSpaced, type Run, readBlock, writeBlock } from './block.js'
import { spliceLine } from './comments.js'
import { flowText, insertInFlow, readFlow, removeFromFlow } from './flow.js'
import { blockEntry, inlineValue, keyText, nestedLines } from './print.js'
import {
  type Collection,
  contentEnd,
  dashesOf,
  indexIn,
  lineEnd,
  lineStart,
  nodeAt,
  pairEnd,
  pairOf,
  readSource,
  type Source,
} from './source.js'

/**
 * The edits that all others are made of: take an entry out, put one in, move one, replace a value.
 * Each gives the new text, or undefined where it cannot be made.
 */

/** Removes an entry of a map or list with the comments that belong to it. */
export function removeAt(written: string, path: Path): string | undefined {
  return inCollection(written, path.slice(0, -1), (source, node, outer) => {
    const index = indexIn(node, path[path.length - 1])
    if (index < 0) return undefined
    if (isFlow(source, node)) {
      const flow = readFlow(source, node)
      if (flow === undefined) return undefined
      removeFromFlow(flow, index)
      return spliceLine(source.text, flow.from, flow.to, flowText(flow, source))
    }
    const block = readBlock(source, node, outer)
    if (block === undefined) return undefined
    const { runs } = block
    const at = entryRun(runs, index)
    const left = [...runs.slice(0, at), ...runs.slice(at + 1)]
    // Blank lines belong to places: the larger of the two gaps stays.
    const [above, below] = [left[at - 1], left[at]]
    if (above?.is === 'blank' && below?.is === 'blank')
      left.splice(above.lines.length < below.lines.length ? at - 1 : at, 1)
    else if (at === left.length && above?.is === 'blank') left.splice(at - 1, 1)
    else if (at === 0 && below?.is === 'blank' && block.from > 0) left.splice(0, 1)
    if (left.some(({ is }) => is === 'entry')) return writeBlock(source, block, left)
    return path.length === 1 ? undefined : emptied(source, path.slice(0, -1), block, left)
  })
}

/** Moves an entry of a list to another index, that afterwards; comments go with it. */
export function moveAt(written: string, path: Path, to: number): string | undefined {
  return inCollection(written, path.slice(0, -1), (source, node, outer) => {
    const from = indexIn(node, path[path.length - 1])
    if (from < 0 || to < 0 || to >= node.items.length) return undefined
    if (isFlow(source, node)) {
      const flow = readFlow(source, node)
      if (flow === undefined) return undefined
      flow.items.splice(to, 0, ...flow.items.splice(from, 1))
      return spliceLine(source.text, flow.from, flow.to, flowText(flow, source))
    }
    const block = readBlock(source, node, outer)
    if (block === undefined) return undefined
    const entries = block.runs.filter(({ is }) => is === 'entry')
    entries.splice(to, 0, ...entries.splice(from, 1))
    let next = 0
    return writeBlock(
      source,
      block,
      block.runs.map((run) => (run.is === 'entry' ? entries[next++] : run)),
    )
  })
}

/** A new entry: a value of a list, or a value under a key. */
export interface NewEntry {
  key?: string
  value: unknown
  /** Lines as they are, with the indentation of a list: a copy of another entry. */
  lines?: readonly string[]
  /** A text that stands behind the dash as it is. */
  plain?: string
}

/** Puts an entry into a map or list. */
export function insertAt(written: string, path: Path, entry: NewEntry, at: number): string | undefined {
  const source = readSource(written)
  if (source === undefined) return undefined
  const node = nodeAt(source, path)
  if (node === undefined) return undefined
  const next =
    isCollection(node) && node.items.length > 0
      ? inFilled(source, path, node as Collection, entry, at)
      : inEmpty(source, path, node, entry)
  return next === undefined ? undefined : source.mark + next
}

function inFilled(source: Source, path: Path, node: Collection, entry: NewEntry, at: number): string | undefined {
  const { key, value } = entry
  if (isMap(node) === (key === undefined) || at < 0 || at > node.items.length) return undefined
  if (isFlow(source, node)) {
    const flow = readFlow(source, node)
    if (flow === undefined || entry.plain !== undefined) return undefined
    const core =
      entry.lines?.[0] ?? `${key === undefined ? '' : `${keyText(key, source)}: `}${inlineValue(value, source, 'flow')}`
    insertInFlow(flow, core, at, source)
    return spliceLine(source.text, flow.from, flow.to, flowText(flow, source))
  }
  const block = readBlock(source, node, outerColumn(source, path))
  if (block === undefined) return undefined
  const head = key === undefined ? '-' : `${keyText(key, source)}:`
  const style = path.length === 0 && isSection(value) ? 'block' : styleOf(node)
  const plain = entry.plain === undefined ? undefined : [`${' '.repeat(block.column)}- ${entry.plain}`]
  const lines = entry.lines ?? plain ?? blockEntry(head, value, block.column, source, style)
  return writeBlock(source, block, withRun(block, { is: 'entry', lines: [...lines] }, at))
}

/** The runs with a new entry, and a blank line beside it where most entries have one. */
function withRun(block: Block, run: Run, at: number): Run[] {
  const { runs } = block
  const places = runs.flatMap((one, i) => (one.is === 'entry' ? [i] : []))
  const blank: Run[] = isSpaced(block) && places.length > 1 ? [{ is: 'blank', lines: [''] }] : []
  if (at < places.length) {
    const place = places[at]
    return [...runs.slice(0, place), run, ...blank, ...runs.slice(place)]
  }
  const place = places[places.length - 1] + 1
  return [...runs.slice(0, place), ...blank, run, ...runs.slice(place)]
}

/** An entry of a collection without any: it becomes lines in a section, brackets deeper. */
function inEmpty(source: Source, path: Path, node: Node | null, entry: NewEntry): string | undefined {
  const { key, value } = entry
  if (entry.plain !== undefined) return undefined
  const whole = key === undefined ? [value] : { [key]: value }
  if (node !== null && !isCollection(node) && !(isScalar(node) && node.value === null)) return undefined
  if (isCollection(node) && (source.isJson || path.length > 1)) {
    const flow = isFlow(source, node as Collection) ? readFlow(source, node as Collection) : undefined
    if (flow === undefined) return undefined
    const core = `${key === undefined ? '' : `${keyText(key, source)}: `}${inlineValue(value, source, 'flow')}`
    // An empty list takes a map's brackets where a map is put in.
    flow.open = key === undefined ? '[' : '{'
    flow.close = key === undefined ? ']' : '}'
    insertInFlow(flow, core, 0, source)
    return spliceLine(source.text, flow.from, flow.to, flowText(flow, source))
  }
  return replaceEntry(source, path, whole, path.length === 1 ? 'block' : undefined)
}

/** Replaces the value of an entry that is there. */
export function replaceAt(written: string, path: Path, value: unknown): string | undefined {
  const source = readSource(written)
  if (source === undefined) return undefined
  const node = nodeAt(source, path)
  if (node === undefined) return undefined
  const isText = isScalar(node) && node.value !== null && isScalarValue(value)
  const next = isText ? replaceScalar(source, path, node as Node, value) : replaceEntry(source, path, value)
  return next === undefined ? undefined : source.mark + next
}

function isScalarValue(value: unknown): boolean {
  return value === null || typeof value !== 'object'
}

function replaceScalar(source: Source, path: Path, node: Node, value: unknown): string | undefined {
  const { text } = source
  const from = node.range?.[0]
  const to = contentEnd(source, node)
  if (from === undefined || to === undefined) return undefined
  const isBlock = isScalar(node) && (node.type === 'BLOCK_LITERAL' || node.type === 'BLOCK_FOLDED')
  if (isBlock && typeof value === 'string' && value.includes('\n') && !/\n\n|^\s|\s$/.test(value.trimEnd())) {
    const indent = /\n([ ]*)\S/.exec(text.slice(from, to))?.[1] ?? ' '.repeat(outerColumn(source, path) + 2)
    const lines = value.replace(/\n$/, '').split('\n')
    const literal = `|${value.endsWith('\n') ? '' : '-'}${source.newline}${lines.map((line) => indent + line).join(source.newline)}`
    return `${text.slice(0, from)}${literal}${text.slice(to)}`
  }
  const around = isInFlow(source, path) ? 'flow' : 'block'
  const own = isScalar(node) ? quoteOf(node.type) : undefined
  return spliceLine(text, from, to, inlineValue(value, own === undefined ? source : { ...source, quote: own }, around))
}

/** A text in quotes keeps them where it needs some. */
function quoteOf(type: unknown): "'" | '"' | undefined {
  return type === 'QUOTE_SINGLE' ? "'" : type === 'QUOTE_DOUBLE' ? '"' : undefined
}

/** Replaces a value by one of another shape: the lines of the entry are written anew. */
function replaceEntry(source: Source, path: Path, value: unknown, style?: 'block'): string | undefined {
  const { text } = source
  const parent = path.length === 1 ? source.root : nodeAt(source, path.slice(0, -1))
  const step = path[path.length - 1]
  if (!isCollection(parent)) return undefined
  const key = isMap(parent) ? pairOf(parent, String(step)) : undefined
  if (isFlow(source, parent as Collection)) {
    const node = nodeAt(source, path)
    const written = inlineValue(value, source, 'flow')
    const from = node?.range?.[0]
    const to = contentEnd(source, node)
    if (node !== null && node !== undefined && from !== undefined && to !== undefined && to > from)
      return spliceLine(text, from, to, written)
    if (key === undefined) return undefined
    const end = pairEnd(source, key)
    return spliceLine(text, end, end, `${text[end - 1] === ':' ? '' : ':'} ${written}`)
  }
  const block = readBlock(source, parent as Collection, outerColumn(source, path.slice(0, -1)))
  if (block === undefined) return undefined
  const index = indexIn(parent as Collection, step)
  const run = block.runs[entryRun(block.runs, index)]
  const first = run.lines.findIndex((line) => !line.trimStart().startsWith('#'))
  const head = isMap(parent) ? `${headText(source, parent as Collection, index)}:` : '-'
  const lines = blockEntry(head, value, block.column, source, undefined)
  const own = style === 'block' && !source.isJson ? headAndLines(head, value, block, source) : lines
  const comment = own.length === 1 || style === 'block' ? commentBehind(source, path) : ''
  const runs = block.runs.map((one) =>
    one === run ? { ...run, lines: [...run.lines.slice(0, first), `${own[0]}${comment}`, ...own.slice(1)] } : one,
  )
  return writeBlock(source, block, runs)
}

/** A section that was empty: its entries on lines of their own. */
function headAndLines(head: string, value: unknown, { column }: Block, source: Source): string[] {
  return [`${' '.repeat(column)}${head}`, ...nestedLines(value, column + 2, source)]
}

/** The comment on the line of a key, with the space before it. */
function commentBehind(source: Source, path: Path): string {
  const parent = path.length === 1 ? source.root : nodeAt(source, path.slice(0, -1))
  const step = path[path.length - 1]
  if (!isCollection(parent)) return ''
  const pair = isMap(parent) ? pairOf(parent, String(step)) : undefined
  const node = nodeAt(source, path)
  const isLine = node === null || isScalar(node) || (isCollection(node) && node.flow === true)
  const from = isLine
    ? pair === undefined
      ? (contentEnd(source, node) ?? 0)
      : pairEnd(source, pair)
    : ((pair?.key as Node | undefined)?.range?.[1] ?? 0) + 1
  return /^[ \t]+#[^\r\n]*/.exec(source.text.slice(from, lineEnd(source.text, from)))?.[0] ?? ''
}

function headText(source: Source, node: Collection, index: number): string {
  if (!isMap(node)) return ''
  const [from, to] = (node.items[index].key as Node).range ?? [0, 0]
  return source.text.slice(from, to)
}

/** A collection that lost its last entry: empty brackets behind its key. */
function emptied(source: Source, path: Path, block: Block, left: readonly Run[]): string | undefined {
  const node = nodeAt(source, path)
  const parent = path.length === 1 ? source.root : nodeAt(source, path.slice(0, -1))
  if (!isCollection(node) || !isCollection(parent) || block.isBehindDash) return undefined
  const written = isMap(node) ? '{}' : '[]'
  const step = path[path.length - 1]
  const place = isMap(parent)
    ? ((pairOf(parent, String(step))?.key as Node | undefined)?.range?.[1] ?? 0) + 1
    : (dashesOf(parent as never)[Number(step)] ?? 0) + 1
  const lines = left.flatMap(({ lines: own }) => own)
  const rest = lines.length === 0 ? '' : `${lines.join(source.newline)}${source.newline}`
  const { text } = source
  const head = spliceLine(text.slice(0, block.from), place, place, ` ${written}`)
  return `${head}${rest}${text.slice(block.to)}`
}

/** The lines of an entry as they are, for a copy: those of comments above it are left out. */
export function entryLines(source: Source, path: Path): string[] | undefined {
  const parent = path.length === 1 ? source.root : nodeAt(source, path.slice(0, -1))
  const index = isCollection(parent) ? indexIn(parent as Collection, path[path.length - 1]) : -1
  if (!isCollection(parent) || index < 0) return undefined
  if (isFlow(source, parent as Collection)) {
    const flow = readFlow(source, parent as Collection)
    return flow === undefined ? undefined : [flow.items[index].core]
  }
  const block = readBlock(source, parent as Collection, outerColumn(source, path.slice(0, -1)))
  const lines = block?.runs[entryRun(block.runs, index)].lines
  return lines?.slice(lines.findIndex((line) => !line.trimStart().startsWith('#')))
}

function inCollection(
  written: string,
  path: Path,
  edit: (source: Source, node: Collection, outer: number) => string | undefined,
): string | undefined {
  const source = readSource(written)
  const node = source === undefined ? undefined : nodeAt(source, path)
  if (source === undefined || !isCollection(node)) return undefined
  const next = edit(source, node as Collection, outerColumn(source, path))
  return next === undefined ? undefined : source.mark + next
}

function entryRun(runs: readonly Run[], index: number): number {
  let seen = -1
  return runs.findIndex(({ is }) => is === 'entry' && ++seen === index)
}

function isFlow({ isJson }: Source, node: Collection): boolean {
  return isJson || node.flow === true
}

function isInFlow(source: Source, path: Path): boolean {
  for (let k = 0; k < path.length; k++) {
    const node = k === 0 ? source.root : nodeAt(source, path.slice(0, k))
    if (isCollection(node) && isFlow(source, node as Collection)) return true
  }
  return false
}

/** The column of the entry that holds a collection; -1 for the whole file. */
function outerColumn(source: Source, path: Path): number {
  if (path.length === 0) return -1
  const parent = path.length === 1 ? source.root : nodeAt(source, path.slice(0, -1))
  const index = isCollection(parent) ? indexIn(parent as Collection, path[path.length - 1]) : -1
  if (!isCollection(parent) || index < 0) return -1
  const offset = isSeq(parent)
    ? dashesOf(parent)[index]
    : ((parent as Collection & { items: { key: Node }[] }).items[index].key.range?.[0] ?? 0)
  return offset === undefined ? -1 : offset - lineStart(source.text, offset)
}

/** A part of the report that has entries of its own, each on a line. */
function isSection(value: unknown): boolean {
  if (Array.isArray(value)) return value.some((item) => typeof item === 'object')
  return typeof value === 'object' && value !== null
}

/** How the entries beside a new one are written. */
function styleOf(node: Collection): 'flow' | 'block' | undefined {
  const values = node.items.map((item) => (isMap(node) ? (item as { value: unknown }).value : item))
  const collections = values.filter(isCollection) as Collection[]
  if (collections.length === 0) return undefined
  const flow = collections.filter((one) => one.flow === true).length
  return flow * 2 >= collections.length ? 'flow' : 'block'
}
