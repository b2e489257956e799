import type { SourceSpec } from '../spec/sources.js'

/** What says which rows a source has. */
const PLACES = ['file', 'postgres', 'table', 'query'] as const

/** The keys of a source that say which rows it has. */
export function placeOf(spec: SourceSpec): Readonly<Record<string, string | undefined>> {
  return Object.fromEntries(PLACES.flatMap((key) => (spec[key] === undefined ? [] : [[key, spec[key]] as const])))
}
