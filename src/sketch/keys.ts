import type { ColumnFacts } from './facts.js'
import { MAX_KEY_VALUES, type RoleOf } from './roles.js'

/** Rows of a table, outermost first, and the other columns that split well. */
export interface Keys {
  rows: readonly ColumnFacts[]
  others: readonly ColumnFacts[]
  /** For a comment: `each shop has one region`. */
  because: string | undefined
}

/** More values than these make a table too long to read at once. */
const MAX_ROWS = 40

/** Groups of more values than these do not read as an outline. */
const MAX_OUTER = 12

/**
 * The keys of the table: a column inside the one that it determines (each shop has one region), or
 * the one with the fewest values.
 *
 * @param planned the keys that a plan has: where rows are split by another, it would be missing.
 */
export function keysOf(roles: readonly RoleOf[], planned?: ReadonlySet<string>): Keys {
  const splitting = roles.flatMap(({ role, facts }) => (['key', 'status', 'condition'].includes(role) ? [facts] : []))
  const names = roles.flatMap(({ role, facts }) =>
    role === 'name' && facts.distinct === facts.rows && facts.distinct <= MAX_ROWS ? [facts] : [],
  )
  const pool = splitting.filter(({ distinct, kind }) => kind === 'condition' || distinct <= MAX_KEY_VALUES)
  const nested = [...names, ...pool.filter(({ distinct, kind }) => kind === 'text' && distinct <= MAX_ROWS)]
    .flatMap((inner) =>
      pool.filter((outer) => outer !== inner && isOuter(outer, inner)).map((outer) => ({ inner, outer })),
    )
    .filter(({ inner }) => planned?.has(inner.name) !== false)
    // A hierarchy of the rows themselves comes before one that is looked up.
    .sort(
      (a, b) =>
        a.inner.distinct - b.inner.distinct ||
        Number(a.outer.plainName !== undefined) - Number(b.outer.plainName !== undefined) ||
        b.outer.distinct - a.outer.distinct,
    )
  const [best] = nested
  if (best !== undefined) {
    const rows = [best.outer, best.inner]
    return {
      rows,
      others: pool.filter((each) => !rows.includes(each)),
      because: `each ${best.inner.name} has one ${best.outer.name}`,
    }
  }
  const [first] = [...names, ...[...pool].sort((a, b) => rowOrder(a) - rowOrder(b))].filter(
    ({ name }) => planned?.has(name) !== false,
  )
  if (first === undefined) return { rows: [], others: [], because: undefined }
  return { rows: [first], others: pool.filter((each) => each !== first), because: undefined }
}

/** Keys with few values come first, but two values make a poor table. */
function rowOrder({ distinct }: ColumnFacts): number {
  return distinct < 3 ? MAX_KEY_VALUES + distinct : distinct
}

/** Whether each value of `inner` has a single value of `outer`, which has fewer. */
function isOuter(outer: ColumnFacts, inner: ColumnFacts): boolean {
  if (outer.kind !== 'text' || outer.distinct < 2 || outer.distinct > MAX_OUTER) return false
  return outer.distinct * 1.4 <= inner.distinct && determines(inner, outer)
}

/** Whether each value of a column goes with a single value of the other. */
function determines({ codes }: ColumnFacts, other: ColumnFacts): boolean {
  if (codes === undefined || other.codes === undefined) return false
  const partner = new Map<number, number>()
  for (let i = 0; i < codes.length; i++) {
    if (codes[i] < 0 || other.codes[i] < 0) continue
    const before = partner.get(codes[i])
    if (before === undefined) partner.set(codes[i], other.codes[i])
    else if (before !== other.codes[i]) return false
  }
  return partner.size > 1
}

/** A key that a further source shares with the first. */
export interface SharedKey {
  home: string
  other: string
}

/** Fewer common values do not make two columns the same key. */
const MIN_COMMON = 0.5

/**
 * The columns that a source shares with the first, by their names and values; names may differ in
 * case.
 */
export function sharedKeys(home: readonly ColumnFacts[], other: readonly ColumnFacts[]): SharedKey[] {
  return other.flatMap((column) => {
    if (column.kind !== 'text') return []
    const same = home.find((each) => each.kind === 'text' && plain(each.name) === plain(column.name))
    if (same === undefined) return []
    // A key of another name becomes a field, whose name has to be valid.
    const valid = same.name === column.name || /^\p{L}[\p{L}\p{N}_]*$/u.test(same.name)
    return valid && common(same, column) >= MIN_COMMON ? [{ home: same.name, other: column.name }] : []
  })
}

/** Which values of the first source a further one lacks, for a comment. */
export function lackingKeys(home: ColumnFacts | undefined, other: ColumnFacts | undefined): string[] {
  if (home === undefined || other === undefined) return []
  const has = new Set(other.words)
  return home.words.filter((word) => !has.has(word))
}

/** Fewer common values do not make two columns of unlike names the same key. */
const MOST_COMMON = 0.8

/**
 * The key of a lookup table: a column that has each of its values once, as the first source has
 * not; undefined if the other source is none. Names may differ, as those of `shop` and `shop_name`.
 */
export function lookupKey(home: readonly ColumnFacts[], other: readonly ColumnFacts[]): SharedKey | undefined {
  const pairs = other
    .filter((column) => isKeyKind(column) && column.missing === 0 && column.distinct === column.rows && column.rows > 1)
    .flatMap((column) =>
      home
        .filter((each) => each.kind === column.kind && each.distinct < each.rows - each.missing)
        .flatMap((each) => {
          const [a, b] = [plain(each.name), plain(column.name)]
          const share = common(each, column)
          const alike = a === b ? share >= MIN_COMMON : (a.includes(b) || b.includes(a)) && share >= MOST_COMMON
          return alike ? [{ key: { home: each.name, other: column.name }, rank: (a === b ? 1 : 0) + share }] : []
        }),
    )
  return pairs.sort((a, b) => b.rank - a.rank)[0]?.key
}

/** Texts and whole numbers name things; amounts do not. */
function isKeyKind({ kind, whole, low }: ColumnFacts): boolean {
  return kind === 'text' || (kind === 'number' && whole && low >= 0)
}

/**
 * A column of a lookup table as one of the rows that look it up.
 *
 * @param name the name that it has there: `shops.town`
 */
export function lookedUp(home: ColumnFacts, key: ColumnFacts, column: ColumnFacts, name: string): ColumnFacts {
  const place = new Map(valuesOf(key).map((value, row) => [value, row]))
  const codes = Int32Array.from(valuesOf(home), (value) => {
    const row = value === undefined ? undefined : place.get(value)
    return row === undefined ? -1 : (column.codes?.[row] ?? -1)
  })
  const met = new Set(codes)
  met.delete(-1)
  const missing = codes.reduce((n, code) => n + (code < 0 ? 1 : 0), 0)
  return { ...column, name, plainName: column.name, rows: home.rows, codes, missing, distinct: met.size }
}

/** The value of each row: a text, a number, or undefined where it is missing. */
function valuesOf({ codes, words, values }: ColumnFacts): (string | number | undefined)[] {
  if (codes !== undefined) return Array.from(codes, (code) => (code < 0 ? undefined : words[code]))
  return Array.from(values ?? [], (x) => (Number.isNaN(x) ? undefined : x))
}

function plain(name: string): string {
  return name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')
}

function common(a: ColumnFacts, b: ColumnFacts): number {
  if (a.values !== undefined && b.values !== undefined) return commonOf(new Set(a.values), new Set(b.values))
  return commonOf(new Set(a.words), new Set(b.words))
}

function commonOf<T>(a: ReadonlySet<T>, b: ReadonlySet<T>): number {
  let shared = 0
  for (const value of b) if (a.has(value)) shared++
  return shared / Math.max(1, Math.min(a.size, b.size))
}
