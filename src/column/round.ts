/** Powers of ten that are exact in binary. */
export const POWERS = Float64Array.from({ length: 23 }, (_, i) => Number(`1e${i}`))

/**
 * Rounds to 14 significant digits, so that a sum in another order, a computed limit and a typed
 * number are equal wherever they agree to 14 digits. Powers of ten up to 1e22 are exact in binary,
 * so scaling by one is safe.
 */
export function round14(x: number): number {
  // Turns -0 into 0.
  if (Number.isInteger(x) && x > -1e14 && x < 1e14) return x + 0
  if (!Number.isFinite(x)) return x
  const power = 13 - Math.floor(Math.log10(Math.abs(x)))
  if (power < 0 || power > 22) return Number(x.toPrecision(14))
  const scale = POWERS[power]
  return Math.round(x * scale) / scale
}
