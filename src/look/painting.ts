import type { Look } from './look.js'
import { PLAIN_LOOK } from './look.js'

/** Where bars begin and end across their cells, 0 to 1; NaN where a cell has none. */
export interface Extents {
  from: Float32Array
  to: Float32Array
}

/**
 * How the cells of one column look: a small number a cell into a list of distinct looks.
 * Cells that look alike share one entry, so what is drawn, written or explained is worked out once a look.
 */
export interface Painted {
  ids: Int32Array
  looks: readonly Look[]
  /** There where some cell has a bar. */
  bars?: Extents
}

/** The painted columns of a table. Columns that no rule reached are not in it. */
export type Painting = ReadonlyMap<string, Painted>

export function lookOf(painting: Painting, column: string, cell: number): Look {
  const painted = painting.get(column)
  return painted === undefined ? PLAIN_LOOK : painted.looks[painted.ids[cell]]
}

/** A bar as it is drawn across its cell. */
export interface Bar {
  /** 0 to 1 across the cell, `from` below `to`. */
  from: number
  to: number
  wash: string
  finish: 'solid' | 'fading'
}

/** The bar of a cell, null where it has none; places are told to four digits. */
export function barOf(painting: Painting, column: string, cell: number): Bar | null {
  const painted = painting.get(column)
  const style = painted?.looks[painted.ids[cell]].bar
  if (painted?.bars === undefined || style == null) return null
  const { wash, finish } = style
  return { from: placed(painted.bars.from[cell]), to: placed(painted.bars.to[cell]), wash, finish }
}

/** An end of a bar to four digits. */
export function placed(end: number): number {
  return Math.round(end * 10000) / 10000
}
