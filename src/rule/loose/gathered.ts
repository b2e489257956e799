import type { NamedThing, SentenceNames } from '../grammar/names.js'
import type { Chunk } from './chunk.js'
import type { Guess } from './guess.js'
import type { Prose } from './prose.js'

/** The most measures that are offered where none is named. */
const MOST_MEASURES = 4

/** What a text in free speech was found to speak of. */
export interface Gathered {
  chunks: readonly Chunk[]
  names: SentenceNames
  prose: Prose
  guess: Guess
  /** The text in the words that were recognised, in small letters. */
  text: string
}

/** Who is painted, and what decides. */
export interface Subject {
  paint: string | readonly string[]
  judge?: string
  only?: readonly string[]
}

export function thingOf({ names }: Pick<Gathered, 'names'>, id: string): NamedThing | undefined {
  return names.values.find((one) => one.id === id)
}

function isKey(from: Gathered, id: string): boolean {
  return thingOf(from, id)?.is === 'key'
}

/** The values that are named as subjects, each once. */
function subjects({ chunks }: Gathered): string[] {
  return [...new Set(chunks.flatMap((chunk) => (chunk.is === 'name' ? chunk.ids : [])))]
}

/** One of the measures of the report: those of a table that is named, then those that are shown. */
export function someMeasure({ names: { exhibits, values }, guess, prose, text, chunks }: Gathered): string | undefined {
  const shown = exhibits.find(({ id }) => id === prose.exhibit)?.shows ?? []
  // An amount is compared with amounts, and nothing with itself.
  const limits = chunks.flatMap((chunk) => (chunk.is === 'test' ? Object.values(chunk.test).map(String) : []))
  const compared = values.filter(({ id }) => limits.includes(id))
  const isAmount = /[€£$]|\beuros?\b|\b\d{3,}\b(?!%)/.test(text) || compared.some((one) => one.isShare !== true)
  const measures = values
    .filter((one) => one.is === 'measure' && !compared.includes(one) && !(isAmount && one.isShare === true))
    .map(({ id }) => id)
  const all = [shown, ...exhibits.map(({ shows = [] }) => shows), measures].flat()
  const ways = [...new Set(all.filter((id) => measures.includes(id)))].slice(0, MOST_MEASURES)
  return ways.length === 0 ? undefined : guess.pick('measure', ways)
}

/** Whether a scale is spoken of, which compares inside what it is split by. */
const SCALED = /\b(?:shade[sd]?|gradient|heat ?map|scale)\b/

/**
 * The subject of a rule: a key by what decides, a measure, or rows.
 *
 * @param isTested whether numbers are compared, which a key does not have.
 */
export function subjectOf(from: Gathered, isTested: boolean): Subject | undefined {
  const { chunks, prose } = from
  const named = subjects(from)
  const keys = named.filter((id) => isKey(from, id))
  const judge = chunks.flatMap((chunk) => (chunk.is === 'judge' ? chunk.ids : []))[0]
  // What is said of one table alone is no subject.
  const scoped = chunks.some(({ is }) => is === 'only')
  const only = prose.exhibit === undefined || scoped ? {} : { only: [prose.exhibit] }
  const measures = named.filter((id) => !keys.includes(id))
  const decides = judge ?? measures[0]
  if (chunks.some(({ is }) => is === 'rows') || prose.valued !== undefined) {
    const by = prose.valued?.key ?? judge ?? named[0]
    return by === undefined ? undefined : { paint: 'row', judge: by, ...only }
  }
  if (chunks.some(({ is }) => is === 'every')) return { paint: 'all', ...only }
  if (keys.length > 0) {
    if (!isTested) return { paint: keys[0], ...(judge !== undefined && { judge }), ...only }
    const by = decides ?? someMeasure(from)
    return by === undefined ? undefined : { paint: keys[0], judge: by, ...only }
  }
  if (measures.length > 0)
    return { paint: measures[0], ...(judge !== undefined && judge !== measures[0] && { judge }), ...only }
  if (prose.exhibit !== undefined) {
    const by = judge ?? someMeasure(from)
    return by === undefined ? undefined : { paint: 'row', judge: by, ...only }
  }
  const measure = judge ?? someMeasure(from)
  return measure === undefined ? undefined : { paint: measure }
}

/** Scopes and what stands at the end, the first of each. */
export function scopesOf({ chunks, text }: Gathered): Record<string, unknown> {
  const rule: Record<string, unknown> = {}
  for (const chunk of chunks) {
    if ((chunk.is === 'grain' || chunk.is === 'within') && !('within' in rule) && !('grain' in rule))
      rule[SCALED.test(text) && !/\bby\b/.test(text) ? 'within' : chunk.is] =
        chunk.ids.length === 1 ? chunk.ids[0] : chunk.ids
    if (chunk.is === 'only') rule.only ??= chunk.ids
    if (chunk.is === 'extra')
      for (const [key, value] of Object.entries(chunk.keys))
        rule[key] ??= value === 'totals' ? ['subtotal', 'total'] : value
  }
  return rule
}
