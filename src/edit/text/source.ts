import { isMap, isScalar, isSeq, type Node, type Pair, type YAMLMap, type YAMLSeq } from 'yaml'
import { parsedYaml } from '../../file/parsed.js'
import type { Path } from '../../problem/problem.js'

/** The text of a report file with its tree, as edits need it. */
export interface Source {
  /** Without a byte-order mark. */
  text: string
  /** The byte-order mark, if the text begins with one. */
  mark: string
  root: YAMLMap
  newline: '\n' | '\r\n'
  /** Whether it is JSON: every text and key in double quotes. */
  isJson: boolean
  /** The quote that most quoted texts of the file have. */
  quote: "'" | '"'
}

/** A block or flow collection. */
export type Collection = YAMLMap | YAMLSeq

const BYTE_ORDER_MARK = '\uFEFF'

/** Reads a text for edits; undefined if it is no map in YAML or JSON, or a broken one. */
export function readSource(written: string): Source | undefined {
  const mark = written.startsWith(BYTE_ORDER_MARK) ? BYTE_ORDER_MARK : ''
  const text = written.slice(mark.length)
  const { doc } = parsedYaml(text)
  if (doc.errors.length > 0 || !isMap(doc.contents)) return undefined
  const root = doc.contents as YAMLMap
  const isJson = root.flow === true && /^\s*\{/.test(text)
  // Apostrophes inside plain words are no quotes.
  const single = text.match(/[:,[{-] *'/g)?.length ?? 0
  const double = text.match(/[:,[{-] *"/g)?.length ?? 0
  return {
    text,
    mark,
    root,
    newline: /\r\n/.test(text) ? '\r\n' : '\n',
    isJson,
    quote: isJson || double > single ? '"' : "'",
  }
}

/** The tree of a text as plain values; undefined if it is no map, or a broken text. */
export function plainTree(written: string): Record<string, unknown> | undefined {
  const { doc } = parsedYaml(written.replace(/^\uFEFF/, ''))
  if (doc.errors.length > 0) return undefined
  const tree: unknown = doc.toJS({ maxAliasCount: 0 })
  return typeof tree === 'object' && tree !== null && !Array.isArray(tree)
    ? (tree as Record<string, unknown>)
    : undefined
}

/** The node at a path; null is an entry without a value, undefined no entry. */
export function nodeAt({ root }: Source, path: Path): Node | null | undefined {
  let node: Node | null | undefined = root
  for (const step of path) {
    if (isMap(node)) {
      const pair = pairOf(node, String(step))
      if (pair === undefined) return undefined
      node = pair.value as Node | null
    } else if (isSeq(node)) {
      if (typeof step !== 'number' || step < 0 || step >= node.items.length) return undefined
      node = node.items[step] as Node | null
    } else return undefined
  }
  return node
}

export function pairOf(map: YAMLMap, key: string): Pair | undefined {
  return map.items.find((pair) => isScalar(pair.key) && String(pair.key.value) === key)
}

/** The index of an entry of a collection; -1 if there is none. */
export function indexIn(collection: Collection, step: string | number): number {
  if (isMap(collection))
    return collection.items.findIndex((pair) => isScalar(pair.key) && String(pair.key.value) === String(step))
  return typeof step === 'number' && step >= 0 && step < collection.items.length ? step : -1
}

export function lineStart(text: string, offset: number): number {
  return text.lastIndexOf('\n', offset - 1) + 1
}

/** The end of the line of an offset, behind its line end. */
export function lineEnd(text: string, offset: number): number {
  const end = text.indexOf('\n', offset)
  return end < 0 ? text.length : end + 1
}

/** Where what is written of a node ends: without white space and comments behind it. */
export function contentEnd(source: Source, node: Node | null | undefined): number | undefined {
  if (node === null || node === undefined) return undefined
  if (isMap(node) && node.flow !== true) {
    const last = node.items.at(-1)
    return last === undefined ? node.range?.[1] : pairEnd(source, last)
  }
  if (isSeq(node) && node.flow !== true) {
    const last = node.items.at(-1) as Node | null | undefined
    return contentEnd(source, last) ?? lastDashEnd(node)
  }
  if (isScalar(node) && (node.type === 'BLOCK_LITERAL' || node.type === 'BLOCK_FOLDED')) {
    const end = node.range?.[1] ?? 0
    // Blank lines behind the block belong to it only where it keeps them.
    const header = source.text.slice(node.range?.[0] ?? 0, lineEnd(source.text, node.range?.[0] ?? 0))
    return /^[|>]\d?\+/.test(header) ? end : trimmedEnd(source.text, node.range?.[0] ?? 0, end)
  }
  return node.range?.[1]
}

export function pairEnd(source: Source, { key, value }: Pair): number {
  const own = contentEnd(source, value as Node | null)
  const from = (key as Node).range?.[1] ?? 0
  // An entry without a value ends behind its colon.
  if (own === undefined || own <= from) {
    const colon = /^\s*:/.exec(source.text.slice(from, from + 200))
    return from + (colon?.[0].length ?? 0)
  }
  return own
}

function trimmedEnd(text: string, from: number, to: number): number {
  return from + text.slice(from, to).trimEnd().length
}

/** Block lists have a token for each dash. */
interface SequenceToken {
  items: readonly { start: readonly { type: string; offset: number; source: string }[] }[]
}

/** The offset of the dash of each entry. */
export function dashesOf(seq: YAMLSeq): number[] {
  const token = seq.srcToken as unknown as SequenceToken | undefined
  return (token?.items ?? []).flatMap(({ start }) =>
    start.filter(({ type }) => type === 'seq-item-ind').map(({ offset }) => offset),
  )
}

function lastDashEnd(seq: YAMLSeq): number | undefined {
  const last = dashesOf(seq).at(-1)
  return last === undefined ? seq.range?.[1] : last + 1
}
