/**
 * The values at some indexes, in their order. A plain loop: `from` with a function takes ten times
 * as long.
 */
export function pickNumbers(list: ArrayLike<number>, places: ArrayLike<number>): Float64Array {
  const out = new Float64Array(places.length)
  for (let i = 0; i < places.length; i++) out[i] = list[places[i]]
  return out
}

/** The same for codes. */
export function pickCodes(list: ArrayLike<number>, places: ArrayLike<number>): Int32Array {
  const out = new Int32Array(places.length)
  for (let i = 0; i < places.length; i++) out[i] = list[places[i]]
  return out
}
