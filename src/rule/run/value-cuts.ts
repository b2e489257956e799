import type { Bins } from '../../column/order.js'
import { fillPlaced, fillPlacedAndClasses, fillSteps, fillStepsAndClasses, gatherClasses } from './kernels.js'

/**
 * Sorts values into steps: how many of the rising cuts a value reaches. Missing ones have a step of
 * their own, the last.
 */
export interface ValueCuts {
  readonly values: Float64Array
  /** Rising, each once. */
  readonly cuts: Float64Array
  /** One more than there are cuts, and one for missing. */
  readonly count: number
  /** The steps of small stretches of the numbers, -1 where a cut lies in one. */
  readonly grid: Int16Array
  readonly scale: number
  /** The bins that the values are in already: the grid is over these then. */
  readonly places?: Uint16Array
}

/** Stretches between the first cut and the last. */
const BUCKETS = 512

export function createValueCuts(values: Float64Array, cuts: readonly number[], bins?: Bins): ValueCuts {
  const sorted = risingOnce(cuts)
  const count = sorted.length + 2
  if (bins !== undefined) {
    const { lowest, scale, places } = bins
    const last = bins.count - 1
    const grid = gridOf(sorted, bins.count + 1, (cut) => Math.min(last, Math.max(0, (cut - lowest) * scale)) | 0)
    grid[bins.count] = count - 1
    return { values, cuts: sorted, count, grid, scale, places }
  }
  const reach = BUCKETS / (sorted[sorted.length - 1] - sorted[0])
  // One cut, or cuts without end: there are no stretches, and all is compared.
  const scale = Number.isFinite(reach) ? reach : 0
  const grid = gridOf(sorted, BUCKETS + 3, (cut) => stretchOf(cut, sorted[0], scale))
  if (scale === 0) grid.fill(sorted.length === 0 ? 0 : -1)
  return { values, cuts: sorted, count, grid, scale }
}

/**
 * A value is looked up by the stretch that it lies in, which costs the same wherever the cuts are:
 * comparing it with each of them is a guess that goes wrong every other time. The stretch before
 * the first cut and that beyond the last hold none; where one does hold a cut, it is compared after
 * all. Stretches rise with values, rounding or not, so that no cut can lie between two of one
 * stretch unseen.
 */
function gridOf(cuts: Float64Array, length: number, of: (cut: number) => number): Int16Array {
  const grid = new Int16Array(length)
  let step = 0
  let from = 0
  for (const cut of cuts) {
    const stretch = of(cut)
    for (; from < stretch; from++) if (grid[from] >= 0) grid[from] = step
    grid[stretch] = -1
    step++
  }
  for (; from < grid.length; from++) if (grid[from] >= 0) grid[from] = step
  return grid
}

function stretchOf(v: number, first: number, scale: number): number {
  return Math.min(BUCKETS + 2, Math.max(0, (v - first) * scale + 1)) | 0
}

/** Cuts in rising order, each once. */
function risingOnce(cuts: readonly number[]): Float64Array {
  const sorted = new Float64Array(cuts).sort()
  let kept = 0
  for (let i = 0; i < sorted.length; i++) if (i === 0 || sorted[i] !== sorted[kept - 1]) sorted[kept++] = sorted[i]
  return sorted.subarray(0, kept)
}

/** A value of each step: the cut that begins it, one below all cuts, and missing. */
export function representatives({ cuts }: ValueCuts): Float64Array {
  const out = new Float64Array(cuts.length + 2)
  out.set(cuts, 1)
  out[0] = Number.NEGATIVE_INFINITY
  out[out.length - 1] = Number.NaN
  return out
}

/** What each step gives, cell by cell. */
export function spreadSteps(steps: ValueCuts, gives: Int16Array): Int16Array {
  const ids = new Int32Array(steps.values.length)
  stepIds(steps, ids)
  const out = new Int16Array(ids.length)
  gatherClasses(ids, gives, out)
  return out
}

/** The step of each value; gives which steps some value is on. */
export function stepIds({ values, cuts, grid, scale, count, places }: ValueCuts, ids: Int32Array): Uint8Array {
  const met = new Uint8Array(count)
  if (places === undefined) fillSteps(values, cuts, grid, scale, count - 1, ids, met)
  else fillPlaced(values, places, cuts, grid, ids, met)
  return met
}

/**
 * The step of each value together with a class, as one number; gives which of them some cell has.
 */
export function stepAndClassIds(
  { values, cuts, grid, scale, count, places }: ValueCuts,
  classes: Int16Array,
  width: number,
  ids: Int32Array,
): Uint8Array {
  const met = new Uint8Array(count * width)
  if (places === undefined) fillStepsAndClasses(values, cuts, grid, scale, count - 1, classes, width, ids, met)
  else fillPlacedAndClasses(values, places, cuts, grid, classes, width, ids, met)
  return met
}
