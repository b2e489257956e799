import type { CellStyle } from './cell-style.js'
import { PLAIN_STYLE } from './cell-style.js'

/**
 * The ends of bars across their cells, 0 to 1; NaN for a cell without one. A bar beyond the ends of
 * its scale begins at `BEYOND_LOW` or ends at `BEYOND_HIGH`.
 */
export interface Extents {
  from: Float32Array
  to: Float32Array
}

/**
 * The styles of the cells of one column: a small number for each cell, an index into the distinct
 * styles. Equal cells share an entry, so drawing, writing and explaining happen once for each
 * style.
 */
export interface Painted {
  ids: Int32Array
  styles: readonly CellStyle[]
  /** Present if some cell has a bar. */
  bars?: Extents
  /** Whether ids are the steps of the values alone (`rule/run/value-cuts.ts`). */
  stepped?: true
}

/** The painted columns of a table. Columns without a rule are not in it. */
export type Painting = ReadonlyMap<string, Painted>

export function styleOf(painting: Painting, column: string, cell: number): CellStyle {
  const painted = painting.get(column)
  return painted === undefined ? PLAIN_STYLE : painted.styles[painted.ids[cell]]
}

export const BEYOND_LOW = -1
export const BEYOND_HIGH = 2

/**
 * The position of a value between the ends of its scale, 0 to 1, or beyond one of them; a
 * difference in the last digits is ignored.
 */
export function placeBeyond(t: number): number {
  if (t > 1) return t > 1 + 1e-9 ? BEYOND_HIGH : 1
  return t < 0 ? (t < -1e-9 ? BEYOND_LOW : 0) : t
}

/** The bar of a cell. */
export interface Bar {
  /** 0 to 1 across the cell, `from` below `to`. */
  from: number
  to: number
  /** The pigment or colour as written. */
  color: string
  finish: 'solid' | 'fading'
  /** The end of the scale that its value exceeds; left out if it does not. */
  beyond?: 'low' | 'high'
}

/** The bar of a cell, null without one; positions have four digits. */
export function barOf(painting: Painting, column: string, cell: number): Bar | null {
  const painted = painting.get(column)
  const style = painted?.styles[painted.ids[cell]].bar
  if (painted?.bars === undefined || style == null) return null
  const { name, finish } = style
  return { ...extentOf(painted.bars.from[cell], painted.bars.to[cell]), color: name, finish }
}

/** The ends of a bar with four digits, and the end of the scale that it exceeds. */
export function extentOf(from: number, to: number): Pick<Bar, 'from' | 'to' | 'beyond'> {
  const extent = { from: readExtent(Math.max(0, from)), to: readExtent(Math.min(1, to)) }
  if (to === BEYOND_HIGH) return { ...extent, beyond: 'high' }
  return from === BEYOND_LOW ? { ...extent, beyond: 'low' } : extent
}

function readExtent(end: number): number {
  return Math.round(end * 10000) / 10000
}

/** The cells of a measure by status; undefined for a measure without paint. */
export function countStatuses(painting: Painting, measure: string): Map<string, number> | undefined {
  const painted = painting.get(measure)
  if (painted === undefined) return undefined
  const counts = new Map<string, number>()
  const shown = countIds(painted)
  painted.styles.forEach(({ status }, id) => {
    if (status !== null) counts.set(status, (counts.get(status) ?? 0) + shown[id])
  })
  return counts
}

/** Strip, legends and styles in use all count the cells of a painting, which never change. */
const COUNTED = new WeakMap<Painted, Int32Array>()

/** How many cells have each style, by its index. */
export function countIds(painted: Painted): Int32Array {
  const known = COUNTED.get(painted)
  if (known !== undefined) return known
  const counts = new Int32Array(painted.styles.length)
  addIds(painted.ids, counts)
  COUNTED.set(painted, counts)
  return counts
}

/** A loop of its own: compiled once for all paintings. */
function addIds(ids: Int32Array, counts: Int32Array): void {
  for (let i = 0; i < ids.length; i++) counts[ids[i]]++
}
