import type { Look } from './look.js'
import { PLAIN_LOOK } from './look.js'

/**
 * How the cells of one column look: a small number a cell into a list of distinct looks.
 * Cells that look alike share one entry, so what is drawn, written or explained is worked out once a look.
 */
export interface Painted {
  ids: Int32Array
  looks: readonly Look[]
}

/** The painted columns of a table. Columns that no rule reached are not in it. */
export type Painting = ReadonlyMap<string, Painted>

export function lookOf(painting: Painting, column: string, cell: number): Look {
  const painted = painting.get(column)
  return painted === undefined ? PLAIN_LOOK : painted.looks[painted.ids[cell]]
}
