import { settle } from './decimals.js'
import { addRows, createMoments, type MomentNeeds, type Moments } from './moments.js'
import { quantileSorted } from './quantile.js'
import { POWERS, round14 } from './round.js'

/** The statistics of an aggregate; `percentile` and `median` need all values, the others merge. */
export const STATISTICS = [
  'sum',
  'mean',
  'median',
  'lowest',
  'highest',
  'count',
  'countDistinct',
  'percentile',
  'stdev',
  'first',
  'last',
] as const
export type Statistic = (typeof STATISTICS)[number]

export function isStatistic(name: string): name is Statistic {
  return (STATISTICS as readonly string[]).includes(name)
}

/** Whether coarse groups can be computed from fine ones. */
export function merges(statistic: Statistic): boolean {
  return statistic !== 'median' && statistic !== 'percentile' && statistic !== 'countDistinct'
}

export function needsOf(statistic: Statistic): MomentNeeds {
  return {
    sum: statistic === 'sum' || statistic === 'mean',
    spread: statistic === 'stdev',
    ends: statistic === 'lowest' || statistic === 'highest',
    ...(statistic === 'first' || statistic === 'last' ? { dated: statistic } : {}),
  }
}

/**
 * Reads a merging statistic from its moments, rounded to its decimals if they are known. Without
 * values the result is missing, but for count, which is 0; stdev divides by n − 1.
 */
export function fromMoments(statistic: Statistic, m: Moments, decimals?: number): Float64Array {
  if (statistic === 'sum') return fromSums(m, decimals)
  const n = m.count.length
  const out = new Float64Array(n)
  for (let g = 0; g < n; g++) {
    const count = m.count[g]
    let x = Number.NaN
    if (statistic === 'count') x = count
    else if (count === 0) x = Number.NaN
    else if (statistic === 'mean') x = (m.sum[g] + m.rest[g]) / count
    else if (statistic === 'lowest') x = m.lowest[g]
    else if (statistic === 'highest') x = m.highest[g]
    else if (statistic === 'first' || statistic === 'last') x = m.dated[g]
    else if (statistic === 'stdev') x = count < 2 ? Number.NaN : Math.sqrt(m.squares[g] / (count - 1))
    out[g] = settle(x, decimals)
  }
  return out
}

/** A loop of its own: most measures are sums, and those of long tables have many groups. */
function fromSums({ count, sum, rest }: Moments, decimals: number | undefined): Float64Array {
  const out = new Float64Array(count.length)
  const scale = POWERS[decimals ?? POWERS.length] ?? 0
  for (let g = 0; g < out.length; g++) {
    const x = sum[g] + rest[g]
    // What is settled already is the most, and needs no call: see `settle`.
    const whole = Math.round(x * scale)
    const settled = whole / scale === x && Math.abs(whole) < 1e14
    out[g] = count[g] === 0 ? Number.NaN : settled ? x + 0 : settle(x, decimals)
  }
  return out
}

/**
 * Any statistic of each group but first and last; `share` is the percentile, 0 to 1, and `decimals`
 * those of the result. Rows of group -1 are skipped.
 */
export function statistic(
  name: Statistic,
  values: Float64Array,
  groups: Int32Array,
  count: number,
  share = 0.5,
  decimals?: number,
): Float64Array {
  if (merges(name)) {
    const needs = needsOf(name)
    const m = createMoments(count, needs)
    addRows(m, values, groups, needs)
    return fromMoments(name, m, decimals)
  }
  const out = new Float64Array(count)
  const sorted = sortedByGroup(values, groups, count)
  for (let g = 0; g < count; g++) {
    const values = sorted[g]
    out[g] = name === 'countDistinct' ? countDistinct(values) : round14(quantileSorted(values, share))
  }
  return out
}

/** The values of each group, sorted, without missing ones. */
export function sortedByGroup(values: Float64Array, groups: Int32Array, count: number): Float64Array[] {
  const sizes = new Int32Array(count + 1)
  for (let i = 0; i < groups.length; i++) if (groups[i] >= 0 && !Number.isNaN(values[i])) sizes[groups[i] + 1]++
  for (let g = 0; g < count; g++) sizes[g + 1] += sizes[g]
  const all = new Float64Array(sizes[count])
  const next = sizes.slice(0, count)
  for (let i = 0; i < groups.length; i++)
    if (groups[i] >= 0 && !Number.isNaN(values[i])) all[next[groups[i]]++] = values[i]
  return Array.from({ length: count }, (_, g) => all.subarray(sizes[g], sizes[g + 1]).sort())
}

function countDistinct(sorted: Float64Array): number {
  let n = 0
  for (let i = 0; i < sorted.length; i++) if (i === 0 || sorted[i] !== sorted[i - 1]) n++
  return n
}
