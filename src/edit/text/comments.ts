import { lineEnd, lineStart } from './source.js'

/** The offset of the comment of a line, from a place on; -1 if it has none. */
function commentAt(text: string, from: number): number {
  const end = lineEnd(text, from)
  let quote = ''
  for (let i = from; i < end; i++) {
    const c = text[i]
    if (quote !== '') {
      if (c === quote) quote = ''
    } else if ((c === '"' || c === "'") && /[\s,[{:(]/.test(text[i - 1] ?? ' ')) quote = c
    else if (c === '#' && /\s/.test(text[i - 1] ?? '')) return i
  }
  return -1
}

/** The column of the comment behind what a line holds; -1 if it has none. */
function commentColumn(text: string, start: number): number {
  const at = commentAt(text, start)
  if (at < 0 || text.slice(start, at).trim() === '') return -1
  return at - start
}

/**
 * Replaces a part of a line. A comment behind it keeps its column where a neighbouring line has one
 * there, too, and two spaces remain; else it keeps its distance.
 */
export function spliceLine(text: string, from: number, to: number, written: string): string {
  const plain = `${text.slice(0, from)}${written}${text.slice(to)}`
  const start = lineStart(text, from)
  const comment = text.slice(from, to).includes('\n') || written.includes('\n') ? -1 : commentAt(text, to)
  if (comment < 0) return plain
  const column = comment - start
  const above = start === 0 ? -1 : commentColumn(text, lineStart(text, start - 1))
  const next = lineEnd(text, from)
  const below = next >= text.length ? -1 : commentColumn(text, next)
  if (above !== column && below !== column) return plain
  const gapStart = text.slice(0, comment).trimEnd().length
  const shift = written.length - (to - from)
  const gap = column - (gapStart + shift - start)
  if (gap < 2) return plain
  return `${text.slice(0, from)}${written}${text.slice(to, gapStart)}${' '.repeat(gap)}${text.slice(comment)}`
}
