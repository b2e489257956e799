import { POWERS, round14 } from './round.js'

/** Columns with more decimals than this are not treated as amounts: their decimals are unknown. */
const MAX_DECIMALS = 6

/** Above this a scaled double has no fraction left, so there is nothing to round. */
const WHOLE_FROM = 2 ** 52

/**
 * The decimals of a list of numbers: the least d of at most 6 with x = round(x, d) for all of them.
 * Missing values are skipped. Undefined where there is no such d; the first values mostly show it.
 */
export function decimalsOfValues(values: Float64Array): number | undefined {
  let d = 0
  let scale = 1
  for (let i = 0; i < values.length; i++) {
    const x = values[i]
    // Scaling would change a large whole number.
    if (Math.round(x * scale) / scale === x || Number.isNaN(x) || Math.round(x) === x) continue
    while (Math.round(x * scale) / scale !== x) {
      if (++d > MAX_DECIMALS) return undefined
      scale = POWERS[d]
    }
  }
  return d
}

/**
 * The decimals of one number as written: 2 for 0.07. Undefined for infinite numbers and more than
 * 20 decimals.
 */
export function decimalsOfNumber(x: number): number | undefined {
  if (!Number.isFinite(x)) return undefined
  const [mantissa, exponent = '0'] = String(x).split('e')
  const written = mantissa.split('.')[1]?.length ?? 0
  const decimals = Math.max(0, written - Number(exponent))
  return decimals > 20 ? undefined : decimals
}

/**
 * Rounds a result to 14 significant digits, then to its decimals if they are known. A sum that
 * cancels is 0, never -0 or a binary rounding error.
 */
export function settle(x: number, decimals: number | undefined): number {
  if (decimals !== undefined && decimals <= 22) {
    // Most amounts are settled already: whole at their scale, within 14 digits.
    const scale = POWERS[decimals]
    const whole = Math.round(x * scale)
    if (whole / scale === x && Math.abs(whole) < 1e14) return x + 0
  }
  const rounded = round14(x)
  if (decimals === undefined || decimals > 22) return rounded + 0
  const scaled = rounded * POWERS[decimals]
  return Math.abs(scaled) < WHOLE_FROM ? Math.round(scaled) / POWERS[decimals] + 0 : rounded
}

/** The same for each number of a list; the list is not changed. */
export function settleAll(values: Float64Array, decimals: number | undefined): Float64Array {
  const out = new Float64Array(values.length)
  for (let i = 0; i < out.length; i++) out[i] = settle(values[i], decimals)
  return out
}
