import type { CellStyle } from './cell-style.js'
import { PLAIN_STYLE } from './cell-style.js'

/**
 * Where bars begin and end across their cells, 0 to 1; NaN where a cell has none. One that runs
 * beyond the ends of its scale has `BEYOND_LOW` as its begin or `BEYOND_HIGH` as its end.
 */
export interface Extents {
  from: Float32Array
  to: Float32Array
}

/**
 * How the cells of one column look: a small number a cell into a list of distinct looks. Cells that
 * look alike share one entry, so what is drawn, written or explained is worked out once a look.
 */
export interface Painted {
  ids: Int32Array
  styles: readonly CellStyle[]
  /** There where some cell has a bar. */
  bars?: Extents
}

/** The painted columns of a table. Columns that no rule reached are not in it. */
export type Painting = ReadonlyMap<string, Painted>

export function styleOf(painting: Painting, column: string, cell: number): CellStyle {
  const painted = painting.get(column)
  return painted === undefined ? PLAIN_STYLE : painted.styles[painted.ids[cell]]
}

export const BEYOND_LOW = -1
export const BEYOND_HIGH = 2

/**
 * Where a value lies between the ends of its scale, 0 to 1, or beyond one of them; what differs in
 * the last digits lies on the end.
 */
export function placeBeyond(t: number): number {
  if (t > 1) return t > 1 + 1e-9 ? BEYOND_HIGH : 1
  return t < 0 ? (t < -1e-9 ? BEYOND_LOW : 0) : t
}

/** A bar as it is drawn across its cell. */
export interface Bar {
  /** 0 to 1 across the cell, `from` below `to`. */
  from: number
  to: number
  /** The pigment or colour as its writer named it. */
  color: string
  finish: 'solid' | 'fading'
  /** The end of the scale that its value lies beyond; left out where it lies on the scale. */
  beyond?: 'low' | 'high'
}

/** The bar of a cell, null where it has none; places are told to four digits. */
export function barOf(painting: Painting, column: string, cell: number): Bar | null {
  const painted = painting.get(column)
  const style = painted?.styles[painted.ids[cell]].bar
  if (painted?.bars === undefined || style == null) return null
  const { name, finish } = style
  return { ...extentOf(painted.bars.from[cell], painted.bars.to[cell]), color: name, finish }
}

/** The ends of a bar to four digits, with the end of the scale that it runs beyond. */
export function extentOf(from: number, to: number): Pick<Bar, 'from' | 'to' | 'beyond'> {
  const own = { from: readExtent(Math.max(0, from)), to: readExtent(Math.min(1, to)) }
  if (to === BEYOND_HIGH) return { ...own, beyond: 'high' }
  return from === BEYOND_LOW ? { ...own, beyond: 'low' } : own
}

function readExtent(end: number): number {
  return Math.round(end * 10000) / 10000
}
