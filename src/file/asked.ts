import type { ReportSpec } from '../spec/report.js'

/** The parts of a shared model that a report asks for. */
export interface Asked {
  measures: ReadonlySet<string>
  /** Names of fields, of whatever source. */
  fields: ReadonlySet<string>
  sources: ReadonlySet<string>
}

type Model = Pick<ReportSpec, 'measures' | 'fields' | 'sources'>

/**
 * Which measures, fields and sources of shared files a report asks for: those whose names occur in
 * it, and those that these are made of. Names are compared with the words of its texts: a word of a
 * title may ask for a measure in vain, and none is missed.
 *
 * @param own the report without what it includes, and the shared rules that it will apply.
 * @param model everything shared.
 */
export function askedOf(own: unknown, model: Model): Asked {
  const asked = { measures: new Set<string>(), fields: new Set<string>(), sources: new Set<string>() }
  const waiting: unknown[] = [own]
  const take = (name: string): void => {
    const { measures = {}, fields = {}, sources } = model
    if (Object.hasOwn(measures, name) && !asked.measures.has(name)) {
      asked.measures.add(name)
      waiting.push(measures[name])
    }
    if (!asked.fields.has(name))
      for (const ofSource of Object.values(fields))
        if (Object.hasOwn(ofSource, name)) {
          asked.fields.add(name)
          waiting.push(ofSource[name])
        }
    if (Object.hasOwn(sources, name) && !asked.sources.has(name)) {
      asked.sources.add(name)
      // A lookup table may be matched by a column of another one.
      waiting.push(sources[name].match)
    }
  }
  while (waiting.length > 0) for (const word of wordsOf(waiting.pop())) take(word)
  return asked
}

/** The words of all texts and keys of a part. */
export function wordsOf(part: unknown, words = new Set<string>()): ReadonlySet<string> {
  if (typeof part === 'string') for (const [word] of part.matchAll(/[\p{L}_][\p{L}\p{N}_]*/gu)) words.add(word)
  else if (typeof part === 'object' && part !== null)
    for (const [key, value] of Object.entries(part)) {
      if (!Array.isArray(part)) wordsOf(key, words)
      wordsOf(value, words)
    }
  return words
}
