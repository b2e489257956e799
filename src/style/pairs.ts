import type { CellStyle } from './cell-style.js'
import type { Painted } from './painting.js'

/**
 * Two paintings of the same cells have few styles: each pair of them is compared once, and cells
 * look their pair up.
 */
export interface StylePairs {
  /** What the comparison gave for old style `i` and new style `k`, at `i * width + k`. */
  table: Uint8Array
  width: number
}

/** More pairs than these are as many as cells, and compared where they occur. */
const MOST_PAIRS = 1 << 16

/** Compares all pairs; undefined where there are too many. `compare` gives a number below 256. */
export function comparePairs(
  was: readonly CellStyle[],
  is: readonly CellStyle[],
  compare: (was: CellStyle, is: CellStyle) => number,
): StylePairs | undefined {
  if (was.length * is.length > MOST_PAIRS) return undefined
  const table = new Uint8Array(was.length * is.length)
  for (let i = 0; i < table.length; i++) table[i] = compare(was[Math.floor(i / is.length)], is[i % is.length])
  return { table, width: is.length }
}

/** Counts the cells by what their pair gave. A function of its own: it is compiled once for all. */
export function countPairs(was: Int32Array, is: Int32Array, { table, width }: StylePairs, counts: Float64Array): void {
  for (let i = 0; i < is.length; i++) counts[table[was[i] * width + is[i]]]++
}

/** Marks rows by what the pairs of one of their cells gave; cells are `step` apart. */
export function markPairs(
  was: Int32Array,
  is: Int32Array,
  { table, width }: StylePairs,
  first: number,
  step: number,
  marked: Uint8Array,
): void {
  for (let row = 0, at = first; row < marked.length; row++, at += step) marked[row] |= table[was[at] * width + is[at]]
}

/**
 * Finds what the pair of each cell of a column gave, into `found`, which has `columns` cells for
 * each row. `details` has the place of each row among the painted cells, -1 for one to leave out.
 */
export function findPairs(
  was: Int32Array,
  is: Int32Array,
  { table, width: pairs }: StylePairs,
  { details, width, node }: { details: Int32Array; width: number; node: number },
  found: Uint8Array,
  column: number,
  columns: number,
): void {
  for (let row = 0, into = column; row < details.length; row++, into += columns) {
    const at = details[row] * width + node
    if (details[row] >= 0) found[into] = table[was[at] * pairs + is[at]]
  }
}

/** Whether the bars of a cell have the same ends. */
export function sameEnds(was: Painted['bars'], is: Painted['bars'], at: number): boolean {
  return was === is || (Object.is(was?.from[at], is?.from[at]) && Object.is(was?.to[at], is?.to[at]))
}
