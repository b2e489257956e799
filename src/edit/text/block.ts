import { isMap, type Node } from 'yaml'
import { type Collection, contentEnd, dashesOf, lineEnd, lineStart, pairEnd, type Source } from './source.js'

/**
 * Lines of a block collection: entries with the comments that belong to them, comments that belong
 * to none, and blank lines, which belong to places.
 */
export interface Run {
  is: 'entry' | 'float' | 'blank'
  /** With their indentation, without line ends. */
  lines: string[]
}

/** A block collection as runs of lines. */
export interface Block {
  /** The column of its keys or dashes. */
  column: number
  runs: Run[]
  /** The part of the text that the runs are. */
  from: number
  to: number
  /** Whether the first entry stands behind a dash of an outer list: `- name: x`. */
  isBehindDash: boolean
}

/** The place of an entry: where its key or dash is, and where its last line ends. */
interface Extent {
  at: number
  end: number
}

/** Reads a block collection as runs; undefined if its lines are not its own. */
export function readBlock(source: Source, node: Collection, outerColumn: number): Block | undefined {
  const { text } = source
  const extents = extentsOf(source, node)
  if (extents === undefined || extents.length === 0) return undefined
  const first = extents[0].at
  const column = first - lineStart(text, first)
  const before = text.slice(lineStart(text, first), first)
  const isBehindDash = before.trim() !== ''
  // Only dashes may stand before the first entry, and nothing before the others.
  if (isBehindDash && !/^[\s-]*$/.test(before)) return undefined
  if (extents.slice(1).some(({ at }) => text.slice(lineStart(text, at), at).trim() !== '')) return undefined
  const ends = extents.map(({ end }) => bodyEnd(text, end, column))
  const runs: Run[] = []
  let from = isBehindDash ? first : aboveFirst(text, first)
  const start = from
  for (const [i, { at }] of extents.entries()) {
    const own = i === 0 && isBehindDash ? at : lineStart(text, at)
    const gap = gapRuns(text.slice(from, own), from === 0)
    const lead = gap.lead
    runs.push(...gap.runs)
    const body = linesOf(text.slice(own, ends[i]))
    if (i === 0 && isBehindDash) body[0] = `${' '.repeat(column)}${body[0]}`
    runs.push({ is: 'entry', lines: [...lead, ...body] })
    from = ends[i]
  }
  const to = commentsEnd(text, from, outerColumn)
  const tail = gapRuns(text.slice(from, to), false, true)
  runs.push(...tail.runs)
  return { column, runs, from: start, to, isBehindDash }
}

function extentsOf(source: Source, node: Collection): Extent[] | undefined {
  if (isMap(node)) {
    const extents = node.items.map((pair) => ({
      at: (pair.key as Node | null)?.range?.[0] ?? -1,
      end: pairEnd(source, pair),
    }))
    // Keys in the long form, with anchors or tags are left alone.
    return extents.every(({ at }) => at >= 0) ? extents : undefined
  }
  const dashes = dashesOf(node)
  if (dashes.length !== node.items.length) return undefined
  return node.items.map((item, i) => ({
    at: dashes[i],
    end: Math.max(contentEnd(source, item as Node | null) ?? 0, dashes[i] + 1),
  }))
}

/** Where the lines above the first entry begin: behind the line of the key above. */
function aboveFirst(text: string, first: number): number {
  let start = lineStart(text, first)
  while (start > 0) {
    const above = lineStart(text, start - 1)
    const line = text.slice(above, start)
    if (line.trim() !== '' && !/^\s*#/.test(line)) return start
    start = above
  }
  return 0
}

/** The end of the lines of an entry, with comments below it that are indented deeper. */
function bodyEnd(text: string, end: number, column: number): number {
  return commentsEnd(text, end > 0 && text[end - 1] === '\n' ? end : lineEnd(text, end), column)
}

/** The end of the comments from a line on that are indented deeper than a column. */
function commentsEnd(text: string, from: number, column: number): number {
  let own = from
  for (let next = from; next < text.length; ) {
    const stop = lineEnd(text, next)
    const line = text.slice(next, stop)
    const indent = /^[ \t]*/.exec(line)?.[0].length ?? 0
    if (line.trim() !== '' && (line.trimStart()[0] !== '#' || indent <= column)) break
    if (line.trim() !== '') own = stop
    next = stop
  }
  return own
}

/**
 * The runs between two entries. The comment block directly above an entry is its own, except one in
 * the first line of the file.
 */
function gapRuns(text: string, isFileStart: boolean, isTail = false): { runs: Run[]; lead: string[] } {
  const runs: Run[] = []
  for (const line of linesOf(text)) {
    const is = line.trim() === '' ? 'blank' : 'float'
    const last = runs.at(-1)
    if (last?.is === is) last.lines.push(line)
    else runs.push({ is, lines: [line] })
  }
  const last = runs.at(-1)
  const isOwn = !isTail && last?.is === 'float' && !(isFileStart && runs.length === 1)
  return isOwn ? { runs: runs.slice(0, -1), lead: last.lines } : { runs, lead: [] }
}

/** Lines without their ends; a text that ends with one has no further line. */
export function linesOf(text: string): string[] {
  if (text === '') return []
  const lines = text.split(/\r?\n/)
  if (lines.at(-1) === '') lines.pop()
  return lines
}

/** The text with other runs in place of those of a block. */
export function writeBlock(source: Source, block: Block, runs: readonly Run[]): string {
  const { text, newline } = source
  const lines = runs.flatMap((run) => run.lines)
  // The last line of the file may have no end.
  const isOpen = block.to === text.length && !text.endsWith('\n')
  let start = text.slice(0, block.from)
  if (block.isBehindDash) {
    const [first = ''] = lines
    if (first.trimStart().startsWith('#')) start = `${start.trimEnd()}${newline}`
    else lines[0] = first.slice(block.column)
  }
  const end = isOpen || lines.length === 0 ? '' : newline
  return `${start}${lines.join(newline)}${end}${text.slice(block.to)}`
}

/** Whether most neighbours have a blank line between them. */
export function isSpaced({ runs }: Block): boolean {
  const entries = runs.flatMap((run, i) => (run.is === 'entry' ? [i] : []))
  let spaced = 0
  for (let i = 1; i < entries.length; i++)
    if (runs.slice(entries[i - 1], entries[i]).some(({ is }) => is === 'blank')) spaced++
  return spaced * 2 > entries.length - 1
}
