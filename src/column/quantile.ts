/**
 * The p-quantile of sorted values without missing ones, by linear interpolation: type 7 of Hyndman
 * and Fan (1996), Sample Quantiles in Statistical Packages. p from 0 to 1; NaN when there are no
 * values.
 */
export function quantileSorted(sorted: Float64Array, p: number): number {
  const n = sorted.length
  if (n === 0) return Number.NaN
  const h = (n - 1) * p
  const low = Math.floor(h)
  const high = Math.min(n - 1, low + 1)
  return sorted[low] + (h - low) * (sorted[high] - sorted[low])
}
