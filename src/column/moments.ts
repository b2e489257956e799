/**
 * What can be told of a set of numbers in one pass, and merged with that of another set: so every level of totals is made from the finest.
 * `sum + rest` is the compensated sum (Neumaier 1974); `mean` and `squares` (squared distance from the mean) merge after
 * Chan, Golub and LeVeque (1979).
 */
export interface Moments {
  count: Float64Array
  sum: Float64Array
  rest: Float64Array
  mean: Float64Array
  squares: Float64Array
  lowest: Float64Array
  highest: Float64Array
}

/** Which of the arrays are worth filling: the others stay empty. */
export interface MomentNeeds {
  sum: boolean
  spread: boolean
  ends: boolean
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
  }
}

/** Adds every row to its group; rows of group -1 and missing values are passed over. */
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

/** Merges fine groups into coarse ones: `into[g]` is the coarse group of the fine group g. */
export function mergeMoments(fine: Moments, into: Int32Array, groups: number, needs: MomentNeeds): Moments {
  const m = createMoments(groups, needs)
  for (let f = 0; f < into.length; f++) {
    const g = into[f]
    const n = fine.count[f]
    if (g < 0 || n === 0) continue
    if (needs.sum) {
      const s = m.sum[g]
      const x = fine.sum[f]
      const t = s + x
      m.rest[g] += (Math.abs(s) >= Math.abs(x) ? s - t + x : x - t + s) + fine.rest[f]
      m.sum[g] = t
    }
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
    m.count[g] += n
  }
  return m
}
