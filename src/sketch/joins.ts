import type { ColumnFacts } from './facts.js'

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
