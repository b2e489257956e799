import { isMap, type Node, type Pair } from 'yaml'
import { type Collection, contentEnd, lineStart, pairEnd, type Source } from './source.js'

/** An entry of a collection in brackets with the comments that belong to it. */
export interface FlowItem {
  /** Comments on lines of their own above it, with their white space behind them. */
  lead: string
  core: string
  /** A comment behind its comma on the same line, with the space before it. */
  trail: string
}

/** A collection in brackets: the white space between entries stays in its place. */
export interface Flow {
  items: FlowItem[]
  /** White space before each entry, and before the closing bracket. */
  spaces: string[]
  /** Whether a comma stands behind the last entry. */
  hasLastComma: boolean
  open: string
  close: string
  from: number
  to: number
}

/** Reads a collection in brackets; undefined if something else stands in it. */
export function readFlow(source: Source, node: Collection): Flow | undefined {
  const { text } = source
  const [from = 0, to = 0] = node.range ?? []
  const open = text[from]
  const close = text[to - 1]
  if (!(open === '[' && close === ']') && !(open === '{' && close === '}')) return undefined
  const extents = (node.items as (Pair | Node)[]).map((item) => extentOf(source, node, item))
  if (extents.includes(undefined)) return undefined
  const cores = extents as [number, number][]
  const items: FlowItem[] = []
  const spaces: string[] = []
  let at = from + 1
  let hasLastComma = false
  for (const [start, end] of cores) {
    const gap = gapOf(text.slice(at, start), items.length > 0)
    if (gap === undefined) return undefined
    const last = items.at(-1)
    if (last !== undefined) last.trail = gap.trail
    spaces.push(gap.space)
    items.push({ lead: gap.lead, core: text.slice(start, end), trail: '' })
    at = end
  }
  const rest = text.slice(at, to - 1)
  hasLastComma = items.length > 0 && /^\s*,/.test(rest)
  const gap = gapOf(rest, hasLastComma)
  if (gap === undefined || gap.lead !== '') return undefined
  const last = items.at(-1)
  if (last !== undefined) last.trail = gap.trail
  else if (gap.trail !== '') return undefined
  spaces.push(gap.space)
  return { items, spaces, hasLastComma, open, close, from, to }
}

function extentOf(source: Source, node: Collection, item: Pair | Node): [number, number] | undefined {
  if (isMap(node)) {
    const pair = item as Pair
    const start = (pair.key as Node | null)?.range?.[0]
    return start === undefined ? undefined : [start, pairEnd(source, pair)]
  }
  const value = item as Node | null
  const end = contentEnd(source, value)
  return value?.range == null || end === undefined ? undefined : [value.range[0], end]
}

/** What stands between two entries: a comma, maybe comments, and white space. */
function gapOf(text: string, hasComma: boolean): (Pick<FlowItem, 'lead' | 'trail'> & { space: string }) | undefined {
  const found = hasComma ? /^[ \t]*,([\s\S]*)$/.exec(text) : ['', text]
  if (found === null) return undefined
  const parts = /^((?:[ \t]+#[^\r\n]*)?)([ \t]*(?:\r?\n)?[ \t\r\n]*)((?:#[^\n]*\n\s*)*)$/.exec(found[1])
  if (parts === null) return undefined
  const [, trail, space, lead] = parts
  return { trail, space, lead }
}

/** The text of a collection in brackets. */
export function flowText({ items, spaces, hasLastComma, open, close }: Flow, source: Source): string {
  let out = open
  for (const [i, { lead, core, trail }] of items.entries()) {
    const isLast = i === items.length - 1
    const before = items[i - 1]?.trail ?? ''
    // A comment needs the end of its line.
    const space = before !== '' && !spaces[i].includes('\n') ? `${source.newline}${spaces[i]}` : spaces[i]
    out += `${space}${lead}${core}${isLast && !hasLastComma ? '' : ','}${trail}`
  }
  const last = spaces.at(-1) ?? ''
  const isOpen = (items.at(-1)?.trail ?? '') !== '' && !last.includes('\n')
  return `${out}${isOpen ? source.newline : ''}${last}${close}`
}

/** Puts a new entry into a collection in brackets. */
export function insertInFlow(flow: Flow, core: string, at: number, source: Source): void {
  const { items, spaces } = flow
  const item: FlowItem = { lead: '', core, trail: '' }
  if (items.length === 0) {
    const pad = flow.open === '{' && !spaces[0].includes('\n') ? ' ' : spaces[0]
    flow.items.push(item)
    flow.spaces = [pad, spaces[0].includes('\n') ? outdented(source, flow, spaces[0]) : pad]
    return
  }
  const isLined = spaces[0].includes('\n')
  const alone = isLined ? spaces[0] : ' '
  // An entry put first or last stands on the line of the bracket, so that others keep their lines.
  const beside = items.length > 1 ? spaces[Math.max(1, Math.min(at, items.length - 1))] : alone
  const isBracketed = at === 0 || (at === items.length && !(spaces.at(-1) ?? '').includes('\n'))
  const between = isBracketed && beside.includes('\n') ? alone : beside
  items.splice(at, 0, item)
  // The first space stays the first, and the last the last.
  spaces.splice(at === 0 ? 1 : at, 0, between)
}

/** White space before a closing bracket of an empty collection over several lines. */
function outdented({ text, newline }: Source, { from }: Flow, space: string): string {
  const line = /^[ \t]*/.exec(text.slice(lineStart(text, from)))?.[0] ?? ''
  return space.includes('\n') ? `${newline}${line}` : space
}

/** Takes an entry out of a collection in brackets. */
export function removeFromFlow(flow: Flow, at: number): FlowItem {
  const { items, spaces } = flow
  const [item] = items.splice(at, 1)
  if (items.length === 0) {
    flow.spaces = ['']
    flow.hasLastComma = false
  } else spaces.splice(at === 0 ? 1 : at, 1)
  return item
}
