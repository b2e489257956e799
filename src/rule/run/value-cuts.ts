import type { Bins } from '../../column/order.js'
import { fillPlaced, fillPlacedAndClasses, fillSteps, fillStepsAndClasses, gatherClasses } from './kernels.js'

/** Sorts values into steps by ascending cuts. Missing values have a step of their own, the last. */
export interface ValueCuts {
  readonly values: Float64Array
  /** Ascending, each once. */
  readonly cuts: Float64Array
  /** One more than there are cuts, and one for missing. */
  readonly count: number
  /** The step of each bucket, -1 if a cut is inside it. */
  readonly grid: Int16Array
  readonly scale: number
  /** The existing bins of the values; the buckets are over these. */
  readonly places?: Uint16Array
}

/** The number of buckets between the first cut and the last. */
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
  // With one cut, or infinite ones, there are no buckets: every value is compared.
  const scale = Number.isFinite(reach) ? reach : 0
  const grid = gridOf(sorted, BUCKETS + 3, (cut) => stretchOf(cut, sorted[0], scale))
  if (scale === 0) grid.fill(sorted.length === 0 ? 0 : -1)
  return { values, cuts: sorted, count, grid, scale }
}

/**
 * Values are mapped to a bucket, then to a step. This takes constant time; comparing with each cut
 * mispredicts half its branches. The buckets before the first cut and after the last contain no
 * cut; in a bucket with a cut the value is compared. Buckets are monotonic under rounding, so no
 * cut can be missed.
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

/** The cuts in ascending order, each once. */
function risingOnce(cuts: readonly number[]): Float64Array {
  const sorted = new Float64Array(cuts).sort()
  let kept = 0
  for (let i = 0; i < sorted.length; i++) if (i === 0 || sorted[i] !== sorted[kept - 1]) sorted[kept++] = sorted[i]
  return sorted.subarray(0, kept)
}

/** A value of each step: the cut where it begins, one below all cuts, and missing. */
export function representatives({ cuts }: ValueCuts): Float64Array {
  const out = new Float64Array(cuts.length + 2)
  out.set(cuts, 1)
  out[0] = Number.NEGATIVE_INFINITY
  out[out.length - 1] = Number.NaN
  return out
}

/** The entry of each cell's step. */
export function spreadSteps(steps: ValueCuts, gives: Int16Array): Int16Array {
  const ids = new Int32Array(steps.values.length)
  stepIds(steps, ids)
  const out = new Int16Array(ids.length)
  gatherClasses(ids, gives, out)
  return out
}

/** The step of each value; returns which steps occur. */
export function stepIds({ values, cuts, grid, scale, count, places }: ValueCuts, ids: Int32Array): Uint8Array {
  const met = new Uint8Array(count)
  if (places === undefined) fillSteps(values, cuts, grid, scale, count - 1, ids, met)
  else fillPlaced(values, places, cuts, grid, ids, met)
  return met
}

/** The step of each value combined with a class, as one number; returns which of them occur. */
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
