import { ProblemError, problem } from '../problem/problem.js'

/** What is more than any table of sales has, and is a mistake or an attack; `noLimit` lifts it. */
export const MOST_COLUMNS = 10_000
/** The longest line of a CSV file, in characters. */
export const LONGEST_LINE = 4_000_000
/** How deep JSON may nest. */
const DEEPEST_JSON = 100

/** @throws ProblemError where there are more columns. */
export function checkColumns(count: number, noLimit: boolean | undefined, place: object = {}): void {
  if (noLimit !== true && count > MOST_COLUMNS)
    throw new ProblemError([problem('too-many-columns', { count, most: MOST_COLUMNS }, place)])
}

/** @throws ProblemError at the first line that is longer, before its cells are counted. */
export function checkLines(text: string, noLimit: boolean | undefined, place: object = {}): void {
  if (noLimit === true || text.length <= LONGEST_LINE) return
  let line = 1
  for (let from = 0; from < text.length; line++) {
    const end = text.indexOf('\n', from)
    const to = end < 0 ? text.length : end
    if (to - from > LONGEST_LINE)
      throw new ProblemError([
        problem('line-too-long', { characters: to - from, most: LONGEST_LINE }, { ...place, line }),
      ])
    from = to + 1
  }
}

/** @throws ProblemError where brackets nest too deeply. */
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
      if (++depth > DEEPEST_JSON) throw new ProblemError([problem('json-too-deep', { most: DEEPEST_JSON }, place)])
    } else if (c === 93 || c === 125) depth--
  }
}
