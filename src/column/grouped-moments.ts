import type { Coded } from './group.js'
import { keepDated, type Moments } from './moments.js'
import { pickNumbers } from './pick.js'
import { described, MAX_SLOTS, once, type Slots, slotsOfRows } from './slots.js'

/**
 * Groups rows by one or two codes and sums a column in the same scan: one pass over memory instead
 * of three for the most common question. The sums are those of `addRows`, to the last bit.
 * Undefined where it does not apply.
 */
export function placeAndSum(
  keys: readonly Coded[],
  values: Float64Array,
): { placed: Slots; sums: Pick<Moments, 'count' | 'sum' | 'rest'> } | undefined {
  const size = keys.reduce((product, key) => product * (key.size + 1), 1)
  if (keys.length < 1 || keys.length > 2 || size > MAX_SLOTS) return undefined
  const length = values.length
  const rows = new Float64Array(size)
  const count = new Float64Array(size)
  const sum = new Float64Array(size)
  const rest = new Float64Array(size)
  const [outer, inner] = keys
  sumBySlot(
    outer.codes,
    inner === undefined ? new Int32Array(0) : inner.codes,
    inner === undefined ? 1 : inner.size + 1,
    values,
    rows,
    count,
    sum,
    rest,
  )
  const widths = keys.map((key) => key.size + 1)
  return {
    placed: described(
      once(() => slotsOfRows(keys, length)),
      rows,
      widths,
    ),
    sums: { count, sum, rest },
  }
}

/**
 * The scan of `placeAndSum`, a function of its own: only arrays go in, so that what is compiled for
 * it stays valid when other columns come along.
 */
function sumBySlot(
  outer: Int32Array,
  inner: Int32Array,
  width: number,
  values: Float64Array,
  rows: Float64Array,
  count: Float64Array,
  sum: Float64Array,
  rest: Float64Array,
): void {
  for (let i = 0; i < values.length; i++) {
    const slot = width === 1 ? outer[i] + 1 : (outer[i] + 1) * width + inner[i] + 1
    rows[slot]++
    const x = values[i]
    if (Number.isNaN(x)) continue
    count[slot]++
    const s = sum[slot]
    const t = s + x
    rest[slot] += Math.abs(s) >= Math.abs(x) ? s - t + x : x - t + s
    sum[slot] = t
  }
}

/** The moments of some groups, in their order. */
export function pickMoments(m: Moments, groups: Int32Array): Moments {
  const picked = (list: Float64Array): Float64Array => (list.length === 0 ? list : pickNumbers(list, groups))
  return {
    count: picked(m.count),
    sum: picked(m.sum),
    rest: picked(m.rest),
    mean: picked(m.mean),
    squares: picked(m.squares),
    lowest: picked(m.lowest),
    highest: picked(m.highest),
    day: picked(m.day),
    dated: picked(m.dated),
  }
}

/**
 * Adds every row with a date and a value to the first or last of its group; `days` are the dates.
 */
export function addDated(
  m: Moments,
  values: Float64Array,
  groups: Int32Array,
  which: 'first' | 'last',
  days: Float64Array | undefined,
): void {
  if (days === undefined) return
  for (let i = 0; i < groups.length; i++) {
    const g = groups[i]
    if (g < 0 || Number.isNaN(values[i]) || Number.isNaN(days[i])) continue
    m.count[g]++
    keepDated(m, g, days[i], values[i], which)
  }
}
