import { isCounting } from './pick.js'

/**
 * Statistics of a set of numbers that are computed in one pass and merge, so that every level of
 * totals is computed from the finest one. `sum + rest` is the compensated sum (Neumaier 1974);
 * `mean` and `squares` (squared distance from the mean) merge after Chan, Golub and LeVeque (1979).
 */
export interface Moments {
  count: Float64Array
  sum: Float64Array
  rest: Float64Array
  mean: Float64Array
  squares: Float64Array
  lowest: Float64Array
  highest: Float64Array
  /**
   * The day and value of the first (or last) value; on the same day the lowest is first and the
   * highest is last.
   */
  day: Float64Array
  dated: Float64Array
}

/** Which arrays are needed; the others stay empty. */
export interface MomentNeeds {
  sum: boolean
  spread: boolean
  ends: boolean
  dated?: 'first' | 'last'
}

export function createMoments(groups: number, needs: MomentNeeds): Moments {
  const size = (wanted: boolean): number => (wanted ? groups : 0)
  return {
    count: new Float64Array(groups),
    sum: new Float64Array(size(needs.sum)),
    rest: new Float64Array(size(needs.sum)),
    mean: new Float64Array(size(needs.spread)),
    squares: new Float64Array(size(needs.spread)),
    lowest: new Float64Array(size(needs.ends)).fill(Number.POSITIVE_INFINITY),
    highest: new Float64Array(size(needs.ends)).fill(Number.NEGATIVE_INFINITY),
    day: new Float64Array(size(needs.dated !== undefined)).fill(Number.NaN),
    dated: new Float64Array(size(needs.dated !== undefined)).fill(Number.NaN),
  }
}

/**
 * Adds every row to its group; rows of group -1 and missing values are skipped. For first and last
 * see `addDated`.
 */
export function addRows(m: Moments, values: Float64Array, groups: Int32Array, needs: MomentNeeds): void {
  if (needs.sum) addSums(m, values, groups)
  else if (needs.spread) addSpread(m, values, groups)
  else addCounts(m, values, groups)
  if (needs.ends) addEnds(m, values, groups)
}

function addCounts(m: Moments, values: Float64Array, groups: Int32Array): void {
  const { count } = m
  for (let i = 0; i < groups.length; i++) if (groups[i] >= 0 && !Number.isNaN(values[i])) count[groups[i]]++
}

function addSums(m: Moments, values: Float64Array, groups: Int32Array): void {
  const { count, sum, rest } = m
  for (let i = 0; i < groups.length; i++) {
    const g = groups[i]
    const x = values[i]
    if (g < 0 || Number.isNaN(x)) continue
    count[g]++
    const s = sum[g]
    const t = s + x
    rest[g] += Math.abs(s) >= Math.abs(x) ? s - t + x : x - t + s
    sum[g] = t
  }
}

function addSpread(m: Moments, values: Float64Array, groups: Int32Array): void {
  const { count, mean, squares } = m
  for (let i = 0; i < groups.length; i++) {
    const g = groups[i]
    const x = values[i]
    if (g < 0 || Number.isNaN(x)) continue
    count[g]++
    const step = x - mean[g]
    mean[g] += step / count[g]
    squares[g] += step * (x - mean[g])
  }
}

/** Keeps the first (or last) of a group and one more value. */
export function keepDated({ day, dated }: Moments, g: number, on: number, x: number, which: 'first' | 'last'): void {
  const sign = which === 'first' ? 1 : -1
  // Comparing with a missing value is false either way.
  if (sign * (on - day[g]) > 0 || (on === day[g] && sign * (x - dated[g]) >= 0)) return
  day[g] = on
  dated[g] = x
}

function addEnds(m: Moments, values: Float64Array, groups: Int32Array): void {
  const { lowest, highest } = m
  for (let i = 0; i < groups.length; i++) {
    const g = groups[i]
    const x = values[i]
    if (g < 0 || Number.isNaN(x)) continue
    if (x < lowest[g]) lowest[g] = x
    if (x > highest[g]) highest[g] = x
  }
}

/**
 * Merges fine groups into coarse ones: `into[g]` is the coarse group of the fine group g. Groups
 * that are all their own stay as they are; moments are never changed afterwards.
 */
export function mergeMoments(fine: Moments, into: Int32Array, groups: number, needs: MomentNeeds): Moments {
  if (isCounting(into, groups)) return fine
  const m = createMoments(groups, needs)
  addMoments(m, fine, into, needs)
  return m
}

/**
 * Adds fine groups to existing coarse ones; with `from`, fine group `from[i]` is added to
 * `into[i]`.
 */
export function addMoments(m: Moments, fine: Moments, into: Int32Array, needs: MomentNeeds, from?: Int32Array): void {
  if (needs.sum) {
    mergeSums(m, fine, into, from)
    return
  }
  for (let i = 0; i < into.length; i++) {
    const f = from === undefined ? i : from[i]
    const g = into[i]
    const n = fine.count[f]
    if (g < 0 || n === 0) continue
    if (needs.spread) {
      const total = m.count[g] + n
      const step = fine.mean[f] - m.mean[g]
      m.squares[g] += fine.squares[f] + (step * step * m.count[g] * n) / total
      m.mean[g] += (step * n) / total
    }
    if (needs.ends) {
      if (fine.lowest[f] < m.lowest[g]) m.lowest[g] = fine.lowest[f]
      if (fine.highest[f] > m.highest[g]) m.highest[g] = fine.highest[f]
    }
    if (needs.dated !== undefined) keepDated(m, g, fine.day[f], fine.dated[f], needs.dated)
    m.count[g] += n
  }
}

/** The most common need, for which no other is set; a plain loop over its arrays. */
function mergeSums(m: Moments, fine: Moments, into: Int32Array, from: Int32Array | undefined): void {
  const { count, sum, rest } = m
  const [counts, sums, rests] = [fine.count, fine.sum, fine.rest]
  if (count.length === 1 && from === undefined) {
    mergeTotal(m, fine, into)
    return
  }
  for (let i = 0; i < into.length; i++) {
    const f = from === undefined ? i : from[i]
    const g = into[i]
    const n = counts[f]
    if (g < 0 || n === 0) continue
    const s = sum[g]
    const x = sums[f]
    const t = s + x
    rest[g] += (Math.abs(s) >= Math.abs(x) ? s - t + x : x - t + s) + rests[f]
    sum[g] = t
    count[g] += n
  }
}

/** The sums of one group, such as the total of a long table, kept outside of lists meanwhile. */
function mergeTotal(m: Moments, { count: counts, sum: sums, rest: rests }: Moments, into: Int32Array): void {
  let count = m.count[0]
  let s = m.sum[0]
  let rest = m.rest[0]
  for (let i = 0; i < into.length; i++) {
    const n = counts[i]
    if (into[i] < 0 || n === 0) continue
    const x = sums[i]
    const t = s + x
    rest += (Math.abs(s) >= Math.abs(x) ? s - t + x : x - t + s) + rests[i]
    s = t
    count += n
  }
  m.count[0] = count
  m.sum[0] = s
  m.rest[0] = rest
}
