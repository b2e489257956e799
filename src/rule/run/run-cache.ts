import { createOrder, type Order } from '../../column/order.js'
import type { RunCache } from '../model.js'

export function createRunCache(): RunCache {
  let zeros = new Int32Array(0)
  const orders = new Map<Float64Array, Order>()
  return {
    zeros(length) {
      if (zeros.length !== length) zeros = new Int32Array(length)
      return zeros
    },
    order(values) {
      let order = orders.get(values)
      if (order === undefined) {
        order = createOrder(values)
        orders.set(values, order)
      }
      return order
    },
    statistics: new Map(),
    tidy() {
      // Statistics that differ by cell are as long as the table.
      this.statistics.clear()
      for (const order of orders.values()) order.tidy?.()
    },
    results: new Map(),
  }
}
