/**
 * Codes of one dictionary in terms of another: `codes[code]` is where the same value stands there,
 * -1 for a value that it does not hold.
 */
export function recode<T>(values: readonly T[], dictionary: readonly T[]): Int32Array {
  const places = new Map(dictionary.map((value, code) => [value, code]))
  return Int32Array.from(values, (value) => places.get(value) ?? -1)
}

/**
 * A dictionary that grows: gives the code of a value, which is added where it is new. `dictionary`
 * may hold values already, each once.
 */
export function createRecoder<T>(dictionary: T[]): (value: T) => number {
  const places = new Map(dictionary.map((value, code) => [value, code]))
  return (value) => {
    const place = places.get(value)
    if (place !== undefined) return place
    places.set(value, dictionary.length)
    return dictionary.push(value) - 1
  }
}

/** Codes by what each stands for now; what is missing (-1) stays so. */
export function translateCodes(codes: Int32Array, meaning: ArrayLike<number>): Int32Array {
  return codes.map((code) => (code < 0 ? -1 : meaning[code]))
}
