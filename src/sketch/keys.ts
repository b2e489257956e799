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
    .sort((a, b) => a.inner.distinct - b.inner.distinct || b.outer.distinct - a.outer.distinct)
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

function plain(name: string): string {
  return name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')
}

function common(a: ColumnFacts, b: ColumnFacts): number {
  const words = new Set(a.words)
  const shared = b.words.filter((word) => words.has(word)).length
  return shared / Math.max(1, Math.min(a.words.length, b.words.length))
}
