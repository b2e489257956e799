import { HOUSE_PIGMENTS } from '../../color/pigments.js'
import type { Token } from '../../expression/token.js'
import { checkShape, type Shape } from '../../shape/shape.js'
import { ICON_NAMES } from '../../style/icon-families.js'
import type { NamedThing, SentenceNames } from '../grammar/names.js'
import { SentenceReader } from '../grammar/reader.js'
import { tokenizeSentence } from '../grammar/tokens.js'
import { iconInSentence, nameInSentence } from '../grammar/words.js'
import { sentence } from './grammar.js'
import { MAX_SENTENCE_LENGTH } from './parse.js'

/** What may stand next in a sentence. */
export interface Completion {
  /** What is inserted in place of the text from `from` to the cursor. */
  text: string
  from: number
  is: 'word' | 'measure' | 'parameter' | 'key' | 'status' | 'exhibit' | 'color' | 'icon'
  /** What it means: the label of a name, the meaning of a word; empty where the text says it. */
  about: string
}

/** The meaning of the words that do not say it themselves. */
const MEANINGS: Readonly<Record<string, string>> = {
  rows: 'whole rows',
  'every measure': 'every measure of the report',
  'of each': 'cells that are split by a key',
  in: 'these exhibits alone, or one of these values',
  'judged by': 'another value decides',
  within: 'compared inside each',
  among: 'compared with these cells alone',
  where: 'these cells alone',
  'at least': 'this or more',
  'at most': 'this or less',
  when: 'a free condition',
  missing: 'a value that is missing',
  otherwise: 'all other values',
  best: 'the good end, by the direction of the measure',
  worst: 'the bad end, by the direction of the measure',
  split: 'parts from the best',
  making: 'those that make up a share of an amount',
  'shade from': 'a scale of colours',
  icons: 'icons from low to high',
  bar: 'a bar in each cell',
  '→': 'gets',
  ';': 'the next part',
  ',': 'more about the rule',
  final: 'no later rule paints what it matches',
  paused: 'kept, not applied',
  'totals too': 'details, subtotals and totals',
  'on one scale': 'one population of all that is painted',
}

const NAMES: Shape = { list: 'anything' }
const INPUT: Shape = {
  keys: { values: NAMES, statuses: NAMES, exhibits: NAMES, pigments: { list: 'text' }, 'keyWith?': 'function' },
}

/**
 * What may stand at the cursor of a sentence that is being typed, in the order of the grammar:
 * words of it, and names of the report. A word that is begun in front of the cursor narrows them.
 *
 * @param text the sentence so far.
 * @param cursor an offset in it; what stands behind is not read.
 * @param names the names of the report.
 * @returns nothing where the text in front of the cursor is no beginning of a sentence.
 * @throws ProblemError for input of another shape.
 */
export function completeSentence(text: string, cursor: number, names: SentenceNames): Completion[] {
  checkShape('text', text, ['text'])
  checkShape({ is: 'whole', min: 0 }, cursor, ['cursor'])
  checkShape(INPUT, names, ['names'])
  const before = text.slice(0, cursor)
  if (before.length > MAX_SENTENCE_LENGTH) return []
  // A form may have several words, of which the first are there: `at`, `in the`.
  for (const pattern of BEGUN) {
    const begun = pattern.exec(before)?.[0]
    const found = begun === undefined ? [] : completionsOf(before, before.length - begun.length, names)
    if (found.length > 0) return found
  }
  return []
}

/** What may be begun in front of the cursor: nothing or a word, two words, three words. */
const BEGUN = [
  /(?:["\p{L}_][\p{L}\p{N}_]*)?$/u,
  /["\p{L}_][\p{L}\p{N}_]*\s+(?:[\p{L}_][\p{L}\p{N}_]*)?$/u,
  /["\p{L}_][\p{L}\p{N}_]*\s+[\p{L}_][\p{L}\p{N}_]*\s+(?:[\p{L}_][\p{L}\p{N}_]*)?$/u,
]

function completionsOf(before: string, from: number, names: SentenceNames): Completion[] {
  const tokens = tokenizeSentence(before.slice(0, from))
  if (!Array.isArray(tokens)) return []
  const reader = new SentenceReader(before.slice(0, from), tokens, names)
  sentence.read(reader)
  const typed = before.slice(from).replace(/^"/, '').replace(/\s+/g, ' ').toLowerCase()
  const found = expectedAt(reader, tokens).flatMap((what) => itemsOf(what, names))
  const seen = new Set<string>()
  return found.flatMap((item) => {
    const isMeant =
      item.text.replace(/^"/, '').toLowerCase().startsWith(typed) ||
      (item.is !== 'word' && startsWith(item.about, typed))
    if (!isMeant || seen.has(item.text)) return []
    seen.add(item.text)
    return [{ ...item, from }]
  })
}

/** A label is found by the beginning of each of its words. */
function startsWith(label: string, typed: string): boolean {
  return (
    typed !== '' &&
    label
      .toLowerCase()
      .split(/\s+/)
      .some((word) => word.startsWith(typed))
  )
}

/** What was expected where the text ends; inside an expression a limit goes on. */
function expectedAt(reader: SentenceReader, tokens: readonly Token[]): readonly string[] {
  const end = tokens[tokens.length - 1]
  const { from } = reader.problem().place
  if (from !== undefined && from < end.from) return []
  return reader.problem().code === 'expression-end' ? ['a limit'] : reader.expected
}

type Item = Omit<Completion, 'from'>

function itemsOf(what: string, { values, statuses, exhibits, pigments }: SentenceNames): Item[] {
  if (what.startsWith("'")) {
    const word = what.slice(1, -1)
    return [{ text: word, is: 'word', about: MEANINGS[word] ?? '' }]
  }
  switch (what) {
    case 'a limit':
      return [...named(values), ...LIMIT_WORDS]
    case 'a key':
      return named([...values].sort((a, b) => Number(b.is === 'key') - Number(a.is === 'key')))
    case 'a name':
    case 'an expression':
    case 'a condition':
    case 'a measure':
    case 'a column':
      return named(values)
    case 'a count or a share':
      return named(values.filter(({ is }) => is === 'parameter'))
    case 'an exhibit':
      return exhibits.map((thing) => itemOf(thing, 'exhibit'))
    case 'a status, or a style: bold, aqua, icon up':
      return statuses.map((thing) => itemOf(thing, 'status'))
    case 'a pigment':
      return colors(pigments)
    case 'a colour':
      return [...colors(pigments), ...colorItems(['paper', 'soot'])]
    case 'an icon':
      return ICON_NAMES.map((name): Item => ({ text: iconInSentence(name), is: 'icon', about: '' }))
    default:
      return []
  }
}

const LIMIT_WORDS: readonly Item[] = [
  ['the average', 'of the judged values'],
  ['the median', 'of the judged values'],
  ['the lowest', 'of the judged values'],
  ['the highest', 'of the judged values'],
  ['the 95th percentile', 'of the judged values'],
].map(([text, about]) => ({ text, is: 'word', about }))

function named(values: readonly NamedThing[]): Item[] {
  return values.map((thing) => itemOf(thing, thing.is ?? 'measure'))
}

function itemOf({ id, label }: NamedThing, is: Item['is']): Item {
  return { text: nameInSentence(id), is, about: label === id ? '' : label }
}

function colors(own: readonly string[]): Item[] {
  return colorItems([...own, ...Object.keys(HOUSE_PIGMENTS)])
}

function colorItems(names: readonly string[]): Item[] {
  return names.map((text) => ({ text, is: 'color', about: '' }))
}
