import type { Coded } from './group.js'

/**
 * More combinations than this are numbered when they occur: a table of all would not fit the CPU
 * cache.
 */
export const MAX_SLOTS = 1 << 17

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

/** Rows that are the codes of one key in their order: each has its slot, and none is searched. */
export function placeInOrder(key: Coded): Slots {
  const { codes } = key
  const rows = new Float64Array(key.size + 1).fill(1, 1)
  const slots = once(() => slotsOfRows([key], codes.length))
  const used = new Int32Array(codes.length)
  for (let i = 0; i < used.length; i++) used[i] = i + 1
  return { slots, count: rows.length, rows, used, codes: () => codes }
}

export function once<T>(make: () => T): () => T {
  let value: T | undefined
  return () => {
    value ??= make()
    return value
  }
}

/** @param slots of the rows, created on first use */
export function described(slots: () => Int32Array, rows: Float64Array, widths: readonly number[]): Slots {
  const used = slotsWithRows(rows)
  return {
    slots,
    count: rows.length,
    rows,
    used,
    codes(key) {
      let below = 1
      for (let k = key + 1; k < widths.length; k++) below *= widths[k]
      const codes = new Int32Array(used.length)
      for (let i = 0; i < codes.length; i++) codes[i] = (Math.floor(used[i] / below) % widths[key]) - 1
      return codes
    },
  }
}

function slotsWithRows(rows: Float64Array): Int32Array {
  let count = 0
  for (let slot = 0; slot < rows.length; slot++) if (rows[slot] > 0) count++
  const used = new Int32Array(count)
  for (let slot = 0, at = 0; slot < rows.length; slot++) if (rows[slot] > 0) used[at++] = slot
  return used
}

export function slotsOfRows(keys: readonly Coded[], length: number): Int32Array {
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
