/**
 * An independent answer to what a report asks: whole cents in bigint, plain loops, nothing of the
 * library. A test holds that nothing is imported here.
 */

/** A line of the random world: amounts as they stand in the file. */
export interface Line {
  month: string
  day: string
  region: string
  shop: string
  amount: string | null
  cost: string
}

export interface Planned {
  month: string
  region: string
  planned: string
}

/** `-12.30` as whole cents. */
export function cents(text: string): bigint {
  const sign = text.startsWith('-') ? -1n : 1n
  const [whole, rest = ''] = text.replace('-', '').split('.')
  return sign * (BigInt(whole) * 100n + BigInt(rest.padEnd(2, '0')))
}

/**
 * Whole cents as a number with two digits behind the point: the nearest double, as a reader would
 * type it.
 */
export function amountOf(whole: bigint): number {
  const text = String(whole < 0n ? -whole : whole).padStart(3, '0')
  return Number(`${whole < 0n ? '-' : ''}${text.slice(0, -2)}.${text.slice(-2)}`)
}

/** The sum of some lines; null where none of them has a value. */
export function sumOf<T>(lines: readonly T[], value: (line: T) => string | null): bigint | null {
  let sum: bigint | null = null
  for (const line of lines) {
    const text = value(line)
    if (text !== null) sum = (sum ?? 0n) + cents(text)
  }
  return sum
}

/** Amount less cost, over the lines that have an amount. */
export function netOf(lines: readonly Line[]): bigint | null {
  let sum: bigint | null = null
  for (const { amount, cost } of lines) if (amount !== null) sum = (sum ?? 0n) + cents(amount) - cents(cost)
  return sum
}

/** The sums of each value of a key. */
export function groupsOf<T>(lines: readonly T[], key: (line: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>()
  for (const line of lines) groups.set(key(line), [...(groups.get(key(line)) ?? []), line])
  return groups
}

/**
 * The rank of each value from 1, the highest first; ties share the better one, and missing values
 * have none.
 */
export function placesOf(values: ReadonlyMap<string, bigint | null>): Map<string, number | null> {
  const places = new Map<string, number | null>()
  for (const [key, value] of values) {
    let place = 1
    for (const other of values.values()) if (value !== null && other !== null && other > value) place++
    places.set(key, value === null ? null : place)
  }
  return places
}

/** For each value, how many in a row up to it were below the one before; missing if unknown. */
export function fallsOf(values: readonly (bigint | null)[]): (number | null)[] {
  const results: (number | null)[] = []
  values.forEach((value, i) => {
    const before = i === 0 ? null : values[i - 1]
    if (value === null || before === null) results.push(null)
    else if (value >= before) results.push(0)
    else results.push((results[i - 1] ?? 0) + 1)
  })
  return results
}
