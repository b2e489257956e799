/**
 * The choices that were made where a text may mean several things. A choice is made once by its
 * name: in one reading all bare colours are fills, in the next all are texts.
 */
export class Guess {
  readonly #chosen: ReadonlyMap<string, number>
  /** How many ways each choice had, in the order in which they came up. */
  readonly counts = new Map<string, number>()

  constructor(chosen: ReadonlyMap<string, number>) {
    this.#chosen = chosen
  }

  /** One of several ways, the likeliest first. */
  pick<T>(what: string, ways: readonly T[]): T {
    if (ways.length > 1) this.counts.set(what, Math.max(ways.length, this.counts.get(what) ?? 0))
    return ways[Math.min(this.#chosen.get(what) ?? 0, ways.length - 1)]
  }
}

/** More choices than these are not tried: a list that long answers no question. */
const MOST_TRIES = 10

/** Distinct results of all combinations of choices, the likeliest first, at most so many. */
export function everyWay<T>(make: (guess: Guess) => T | undefined, most: number, keyOf: (made: T) => string): T[] {
  const found = new Map<string, T>()
  let chosen: Map<string, number> | undefined = new Map()
  for (let tries = 0; chosen !== undefined && tries < MOST_TRIES && found.size < most; tries++) {
    const guess = new Guess(chosen)
    const made = make(guess)
    if (made !== undefined && !found.has(keyOf(made))) found.set(keyOf(made), made)
    chosen = next(chosen, guess.counts)
  }
  return [...found.values()]
}

/** The next combination: the last choice changes first. */
function next(
  chosen: ReadonlyMap<string, number>,
  counts: ReadonlyMap<string, number>,
): Map<string, number> | undefined {
  const names = [...counts.keys()]
  const own = new Map(names.map((name) => [name, chosen.get(name) ?? 0]))
  for (let i = names.length - 1; i >= 0; i--) {
    const at = (own.get(names[i]) ?? 0) + 1
    if (at < (counts.get(names[i]) ?? 1)) {
      own.set(names[i], at)
      return own
    }
    own.set(names[i], 0)
  }
  return undefined
}
