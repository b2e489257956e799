/** The values of a population in order, without sorting all of them. */
export interface Order {
  /** How many values there are, missing ones left out. */
  readonly size: number
  /** NaN without values. */
  readonly lowest: number
  readonly highest: number
  /** The k-th smallest, from 0; undefined beyond the ends. */
  at(k: number): number | undefined
  /** The bins of a histogram over the values, if one was built. */
  bins?(): Bins | undefined
  /** Frees memory that is needed only while many ranks are asked for in a row. */
  tidy?(): void
}

/** Bins of equal width between the lowest and the highest value. */
export interface Bins {
  lowest: number
  scale: number
  /** The number of bins; missing values have one more bin behind the last. */
  count: number
  /** The bin of each value. */
  places: Uint16Array
}

/** An order of values that are sorted already, none missing. */
export function sortedOrder(sorted: Float64Array): Order {
  const { length } = sorted
  return {
    size: length,
    lowest: length === 0 ? Number.NaN : sorted[0],
    highest: length === 0 ? Number.NaN : sorted[length - 1],
    at: (k) => sorted[k],
  }
}

/** Number of bins; fewer values than this are sorted at once. */
const BINS = 512

/**
 * Largest input that is scattered into bins. Beyond it, random writes cost more than one scan for
 * each requested bin.
 */
const MAX_SCATTERED = 32_768
/**
 * A comparing scan takes a fifth of the time of a scatter: so many bins are scanned for before
 * scattering pays.
 */
const MAX_PASSES = 5

/**
 * An order over unsorted values. The k-th value is found with a histogram and by sorting its bin:
 * two scans, and one more for each requested bin. Sorting takes the time of tens of scans. A bin
 * with most of the values gets a histogram of its own.
 */
export function createOrder(values: Float64Array): Order {
  const ends = new Float64Array([Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY])
  const size = survey(values, ends)
  const [lowest, highest] = ends
  if (size === 0) return sortedOrder(new Float64Array(0))
  let sorted: Float64Array | undefined
  let binned: Binned | undefined
  return {
    size,
    lowest,
    highest,
    bins: () => binned && { lowest, scale: binned.scale, count: BINS, places: binned.places },
    tidy() {
      if (binned !== undefined) binned.laid = undefined
    },
    at(k) {
      if (k < 0 || k >= size) return undefined
      if (k === 0) return lowest
      if (k === size - 1) return highest
      const reach = highest - lowest
      // Ends that are equal, or so close or far that bins have no width as doubles: no histogram.
      if (size <= BINS || !Number.isFinite(reach) || !Number.isFinite(BINS / reach)) {
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
  scale: number
  /** The end of each bin in the sorted values. */
  ends: Int32Array
  /** The bin of each value; missing values have the one behind the last. */
  places: Uint16Array
  /** The requested bins, each an order of its own. */
  opened: Map<number, Order>
  /** The values bin by bin, where many bins are requested. */
  laid: Float64Array | undefined
}

function bin(values: Float64Array, lowest: number, highest: number): Binned {
  const counts = new Int32Array(BINS + 1)
  const places = new Uint16Array(values.length)
  const scale = BINS / (highest - lowest)
  fillPlaces(values, lowest, scale, places, counts)
  for (let b = 1; b <= BINS; b++) counts[b] += counts[b - 1]
  return { scale, ends: counts, places, opened: new Map(), laid: undefined }
}

function placeIn(binned: Binned, values: Float64Array, k: number): number | undefined {
  const { ends, places, opened } = binned
  const b = firstBeyond(ends, k)
  const before = b === 0 ? 0 : ends[b - 1]
  let order = opened.get(b)
  if (order === undefined) {
    if (opened.size >= MAX_PASSES && values.length <= MAX_SCATTERED) binned.laid ??= laidOut(values, places, ends)
    let laid = binned.laid?.slice(before, ends[b])
    if (laid === undefined) {
      laid = new Float64Array(ends[b] - before)
      gatherBin(values, places, b, laid)
    }
    // A small bin is sorted; a large one may hold most values because of one outlier.
    order = laid.length * 8 > values.length ? createOrder(laid) : sortedOrder(laid.sort())
    opened.set(b, order)
  }
  return order.at(k - before)
}

/** The first of ascending numbers that is greater than k. */
function firstBeyond(ends: Int32Array, k: number): number {
  let low = 0
  let high = ends.length - 1
  while (low < high) {
    const middle = (low + high) >> 1
    if (ends[middle] > k) high = middle
    else low = middle + 1
  }
  return low
}

/** One number for each order; for short lists filling from an iterable would dominate the time. */
export function perOrder(orders: readonly Order[], number: (order: Order) => number): Float64Array {
  const out = new Float64Array(orders.length)
  for (let g = 0; g < out.length; g++) out[g] = number(orders[g])
  return out
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

// The loops are functions of their own that take only arrays and numbers, so that compiled code is
// not discarded.

/**
 * Writes lowest and highest to `ends` and returns the number of values. Most values lie between the
 * ends found so far, so two are tested at once; missing values compare as false.
 */
function survey(values: Float64Array, ends: Float64Array): number {
  const { length } = values
  let [missing, low, high] = [0, ends[0], ends[1]]
  for (let i = 0; i < length; i += 2) {
    const v = values[i]
    const w = i + 1 < length ? values[i + 1] : v
    if (v >= low && v <= high && w >= low && w <= high) continue
    if (v < low) low = v
    if (v > high) high = v
    if (w < low) low = w
    if (w > high) high = w
    // biome-ignore lint/suspicious/noSelfCompare: NaN alone is not itself, and this is twice as fast as asking
    if (v !== v) missing++
    // biome-ignore lint/suspicious/noSelfCompare: as above
    if (w !== w && i + 1 < length) missing++
  }
  ends[0] = low
  ends[1] = high
  return length - missing
}

/** The bin of each value, counted. */
function fillPlaces(
  values: Float64Array,
  lowest: number,
  scale: number,
  places: Uint16Array,
  counts: Int32Array,
): void {
  const last = BINS - 1
  for (let i = 0; i < values.length; i++) {
    const v = values[i]
    const b = ((v - lowest) * scale) | 0
    // biome-ignore lint/suspicious/noSelfCompare: as above
    const place = v !== v ? BINS : b > last ? last : b
    places[i] = place
    counts[place]++
  }
}

function gatherBin(values: Float64Array, places: Uint16Array, b: number, out: Float64Array): void {
  let at = 0
  for (let i = 0; i < places.length; i++) if (places[i] === b) out[at++] = values[i]
}

/** Values bin by bin; missing ones come last. */
function laidOut(values: Float64Array, places: Uint16Array, ends: Int32Array): Float64Array {
  const next = new Int32Array(ends.length)
  next.set(ends.subarray(0, ends.length - 1), 1)
  const out = new Float64Array(values.length)
  layOut(values, places, next, out)
  return out
}

function layOut(values: Float64Array, places: Uint16Array, next: Int32Array, out: Float64Array): void {
  for (let i = 0; i < places.length; i++) out[next[places[i]]++] = values[i]
}
