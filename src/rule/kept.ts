import { createOrder, type Order } from '../column/order.js'
import type { Vector } from '../expression/evaluate.js'
import type { Problem } from '../problem/problem.js'
import type { Fitted, RuleResult } from './run.js'

/** A rule as it was run, with the parameters that were in force. */
export interface Remembered {
  fitted: Fitted | undefined
  result?: RuleResult
  notes: Problem[]
  parameters: ReadonlyMap<string, number>
}

/** What was worked out over one table and may be asked for again, by another rule or after a parameter moved. */
export interface Kept {
  /** As many zeros: everything in one group. Not to be written to. */
  zeros(length: number): Int32Array
  /** The order of a column's values, by the list itself. */
  order(values: Float64Array): Order
  /** To be called when painting is done: gives back what it took meanwhile. */
  tidy(): void
  /**
   * Statistics, by their text behind what tells the population; rules that compare with the same cells share
   * them.
   */
  statistics: Map<string, Vector>
  /** What rules gave that no parameter moves. */
  results: Map<unknown, Remembered>
}

export function createKept(): Kept {
  let zeros = new Int32Array(0)
  const orders = new Map<Float64Array, Order>()
  return {
    zeros(length) {
      if (zeros.length !== length) zeros = new Int32Array(length)
      return zeros
    },
    order(values) {
      let found = orders.get(values)
      if (found === undefined) {
        found = createOrder(values)
        orders.set(values, found)
      }
      return found
    },
    statistics: new Map(),
    tidy() {
      // Those that differ by cell are as long as the table.
      this.statistics.clear()
      for (const order of orders.values()) order.tidy?.()
    },
    results: new Map(),
  }
}
