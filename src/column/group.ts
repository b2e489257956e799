/** Above this many combinations a map numbers the codes, instead of a table. */
const MAX_DENSE_GROUPS = 1 << 22

/** Rows numbered by the distinct combinations of their codes that occur. */
export interface Grouping {
  /** The group of each row; -1 where the row is left out. */
  groups: Int32Array
  count: number
  /** One row of each group, from which its keys are read. */
  first: Int32Array
}

export interface Coded {
  codes: Int32Array
  /** Codes run from -1 (missing) to size - 1. */
  size: number
}

/** Groups rows by several codes at once; rows where `keep` is not 1 are left out. */
export function groupRows(keys: readonly Coded[], keep: Int8Array | undefined, length: number): Grouping {
  let groups: Int32Array = new Int32Array(length)
  if (keep !== undefined) for (let i = 0; i < length; i++) groups[i] = keep[i] === 1 ? 0 : -1
  let count = 1
  for (const key of keys) {
    const next = pair(groups, count, key)
    groups = next.groups
    count = next.count
  }
  const first = new Int32Array(count).fill(-1)
  for (let i = length - 1; i >= 0; i--) if (groups[i] >= 0) first[groups[i]] = i
  // With no keys and no rows there is no group either.
  if (keys.length === 0 && first[0] === -1) count = 0
  return { groups, count, first: first.subarray(0, count) }
}

function pair(groups: Int32Array, count: number, key: Coded): { groups: Int32Array; count: number } {
  const width = key.size + 1
  const { codes } = key
  const out = new Int32Array(groups.length)
  let next = 0
  if (count * width <= MAX_DENSE_GROUPS) {
    const seen = new Int32Array(count * width).fill(-1)
    for (let i = 0; i < groups.length; i++) {
      if (groups[i] < 0) {
        out[i] = -1
        continue
      }
      const slot = groups[i] * width + codes[i] + 1
      if (seen[slot] < 0) seen[slot] = next++
      out[i] = seen[slot]
    }
    return { groups: out, count: next }
  }
  const seen = new Map<number, number>()
  for (let i = 0; i < groups.length; i++) {
    if (groups[i] < 0) {
      out[i] = -1
      continue
    }
    const slot = groups[i] * width + codes[i] + 1
    let group = seen.get(slot)
    if (group === undefined) {
      group = next++
      seen.set(slot, group)
    }
    out[i] = group
  }
  return { groups: out, count: next }
}
