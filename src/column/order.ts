/** The values of a population by their places, without sorting them all. */
export interface Order {
  /** How many values there are, missing ones left out. */
  readonly size: number
  /** NaN without values. */
  readonly lowest: number
  readonly highest: number
  /** The k-th smallest, from 0; undefined beyond the ends. */
  at(k: number): number | undefined
}

/** Values in rising order, none missing, as an order. */
export function sortedOrder(sorted: Float64Array): Order {
  const { length } = sorted
  return {
    size: length,
    lowest: length === 0 ? Number.NaN : sorted[0],
    highest: length === 0 ? Number.NaN : sorted[length - 1],
    at: (k) => sorted[k],
  }
}

/** Bins of a histogram; fewer values than this are sorted at once. */
const BINS = 2048

/**
 * An order over values as they come. A place is found by a histogram and by sorting the one bin that holds it: two passes, and one more
 * for each bin that is asked for, where sorting takes tens. A bin that holds most of the values is gone into in the same way.
 */
export function createOrder(values: Float64Array): Order {
  const { length } = values
  let [size, lowest, highest] = [0, Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  for (let i = 0; i < length; i++) {
    const v = values[i]
    // biome-ignore lint/suspicious/noSelfCompare: NaN alone is not itself, and this is twice as fast as asking
    if (v !== v) continue
    if (v < lowest) lowest = v
    if (v > highest) highest = v
    size++
  }
  if (size === 0) return sortedOrder(new Float64Array(0))
  let sorted: Float64Array | undefined
  let binned: Binned | undefined
  return {
    size,
    lowest,
    highest,
    at(k) {
      if (k < 0 || k >= size) return undefined
      if (k === 0) return lowest
      if (k === size - 1) return highest
      if (size <= BINS || !Number.isFinite(highest - lowest)) {
        sorted ??= present(values, size).sort()
        return sorted[k]
      }
      binned ??= bin(values, lowest, highest)
      return placeIn(binned, values, k)
    },
  }
}

function present(values: Float64Array, size: number): Float64Array {
  const out = new Float64Array(size)
  let at = 0
  for (let i = 0; i < values.length; i++) if (!Number.isNaN(values[i])) out[at++] = values[i]
  return out
}

interface Binned {
  lowest: number
  scale: number
  counts: Int32Array
  /** The bins that were asked for, each an order of its own. */
  opened: Map<number, Order>
}

function bin(values: Float64Array, lowest: number, highest: number): Binned {
  const counts = new Int32Array(BINS)
  const scale = BINS / (highest - lowest)
  const last = BINS - 1
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    // biome-ignore lint/suspicious/noSelfCompare: as above
    if (v !== v) continue
    const b = ((v - lowest) * scale) | 0
    counts[b > last ? last : b]++
  }
  return { lowest, scale, counts, opened: new Map() }
}

function placeIn(binned: Binned, values: Float64Array, k: number): number | undefined {
  const { counts, lowest, scale, opened } = binned
  let b = 0
  let before = 0
  while (before + counts[b] <= k) before += counts[b++]
  let order = opened.get(b)
  if (order === undefined) {
    const own = new Float64Array(counts[b])
    const last = BINS - 1
    let at = 0
    for (let i = 0; i < values.length; i++) {
      const v = values[i]
      // biome-ignore lint/suspicious/noSelfCompare: as above
      if (v !== v) continue
      const place = ((v - lowest) * scale) | 0
      if ((place > last ? last : place) === b) own[at++] = v
    }
    // A bin of few is sorted; one of many may hold the bulk that an outlier squeezed together.
    order = own.length * 8 > values.length ? createOrder(own) : sortedOrder(own.sort())
    opened.set(b, order)
  }
  return order.at(k - before)
}

/** The p-quantile of an order: type 7 of Hyndman and Fan (1996), as `quantileSorted`. */
export function quantileOf(order: Order, p: number): number {
  const n = order.size
  if (n === 0) return Number.NaN
  const h = (n - 1) * p
  const low = Math.floor(h)
  const x = order.at(low) ?? Number.NaN
  return x + (h - low) * ((order.at(Math.min(n - 1, low + 1)) ?? Number.NaN) - x)
}
