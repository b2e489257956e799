/** A copy of a typed array with more room: at least twice as long. */
export function longer<T extends Uint8Array | Float64Array>(list: T, length: number): T {
  const next = new (list.constructor as new (length: number) => T)(Math.max(length, list.length * 2))
  next.set(list)
  return next
}
