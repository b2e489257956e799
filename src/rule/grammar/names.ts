/** A name that a sentence may use: an id, and a label that readers see. */
export interface NamedThing {
  id: string
  label: string
  /** Of a value: a key splits exhibits, a measure has a value in each cell. */
  is?: 'measure' | 'key' | 'parameter'
  /** Of a value: whether it is a share, such as a margin in percent. */
  isShare?: true
  /** Of a status. */
  verdict?: 'good' | 'fair' | 'bad'
  /** Of an exhibit: the measures and fields that it shows. */
  shows?: readonly string[]
}

/** The names that a sentence may use, by what they stand for. */
export interface SentenceNames {
  /** Measures, parameters, fields, columns and keys. */
  values: readonly NamedThing[]
  statuses: readonly NamedThing[]
  exhibits: readonly NamedThing[]
  /** The pigments of the report. */
  pigments: readonly string[]
  /** The key that has a value, in whatever letters; undefined if the data are not at hand. */
  keyWith?(value: string): { key: string; value: string } | undefined
}

export const NO_NAMES: SentenceNames = { values: [], statuses: [], exhibits: [], pigments: [] }

/** What a name stands for. */
export type NameKind = 'values' | 'statuses' | 'exhibits'

/** The ways to find a thing by what is written. */
interface NameIndex {
  ids: ReadonlySet<string>
  labels: ReadonlyMap<string, readonly string[]>
  /** Ids and labels in small letters. */
  lower: ReadonlyMap<string, readonly string[]>
  /** Labels of several words by their first word, the longest first. */
  long: ReadonlyMap<string, readonly LongLabel[]>
}

interface LongLabel {
  id: string
  words: readonly string[]
}

/** One index for each list: a report has many sentences. */
const INDEXES = new WeakMap<readonly NamedThing[], NameIndex>()

function indexOf(things: readonly NamedThing[]): NameIndex {
  const known = INDEXES.get(things)
  if (known !== undefined) return known
  const labels = new Map<string, string[]>()
  const lower = new Map<string, string[]>()
  const long = new Map<string, LongLabel[]>()
  const add = (map: Map<string, string[]>, key: string, id: string): void => {
    const ids = map.get(key)
    if (ids === undefined) map.set(key, [id])
    else if (!ids.includes(id)) ids.push(id)
  }
  for (const { id, label } of things) {
    add(labels, label, id)
    add(lower, id.toLowerCase(), id)
    add(lower, label.toLowerCase(), id)
    const words = label.toLowerCase().split(/\s+/)
    if (words.length < 2 || !words.every((word) => /^[\p{L}_][\p{L}\p{N}_]*$/u.test(word))) continue
    long.set(words[0], [...(long.get(words[0]) ?? []), { id, words }])
  }
  for (const list of long.values()) list.sort((a, b) => b.words.length - a.words.length)
  const index: NameIndex = { ids: new Set(things.map(({ id }) => id)), labels, lower, long }
  INDEXES.set(things, index)
  return index
}

/**
 * The things that a written name can mean: the one with this id, else those with this label, else
 * those with either in other letters.
 */
export function meantBy(things: readonly NamedThing[], written: string): readonly string[] {
  const { ids, labels, lower } = indexOf(things)
  return ids.has(written) ? [written] : (labels.get(written) ?? lower.get(written.toLowerCase()) ?? [])
}

/** The statuses of a verdict: `good`, `fair`, `bad`. */
export function statusesOf(statuses: readonly NamedThing[], verdict: string): readonly string[] {
  return statuses.filter((status) => status.verdict === verdict.toLowerCase()).map(({ id }) => id)
}

/** Labels of several words that begin with a word, the longest first: they need no quotes. */
export function longLabels(things: readonly NamedThing[], first: string): readonly LongLabel[] {
  return indexOf(things).long.get(first.toLowerCase()) ?? []
}
