import type { Coded } from './group.js'
import type { Moments } from './moments.js'

/**
 * More combinations than this are numbered when they occur: a table of all would not fit the CPU
 * cache.
 */
const MAX_SLOTS = 1 << 17

/** Rows grouped by arithmetic: each combination of codes has a slot, whether it occurs or not. */
export interface Slots {
  /** The slot of each row; -1 where the row is left out. Created on first use. */
  slots(): Int32Array
  count: number
  /** How many rows each slot has. */
  rows: Float64Array
  /** The slots that have rows, in ascending order. */
  used: Int32Array
  /** The code of a key in each of the used slots. */
  codes(key: number): Int32Array
}

/**
 * Groups rows by several codes at once, in one scan for up to two keys; undefined where there are
 * too many combinations.
 */
export function placeRows(keys: readonly Coded[], keep: Int8Array | undefined, length: number): Slots | undefined {
  const widths = keys.map((key) => key.size + 1)
  const count = widths.reduce((product, width) => product * width, 1)
  if (count > MAX_SLOTS) return undefined
  const rows = new Float64Array(count)
  if (keys.length === 0 && keep === undefined) {
    rows[0] = length
    return described(
      once(() => new Int32Array(length)),
      rows,
      widths,
    )
  }
  const slots = slotsOfRows(keys, length)
  if (keep !== undefined) for (let i = 0; i < length; i++) if (keep[i] !== 1) slots[i] = -1
  if (keep === undefined) for (let i = 0; i < length; i++) rows[slots[i]]++
  else for (let i = 0; i < length; i++) if (slots[i] >= 0) rows[slots[i]]++
  return described(() => slots, rows, widths)
}

function once<T>(make: () => T): () => T {
  let value: T | undefined
  return () => {
    value ??= make()
    return value
  }
}

function described(slots: () => Int32Array, rows: Float64Array, widths: readonly number[]): Slots {
  const used = Int32Array.from(Array.from(rows.keys()).filter((slot) => rows[slot] > 0))
  return {
    slots,
    count: rows.length,
    rows,
    used,
    codes(key) {
      let below = 1
      for (let k = key + 1; k < widths.length; k++) below *= widths[k]
      return used.map((slot) => (Math.floor(slot / below) % widths[key]) - 1)
    },
  }
}

/**
 * Groups rows by one or two codes and sums a column in the same scan: one pass over memory instead
 * of three for the most common question. The sums are those of `addRows`, to the last bit.
 * Undefined where it does not apply.
 */
export function placeAndSum(
  keys: readonly Coded[],
  values: Float64Array,
): { placed: Slots; sums: Pick<Moments, 'count' | 'sum' | 'rest'> } | undefined {
  const size = keys.reduce((product, key) => product * (key.size + 1), 1)
  if (keys.length < 1 || keys.length > 2 || size > MAX_SLOTS) return undefined
  const length = values.length
  const rows = new Float64Array(size)
  const count = new Float64Array(size)
  const sum = new Float64Array(size)
  const rest = new Float64Array(size)
  const [outer, inner] = keys
  sumBySlot(
    outer.codes,
    inner === undefined ? new Int32Array(0) : inner.codes,
    inner === undefined ? 1 : inner.size + 1,
    values,
    rows,
    count,
    sum,
    rest,
  )
  const widths = keys.map((key) => key.size + 1)
  return {
    placed: described(
      once(() => slotsOfRows(keys, length)),
      rows,
      widths,
    ),
    sums: { count, sum, rest },
  }
}

/**
 * The scan of `placeAndSum`, a function of its own: only arrays go in, so that what is compiled for
 * it stays valid when other columns come along.
 */
function sumBySlot(
  outer: Int32Array,
  inner: Int32Array,
  width: number,
  values: Float64Array,
  rows: Float64Array,
  count: Float64Array,
  sum: Float64Array,
  rest: Float64Array,
): void {
  for (let i = 0; i < values.length; i++) {
    const slot = width === 1 ? outer[i] + 1 : (outer[i] + 1) * width + inner[i] + 1
    rows[slot]++
    const x = values[i]
    if (Number.isNaN(x)) continue
    count[slot]++
    const s = sum[slot]
    const t = s + x
    rest[slot] += Math.abs(s) >= Math.abs(x) ? s - t + x : x - t + s
    sum[slot] = t
  }
}

function slotsOfRows(keys: readonly Coded[], length: number): Int32Array {
  const slots = new Int32Array(length)
  if (keys.length === 0) return slots
  const a = keys[0].codes
  if (keys.length === 1) {
    for (let i = 0; i < length; i++) slots[i] = a[i] + 1
    return slots
  }
  const b = keys[1].codes
  const width = keys[1].size + 1
  for (let i = 0; i < length; i++) slots[i] = (a[i] + 1) * width + b[i] + 1
  for (let k = 2; k < keys.length; k++) {
    const { codes, size } = keys[k]
    for (let i = 0; i < length; i++) slots[i] = slots[i] * (size + 1) + codes[i] + 1
  }
  return slots
}
