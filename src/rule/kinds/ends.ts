import { type Order, perOrder } from '../../column/order.js'
import { round14 } from '../../column/round.js'
import { numbers } from '../../expression/evaluate.js'
import type { BoundText, Judged } from '../model.js'

/**
 * One end of a scale in each group: as written, or the lowest or highest of the group's own values.
 */
export function endOf(limit: BoundText | undefined, own: 'lowest' | 'highest', judged: Judged): Float64Array {
  if (limit !== undefined) return perGroup(limit, judged)
  return perOrder(judged.orders(), (order) => round14(own === 'lowest' ? order.lowest : order.highest))
}

/** A limit, one a group: constant, or the same for all cells of a group (a statistic within it). */
export function perGroup(limit: BoundText, judged: Judged): Float64Array {
  const { length, groups, groupCount } = judged
  const vector = judged.run(limit.bound)
  const out = new Float64Array(groupCount).fill(Number.NaN)
  if (vector.constant) return out.fill(numbers(vector, 1)[0])
  const values = numbers(vector, length)
  // A limit that differs inside a group was refused when the rule was checked.
  for (let i = 0; i < length; i++) out[groups[i]] = values[i]
  return out
}

export function clamp(t: number): number {
  return Math.min(1, Math.max(0, t))
}

/** How far along, in whole percent. */
export function percentText(t: number): string {
  return `${Math.round(t * 100)}%`
}

/**
 * Whether no value of a population lies beyond two ends, but for their rounding to 14 digits, which
 * no drawing shows.
 */
export function isInside(order: Order, from: number, to: number): boolean {
  const slack = (to - from) * 1e-9
  return order.lowest >= from - slack && order.highest <= to + slack
}
