/**
 * The classes of a smooth ramp over one group. One of the two distances from the middle is 0, so
 * adding them needs no branch.
 */
export function fillRamp(
  values: Float64Array,
  middle: number,
  lower: number,
  upper: number,
  steps: number,
  first: number,
  out: Int16Array,
): void {
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    const d = v - middle
    const t = Math.min(1, Math.max(0, 0.5 + Math.max(d, 0) * upper + Math.min(d, 0) * lower))
    // biome-ignore lint/suspicious/noSelfCompare: see above
    out[i] = v === v ? first + ((t * steps + 0.5) | 0) : -1
  }
}

/** The same if both halves have one scale and all values are between the ends. */
export function fillEvenRamp(
  values: Float64Array,
  middle: number,
  slope: number,
  steps: number,
  first: number,
  out: Int16Array,
): void {
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    const t = 0.5 + (v - middle) * slope
    // biome-ignore lint/suspicious/noSelfCompare: see above
    out[i] = v === v ? first + ((t * steps + 0.5) | 0) : -1
  }
}
