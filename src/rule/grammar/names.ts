/** A name that a sentence may use: an id, and a label that readers see. */
export interface NamedThing {
  id: string
  label: string
}

/** The names that a sentence may use, by what they stand for. */
export interface SentenceNames {
  /** Measures, parameters, fields, columns and keys. */
  values: readonly NamedThing[]
  statuses: readonly NamedThing[]
  exhibits: readonly NamedThing[]
  /** The pigments of the report. */
  pigments: readonly string[]
}

export const NO_NAMES: SentenceNames = { values: [], statuses: [], exhibits: [], pigments: [] }

/** What a name stands for. */
export type NameKind = 'values' | 'statuses' | 'exhibits'

/**
 * The things that a written name can mean: the one with this id, else the one with this label, else
 * those with either in other letters.
 */
export function meantBy(things: readonly NamedThing[], written: string): readonly string[] {
  const exact = things.filter(({ id }) => id === written)
  if (exact.length > 0) return [written]
  const labelled = things.filter(({ label }) => label === written)
  const found = labelled.length > 0 ? labelled : things.filter((thing) => isAlike(thing, written))
  return [...new Set(found.map(({ id }) => id))]
}

function isAlike({ id, label }: NamedThing, written: string): boolean {
  const lower = written.toLowerCase()
  return id.toLowerCase() === lower || label.toLowerCase() === lower
}

/** Labels of several words, the longest first: they may be written without quotes. */
export function longLabels(things: readonly NamedThing[]): { id: string; words: string[] }[] {
  return things
    .flatMap(({ id, label }) => {
      const words = label.toLowerCase().split(/\s+/)
      return words.length > 1 && words.every((word) => /^[\p{L}_][\p{L}\p{N}_]*$/u.test(word)) ? [{ id, words }] : []
    })
    .sort((a, b) => b.words.length - a.words.length)
}
