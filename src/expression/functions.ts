/** An argument as SQL, with its number if it is written as one. */
export interface SqlArgument {
  sql: string
  constant?: number
}

/** SQL that differs between databases. */
export interface SqlWords {
  /** A number rounded half away from zero. */
  round(number: string, digits: number): string
}

/**
 * A function of single values, with all that the library needs of it. To add one, add a record to
 * `FUNCTIONS`.
 */
export interface ValueFunction {
  /** The least and most arguments. */
  takes: readonly [number, number]
  /** The arguments in words, for problems. */
  says: string
  /** All arguments and the result have one unit, except those after the first if `extra` is set. */
  extra?: boolean
  /** The result is a share: a plain number that is comparable with a percent. */
  share?: boolean
  /** The result has the direction of the first argument if the second has none or the same. */
  directed?: boolean
  /** The index of the argument that must be above zero; else the result is missing. */
  base?: number
  run(args: readonly Float64Array[], n: number): Float64Array
  /** The same in SQL; undefined where a database cannot compute it from these arguments. */
  sql(args: readonly SqlArgument[], words: SqlWords): string | undefined
  /**
   * The decimals of the result, from those of the arguments; default: the largest of them.
   * Undefined where they are unknown.
   */
  decimals?(of: readonly (number | undefined)[], args: readonly (number | undefined)[]): number | undefined
}

export const FUNCTIONS: Readonly<Record<string, ValueFunction>> = {
  abs: {
    takes: [1, 1],
    says: 'one number',
    run: ([x], n) => each(n, (i) => Math.abs(x[i])),
    sql: ([x]) => `abs(${x.sql})`,
  },
  /** Rounds half away from zero; the second argument is the number of digits, default 0. */
  round: {
    takes: [1, 2],
    says: 'a number, and digits if wanted',
    extra: true,
    run: ([x, digits], n) => each(n, (i) => roundTo(x[i], digits === undefined ? 0 : digits[i])),
    sql([x, digits], words) {
      if (digits === undefined) return words.round(x.sql, 0)
      return digits.constant === undefined ? undefined : words.round(x.sql, Math.trunc(digits.constant))
    },
    decimals: (of, [, digits]) =>
      of.length === 1 ? 0 : digits === undefined ? undefined : Math.max(0, Math.trunc(digits)),
  },
  least: {
    takes: [2, 9],
    says: 'two numbers or more',
    run: (xs, n) => each(n, (i) => pick(xs, i, Math.min)),
    sql: (xs) => sqlPick('least', xs),
  },
  greatest: {
    takes: [2, 9],
    says: 'two numbers or more',
    run: (xs, n) => each(n, (i) => pick(xs, i, Math.max)),
    sql: (xs) => sqlPick('greatest', xs),
  },
  change: {
    takes: [2, 2],
    says: 'two numbers',
    directed: true,
    run: ([x, y], n) => each(n, (i) => x[i] - y[i]),
    sql: ([x, y]) => `(${x.sql} - ${y.sql})`,
  },
  /** (x − y) ÷ y; missing for a base of zero or less, where a share has no meaning. */
  percentChange: {
    takes: [2, 2],
    says: 'two numbers',
    share: true,
    directed: true,
    base: 1,
    run: ([x, y], n) => each(n, (i) => (y[i] > 0 ? (x[i] - y[i]) / y[i] : Number.NaN)),
    sql: ([x, y]) => `(CASE WHEN ${y.sql} > 0 THEN (${x.sql} - ${y.sql}) / ${y.sql} END)`,
    decimals: () => undefined,
  },
}

/**
 * Functions of a text that give a text. They do not depend on a language, so that every machine
 * agrees.
 */
export const WORDINGS = ['lowercase', 'uppercase'] as const
export type Wording = (typeof WORDINGS)[number]

export function isWording(name: string): name is Wording {
  return (WORDINGS as readonly string[]).includes(name)
}

/** Applied to each distinct word. */
export function wording(name: Wording, word: string): string {
  return name === 'lowercase' ? word.toLowerCase() : word.toUpperCase()
}

/** Missing if one argument is, as in memory: databases would take the others. */
function sqlPick(name: 'least' | 'greatest', args: readonly SqlArgument[]): string {
  const missing = args.map(({ sql }) => `${sql} IS NULL`).join(' OR ')
  return `(CASE WHEN ${missing} THEN NULL ELSE ${name}(${args.map(({ sql }) => sql).join(', ')}) END)`
}

function each(n: number, f: (i: number) => number): Float64Array {
  const out = new Float64Array(n)
  for (let i = 0; i < n; i++) out[i] = f(i)
  return out
}

function pick(xs: readonly Float64Array[], i: number, f: (a: number, b: number) => number): number {
  let best = xs[0][i]
  for (let k = 1; k < xs.length; k++) best = f(best, xs[k][i])
  return best
}

function roundTo(x: number, digits: number): number {
  if (Number.isNaN(x) || Number.isNaN(digits)) return Number.NaN
  // By decimal text of 15 digits, as databases do: 1.005 rounds to 1.01, and a computed 2.675 to
  // 2.68.
  const shift = (value: number, by: number): number => {
    const [mantissa, exponent = '0'] = String(value).split('e')
    return Number(`${mantissa}e${Number(exponent) + by}`)
  }
  const places = Math.trunc(digits)
  const plain = Number(Math.abs(x).toPrecision(15))
  return Math.sign(x) * shift(Math.round(shift(plain, places)), -places)
}
