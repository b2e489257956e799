import { isScalar, type Node, type Scalar } from 'yaml'
import { spliceLine } from './comments.js'
import { contentEnd, type Source } from './source.js'

/**
 * Replaces a part of a text where it stands in the file, so that quotes, folds and line ends of the
 * rest stay. The characters of the value and of its source are walked together.
 *
 * @returns undefined where the part has no place of its own, such as a fold.
 */
export function spliceScalar(source: Source, node: Node | null | undefined, next: string): string | undefined {
  if (!isScalar(node) || typeof node.value !== 'string' || node.range == null) return undefined
  const value = node.value
  const { from, to } = changedPart(value, next)
  const places = placesOf(source, node, value)
  if (places === undefined) return undefined
  const inserted = next.slice(from, next.length - (value.length - to))
  // Beside a fold the place is behind the character before it.
  const placeOf = (i: number): number =>
    i === value.length ? places.end : places.at[i] < 0 ? (places.ends[i - 1] ?? -1) : places.at[i]
  const start = placeOf(from)
  const stop = placeOf(to)
  if (start < 0 || stop < start) return undefined
  const written = node.type === 'QUOTE_SINGLE' ? inserted.replaceAll("'", "''") : inserted
  if (node.type === 'QUOTE_DOUBLE' && /["\\]/.test(inserted)) return undefined
  if (/[\r\n]/.test(inserted)) return undefined
  return spliceLine(source.text, start, stop, written)
}

/** The part in which two texts differ, grown to whole words. */
function changedPart(value: string, next: string): { from: number; to: number } {
  let from = 0
  while (from < value.length && from < next.length && value[from] === next[from]) from++
  let tail = 0
  while (tail < value.length - from && tail < next.length - from && value.at(-1 - tail) === next.at(-1 - tail)) tail++
  return { from, to: value.length - tail }
}

/** Where each character of a text begins and ends in the file; -1 where it is a fold. */
function placesOf(
  source: Source,
  node: Scalar,
  value: string,
): { at: number[]; ends: number[]; end: number } | undefined {
  const { text } = source
  const type = node.type ?? 'PLAIN'
  const isQuoted = type === 'QUOTE_SINGLE' || type === 'QUOTE_DOUBLE'
  const begin = node.range?.[0] ?? 0
  const stop = contentEnd(source, node) ?? begin
  let at = isQuoted ? begin + 1 : begin
  const end = isQuoted ? stop - 1 : stop
  if (type === 'BLOCK_FOLDED' || type === 'BLOCK_LITERAL') at = text.indexOf('\n', begin) + 1
  const places: number[] = []
  const ends: number[] = []
  for (const c of value) {
    if (/\s/.test(c)) {
      // One space on a line is itself; anything else is a fold.
      const isItself =
        c === ' ' && text[at] === ' ' && !/\s/.test(text[at + 1] ?? ' ') && !/\s/.test(text[at - 1] ?? ' ')
      places.push(isItself ? at : -1)
      ends.push(isItself ? at + 1 : -1)
      while (at < end && /\s/.test(text[at])) at++
      continue
    }
    while (at < end && /\s/.test(text[at])) at++
    for (let k = 0; k < c.length; k++) places.push(at + k)
    if (text.slice(at, at + c.length) !== c) return undefined
    at += c.length
    if (type === 'QUOTE_SINGLE' && c === "'") at++
    while (ends.length < places.length) ends.push(at)
  }
  return at <= end || value === '' ? { at: places, ends, end } : undefined
}
