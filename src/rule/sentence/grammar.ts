import { problem } from '../../problem/problem.js'
import type { LevelName } from '../../spec/rules.js'
import { condition, end, judged, LIMIT_EBNF, readNames } from '../grammar/expressions.js'
import {
  anyOrder,
  either,
  joined,
  type Leaf,
  named,
  type Part,
  type Production,
  sequence,
  sets,
  sign,
  slot,
  words,
} from '../grammar/productions.js'
import type { SentenceReader } from '../grammar/reader.js'
import { STYLE_EBNF } from '../grammar/results.js'
import { namesInSentence } from '../grammar/words.js'
import { CHECKS } from '../kinds/checks.js'
import { LEVELS } from '../levels.js'

/** Names in a list; a single one stands for itself. */
const names: Leaf<string | readonly string[]> = {
  ebnf: 'names',
  read(reader) {
    const list = readNames(reader)
    return list?.length === 1 ? list[0] : list
  },
  write: (value) => namesInSentence(typeof value === 'string' ? [value] : value),
}
const keys: Leaf<string | readonly string[]> = {
  ...names,
  read(reader) {
    const list = readNames(reader, 'values', false, 'a key')
    return list?.length === 1 ? list[0] : list
  },
}
const exhibits: Leaf<readonly string[]> = {
  ebnf: 'names',
  read: (reader) => readNames(reader, 'exhibits'),
  write: namesInSentence,
}

/** Rows and every measure are words; `paint: [row]` is `paint: row`. */
const painted: Production & { body: string } = {
  ...named('what', either(sets('paint', 'row', 'rows'), sets('paint', 'all', 'every measure'), slot('paint', names))),
  write({ paint }) {
    const list = typeof paint === 'string' ? [paint] : (paint as readonly string[])
    if (paint === 'all') return 'every measure'
    return list.length === 1 && list[0] === 'row' ? 'rows' : namesInSentence(list)
  },
}

const inBrackets = sequence(sign('('), slot('among', condition), sign(')'))
const SCOPES = [
  sequence(words('of each'), slot('grain', keys)),
  sequence(words('in'), slot('only', exhibits)),
  sequence(words('judged by'), slot('judge', judged)),
  sequence(words('within'), slot('within', keys)),
  sequence(words('among'), either(sets('among', 'unfiltered', 'unfiltered'), inBrackets)),
]
/** A comma before a scope is read, and not written. */
const comma: Production = {
  ebnf: '[ "," ]',
  read(reader) {
    reader.sign(',')
    return {}
  },
  write: () => '',
}
const scopes = anyOrder(SCOPES, comma)
const where = sequence(words('where'), slot('where', condition))

/** What the words of levels are, from the most to the least of them. */
const LEVEL_WORDS: readonly (readonly [string, readonly LevelName[]])[] = [
  ['totals too', LEVELS],
  ['totals only', ['subtotal', 'total']],
  ['subtotals too', ['detail', 'subtotal']],
  ['subtotals only', ['subtotal']],
  ['grand total too', ['detail', 'total']],
  ['grand total only', ['total']],
]

const levels: Production = {
  ebnf: '( "totals" | "subtotals" | "grand" "total" ) ( "too" | "only" )',
  leads: LEVEL_WORDS.map(([text]) => text),
  read(reader) {
    for (const [text, value] of LEVEL_WORDS)
      if (reader.words(text)) return { levels: value === LEVELS ? 'all' : value.length === 1 ? value[0] : value }
    return undefined
  },
  write: ({ levels: written }) => {
    if (written === undefined) return undefined
    const list = written === 'all' ? LEVELS : typeof written === 'string' ? [written] : (written as readonly string[])
    return LEVEL_WORDS.find(([, value]) => LEVELS.every((level) => list.includes(level) === value.includes(level)))?.[0]
  },
}

const EXTRAS = [
  either(sets('hide', 'value', 'hide the number'), sets('hide', 'icon', 'hide the icon')),
  sets('icon', 'after', 'icon after the number'),
  levels,
  sets('oneScale', true, 'on one scale'),
  sets('final', true, 'final'),
  sets('unfinished', 'unpainted', 'unfinished periods unpainted'),
  sets('paused', true, 'paused'),
]
const extras = anyOrder(EXTRAS, sign(','))

const kinds = either(...Object.values(CHECKS).map(({ clauses }) => clauses))

/** Whether a clause of another kind follows; then the rule is written out as two. */
function isOfTwoKinds(reader: SentenceReader, first: number): boolean {
  const { at, text, tokens } = reader
  // Without remembering that a semicolon could stand here.
  if (reader.peek().kind !== 'mark' || reader.peek().text !== ';') return false
  if (reader.attempt(() => (reader.sign(';') ? kinds.read(reader) : undefined)) === undefined) return false
  const slice = (from: number, to: number): string => text.slice(tokens[from].from, tokens[to].to)
  const head = slice(0, first - 1)
  reader.at = at
  const last = tokens.length - 2
  reader.decide(
    problem(
      'sentence-two-kinds',
      { first: `${head} ${slice(first, at - 1)}`, second: `${head} ${slice(at + 1, last)}` },
      { text, from: tokens[at + 1].from, to: tokens[last].to },
    ),
  )
  return true
}

/** `revenue of each shop: at least target → ahead; otherwise → behind, totals too`. */
export const sentence: Production = {
  ebnf: 'what { [ "," ] scope } [ "where" condition ] ":" clauses { "," extra }',
  read(reader) {
    const part: Part = {}
    const take = (form: Production): boolean => {
      const read = form.read(reader)
      Object.assign(part, read)
      return read !== undefined
    }
    if (!take(painted)) return undefined
    // A condition is the last part: it reaches to the colon.
    take(scopes)
    take(where)
    if (!reader.sign(':')) return undefined
    const first = reader.at
    if (!take(kinds)) return undefined
    if (isOfTwoKinds(reader, first)) return undefined
    take(extras)
    return reader.peek().kind === 'end' ? part : reader.miss('the end') || undefined
  },
  write(part) {
    const head = joined([painted.write(part) ?? '', scopes.write(part) ?? '', where.write(part) ?? ''])
    return `${head}: ${kinds.write(part) ?? ''}${extras.write(part) ?? ''}`
  },
}

/** The forms of the grammar by name, as they are printed in its page. */
export const GRAMMAR: readonly (readonly [name: string, ebnf: string])[] = [
  ['sentence', sentence.ebnf],
  ['what', painted.body],
  ['names', 'name { "," name } [ "and" name ]'],
  ['scope', either(...SCOPES).ebnf],
  ['clauses', Object.keys(CHECKS).join(' | ')],
  ...Object.entries(CHECKS).flatMap(([key, { clauses }]): [string, string][] => [
    [key, clauses.ebnf],
    ...(clauses.parts ?? []).map(({ name, body }): [string, string] => [name, body]),
  ]),
  ['result', '( status | style ) { "and" style }'],
  ['style', STYLE_EBNF],
  ['size', 'number | percent | name'],
  ['literal', 'text | word | number | period | "true" | "false"'],
  ['end', end.ebnf],
  ['limit', 'sum'],
  ['primary', LIMIT_EBNF],
  ['extra', either(...EXTRAS).ebnf],
]
