import { ProblemError, problem } from '../problem/problem.js'

/** Limits beyond any sales table, against mistakes and attacks; `noLimit` lifts them. */
export const MAX_COLUMNS = 10_000
/** The most cells of one CSV line: the most columns. */
export const MAX_CELLS = 1_000_000
/** The deepest nesting of JSON. */
const MAX_JSON_DEPTH = 100

/** @throws ProblemError if there are more columns. */
export function checkColumns(count: number, noLimit: boolean | undefined, place: object = {}): void {
  if (noLimit !== true && count > MAX_COLUMNS)
    throw new ProblemError([problem('too-many-columns', { count, most: MAX_COLUMNS }, place)])
}

/**
 * @throws ProblemError at the first line with more cells, before they are created: only a line of
 * that many characters can have them.
 */
export function checkLines(text: string, noLimit: boolean | undefined, place: object = {}): void {
  if (noLimit === true || text.length <= MAX_CELLS) return
  let line = 1
  for (let from = 0; from < text.length; line++) {
    const end = text.indexOf('\n', from)
    const to = end < 0 ? text.length : end
    const cells = to - from > MAX_CELLS ? 1 + separatorsIn(text, from, to) : 0
    if (cells > MAX_CELLS)
      throw new ProblemError([problem('too-many-cells', { cells, most: MAX_CELLS }, { ...place, line })])
    from = to + 1
  }
}

/** The count of the most frequent separator in a line. */
function separatorsIn(text: string, from: number, to: number): number {
  const counts = [0, 0, 0, 0]
  for (let i = from; i < to; i++) {
    const c = text.charCodeAt(i)
    if (c === 44) counts[0]++
    else if (c === 59) counts[1]++
    else if (c === 9) counts[2]++
    else if (c === 124) counts[3]++
  }
  return Math.max(...counts)
}

/** @throws ProblemError if brackets nest too deeply. */
export function checkDepth(text: string, noLimit: boolean | undefined, place: object = {}): void {
  if (noLimit === true) return
  let depth = 0
  let isText = false
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (c === 34) isText = !isText
    else if (c === 92 && isText) i++
    else if (isText) continue
    else if (c === 91 || c === 123) {
      if (++depth > MAX_JSON_DEPTH) throw new ProblemError([problem('json-too-deep', { most: MAX_JSON_DEPTH }, place)])
    } else if (c === 93 || c === 125) depth--
  }
}
