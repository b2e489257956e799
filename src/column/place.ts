/**
 * The place of each value in its group: 0-based competition positions (ties share the lower one), counted from the
 * highest, or from the lowest with `rising`. Missing values and rows of group -1 have no place: -1.
 */
export function places(values: Float64Array, groups: Int32Array, rising: boolean): Int32Array {
  const order: number[] = []
  for (let i = 0; i < values.length; i++) if (groups[i] >= 0 && !Number.isNaN(values[i])) order.push(i)
  const sorted = Uint32Array.from(order)
  sorted.sort((a, b) => groups[a] - groups[b] || (rising ? values[a] - values[b] : values[b] - values[a]))
  const out = new Int32Array(values.length).fill(-1)
  let start = 0
  let place = 0
  for (let k = 0; k < sorted.length; k++) {
    const i = sorted[k]
    const before = sorted[k - 1]
    if (k === 0 || groups[i] !== groups[before]) {
      start = k
      place = 0
    } else if (values[i] !== values[before]) place = k - start
    out[i] = place
  }
  return out
}
