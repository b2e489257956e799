/** The ends of bars over one group, `from` below `to`; NaN for missing values. */
export function fillBars(
  values: Float64Array,
  low: number,
  high: number,
  base: number,
  from: Float32Array,
  to: Float32Array,
): void {
  const scale = 1 / (high - low)
  const start = (base - low) * scale
  for (let i = 0; i < values.length; i++) {
    const t = (values[i] - low) * scale
    // `placeBeyond`, inlined.
    const place = t > 1 ? (t > 1 + 1e-9 ? 2 : 1) : t < 0 ? (t < -1e-9 ? -1 : 0) : t
    from[i] = Math.min(start, place)
    to[i] = Math.max(start, place)
  }
}

/** The same for bars that all begin at the left end, if no value is outside the ends. */
export function fillBarsFromLeft(
  values: Float64Array,
  low: number,
  high: number,
  from: Float32Array,
  to: Float32Array,
): void {
  const scale = 1 / (high - low)
  for (let i = 0; i < values.length; i++) {
    const place = (values[i] - low) * scale
    to[i] = place
    // 0, and NaN for a missing value.
    from[i] = place * 0
  }
}
