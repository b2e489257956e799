import { type Order, perOrder } from '../../column/order.js'
import { round14 } from '../../column/round.js'
import { numbers } from '../../expression/evaluate.js'
import type { BoundText, Judged } from '../model.js'

/** One end of a scale in each group: as written, or the lowest or highest value of the group. */
export function endOf(limit: BoundText | undefined, end: 'lowest' | 'highest', judged: Judged): Float64Array {
  if (limit !== undefined) return perGroup(limit, judged)
  return perOrder(judged.orders(), (order) => round14(end === 'lowest' ? order.lowest : order.highest))
}

/** A limit for each group: a constant, or a statistic of the group. */
export function perGroup(limit: BoundText, judged: Judged): Float64Array {
  const { length, groups, groupCount } = judged
  const vector = judged.run(limit.bound)
  const out = new Float64Array(groupCount).fill(Number.NaN)
  if (vector.constant) return out.fill(numbers(vector, 1)[0])
  const values = numbers(vector, length)
  // A limit that differs within a group was refused by the check.
  for (let i = 0; i < length; i++) out[groups[i]] = values[i]
  return out
}

export function clamp(t: number): number {
  return Math.min(1, Math.max(0, t))
}

/** A position in whole percent. */
export function percentText(t: number): string {
  return `${Math.round(t * 100)}%`
}

/**
 * Whether all values of a population are between two ends, to 14 digits, which is more than a
 * drawing shows.
 */
export function isInside(order: Order, from: number, to: number): boolean {
  const slack = (to - from) * 1e-9
  return order.lowest >= from - slack && order.highest <= to + slack
}
