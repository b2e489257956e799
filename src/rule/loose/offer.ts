import type { BandSpec, Limit, RuleSpec } from '../../spec/rules.js'
import type { SentenceNames } from '../grammar/names.js'
import { readSentence, writeSentence } from '../sentence/parse.js'
import { bandsOf, type Clause, rankOf } from './assemble.js'
import type { Chunk } from './chunk.js'
import { arrowsOf, barOf, columnOf, shadeOf } from './concepts.js'
import { type Gathered, type Subject, scopesOf, subjectOf, thingOf } from './gathered.js'
import { everyWay, type Guess } from './guess.js'
import { Prose } from './prose.js'
import { rewrite } from './rewrite.js'
import { looseTokens } from './tokens.js'

/** The most sentences that are offered for a text. */
const MOST_OFFERS = 4
/** A text this long is no rule; nothing is offered for it. */
const MAX_LENGTH = 400

const RANKED = /\b(?:top|bottom|best|worst|biggest|largest|smallest)\b|\b(?:highest|lowest) \d|\d (?:highest|lowest)\b/

/**
 * Sentences that a text in free speech may mean, the likeliest first. What is not said is filled
 * in: bold where no look is named, the first measures where none is. None of them is a reading: the
 * one who wrote the text chooses.
 *
 * @returns an empty list where nothing of the text is recognised.
 */
export function offersFor(text: string, names: SentenceNames): string[] {
  if (text.length > MAX_LENGTH) return []
  const make = (guess: Guess): string | undefined => {
    const rule = ruleMeant(text, names, guess)
    if (rule === undefined) return undefined
    const sentence = writeSentence(rule as unknown as RuleSpec)
    return 'code' in readSentence(sentence, names) ? undefined : sentence
  }
  return everyWay(make, MOST_OFFERS, (sentence) => sentence)
}

function ruleMeant(text: string, names: SentenceNames, guess: Guess): Record<string, unknown> | undefined {
  const plain = rewrite(text, guess)
  const low = plain.toLowerCase()
  const tokens = looseTokens(plain, true)
  if (tokens === undefined || tokens.length === 0 || tokens.length > 120) return undefined
  const prose = new Prose(tokens, names, guess, {
    isFill: /\b(?:fill|highlight\w*|shaded|yellow background)\b/.test(low),
    isText: /\b(?:text|font)\b/.test(low),
    isSplit: /\b(?:half|next|split|fifth)\b|\b(?:rank|ranked)\b.*\d.*\d/.test(low) && !/\beach half\b/.test(low),
    isIcons: /\barrows?\b|\bicons?\b/.test(low),
    isRanked: RANKED.test(low),
    isBold: /\bbold\b/.test(low),
    isBoth: /\beither way\b/.test(low),
    isShare:
      !/[<>]|\beither way\b|\b(?:over|under|above|below|least|most|than|from|between|top|bottom|best|worst)\b/.test(
        low,
      ),
    isColumn: /\bcol(?:umn)?\b/.test(low),
  })
  const chunks = prose.chunks() ?? []
  const from: Gathered = { chunks, names, prose, guess, text: low }
  // Something must have been recognised.
  if (chunks.every(({ is }) => is === 'break' || is === 'and' || is === 'arrow')) return undefined
  const bar = barOf(from)
  const column = bar === undefined ? columnOf(from) : undefined
  if (column !== undefined) return column
  const drawn = bar ?? arrowsOf(from) ?? shadeMeant(from)
  if (drawn !== undefined) {
    const found = subjectOf(from, true)
    // A scale over a table is one over what it shows.
    const { judge, ...whole } = found ?? {}
    const subject = found?.paint === 'row' && judge !== undefined ? { ...whole, paint: judge } : found
    const { hide: _, ...scopes } = scopesOf(from)
    return subject === undefined ? undefined : shares({ ...subject, ...scopes, ...drawn }, from)
  }
  return decided(from)
}

/** Three colours of which two are beside limits are bands, or a scale. */
function shadeMeant(from: Gathered): Record<string, unknown> | undefined {
  const shade = shadeOf(from)
  const tests = from.chunks.filter(({ is }) => is === 'test').length
  const isBoth = shade !== undefined && tests > 1
  return isBoth && from.guess.pick('kind', ['shade', 'bands']) === 'bands' ? undefined : shade
}

/** A rule of tests and results: bands, a rank, a split. */
function decided(from: Gathered): Record<string, unknown> | undefined {
  const { text } = from
  const clauses = clausesMeant(from)
  if (clauses.length === 0) return undefined
  const isEvery = clauses.every(({ test }) => test.is === 'missing' || test.is === 'otherwise')
  const isText = clauses.every(({ test }) => test.is === 'test' && 'equals' in test.test)
  const making = clauses.find(({ test }) => test.is === 'rank' && test.end === 'making')?.test
  const subject =
    isEvery && !from.chunks.some(({ is }) => is === 'name') && from.prose.exhibit === undefined
      ? { paint: 'all' }
      : subjectOf(from, !isText && !isEvery)
  if (subject === undefined) return undefined
  const judge = making?.is === 'rank' && subject.paint !== making.of ? { judge: making.of } : {}
  const kind = clauses[0].test.is === 'rank' ? rankMeant(clauses, subject, from) : { bands: clauses.flatMap(bandsOf) }
  if (kind === undefined) return undefined
  if (SAYS_VALUE.test(text)) for (const { result } of clauses) sayValue(result)
  const { hide: _, ...scopes } = scopesOf(from)
  return shares({ ...subject, ...judge, ...scopes, ...kind }, from)
}

/** Ranks: the last part of a whole is all others; a share may be of the cells or of the amount. */
function rankMeant(
  clauses: readonly Clause[],
  { paint, judge }: Subject,
  { text, guess }: Gathered,
): Record<string, unknown> | undefined {
  const [{ test, result }] = clauses
  if (test.is !== 'rank') return undefined
  const isMaking = test.end === 'making'
  const amount = isMaking ? test.of : (judge ?? paint)
  const isOf = isMaking || (test.end === 'top' && /\btop \d+% of \p{L}+/u.test(text) && judge === undefined)
  if (isOf && clauses.length === 1 && !/\bmak(?:e|es|ing)\b/.test(text)) {
    const ways = [
      { ...test, end: 'making' as const, of: String(amount) },
      { ...test, end: 'top' as const },
    ]
    return rankOf([{ test: guess.pick('share', isMaking ? ways : ways.toReversed()), result }])
  }
  const whole = clauses.reduce(
    (sum, { test: one }) => sum + (one.is === 'rank' ? Number.parseFloat(String(one.size)) : 0),
    0,
  )
  const last = clauses.at(-1)
  const isWhole = clauses.length > 1 && whole >= 100 && last?.test.is === 'rank'
  return rankOf(
    isWhole && last !== undefined ? [...clauses.slice(0, -1), { ...last, test: { is: 'otherwise' } }] : clauses,
  )
}

/** Tests with their results, each in the order of speech; what lacks a result is bold. */
function clausesMeant({ chunks, prose, text }: Gathered): Clause[] {
  const clauses: Clause[] = []
  let test: Clause['test'] | undefined
  let result: Clause['result'] | undefined
  let isJoined = false
  let isAdjacent = false
  /** Where results stand before their tests, the next one belongs to the next test. */
  let isResultFirst = false
  const isBoth = /\beither way\b/.test(text)
  const add = (found: Clause['test'], own: Clause['result']): void => {
    clauses.push({ test: isBoth && found.is === 'test' ? beyond(found) : found, result: own })
  }
  for (const chunk of chunks) {
    if (chunk.is === 'and') isJoined = true
    if (isTest(chunk)) {
      if (result !== undefined && test === undefined) {
        add(chunk, result)
        result = undefined
        isResultFirst = true
      } else if (test === undefined) test = chunk
      else if (test.is === 'test' && chunk.is === 'test') test = { ...test, test: { ...test.test, ...chunk.test } }
    } else if (chunk.is === 'result') {
      const own = {
        ...(chunk.status !== undefined && { status: chunk.status }),
        ...(chunk.style && { style: chunk.style }),
      }
      const last = clauses.at(-1)
      if (result !== undefined) result = merged(result, own)
      else if (test !== undefined) {
        add(test, own)
        test = undefined
      } else if (last !== undefined && own.style !== undefined && !isResultFirst && (isJoined || isAdjacent))
        last.result = merged(last.result, own)
      else result = own
    }
    if (chunk.is !== 'and') isJoined = false
    isAdjacent = chunk.is === 'result' || (isAdjacent && chunk.is === 'and')
  }
  if (test !== undefined && (test.is !== 'otherwise' || clauses.length === 0))
    add(test, result ?? { style: { weight: 'bold' } })
  else if (result !== undefined && prose.valued !== undefined)
    add({ is: 'test', test: { equals: prose.valued.value } }, result)
  return clauses
}

const SAYS_VALUE = /\b(?:with the|and the) (?:figure|value|number)\b|&\s*value\b|\+ no\b/

/** A flag that shows its number. */
function sayValue({ style }: Clause['result']): void {
  if (style?.flag !== undefined && !style.flag.includes('{value}')) style.flag += ' {value}'
}

function merged(a: Clause['result'], b: Clause['result']): Clause['result'] {
  return { ...a, ...b, ...((a.style ?? b.style) && { style: { ...a.style, ...b.style } }) }
}

function isTest(chunk: Chunk): chunk is Clause['test'] {
  return chunk.is === 'test' || chunk.is === 'missing' || chunk.is === 'otherwise' || chunk.is === 'rank'
}

/** A limit that holds either way: a bare one is what lies beyond it. */
function beyond(test: Extract<Chunk, { is: 'test' }>): Extract<Chunk, { is: 'test' }> {
  const [[key, limit], ...more] = Object.entries(test.test)
  return more.length > 0 ? test : { is: 'test', test: { [key === 'atLeast' ? 'above' : key]: limit }, both: true }
}

const LIMITS = ['atLeast', 'above', 'atMost', 'below'] as const

/** Shares of what: of the value that was named before; of nothing, where the measure is a share. */
function shares(rule: Record<string, unknown>, from: Gathered): Record<string, unknown> {
  const judged = [rule.judge ?? rule.paint].flat()[0]
  const isShare = thingOf(from, String(judged))?.isShare === true
  const isQuotient = String(judged).includes('/')
  const bands = rule.bands as BandSpec[] | undefined
  if (bands === undefined) return rule
  let of = from.prose.versus
  const known = bands.map((band) => {
    const next: Record<string, unknown> = { ...band }
    for (const key of LIMITS) {
      const limit = (band as Record<string, Limit | undefined>)[key]
      if (typeof limit === 'string' && /^\p{L}[\p{L}\p{N}_]*$/u.test(limit)) of = limit
      if (limit !== undefined)
        next[key] = shareOf(limit, { isShare, isQuotient }, () => of ?? compared(from, String(judged)))
    }
    return next
  })
  return { ...rule, bands: known }
}

function shareOf(
  limit: Limit,
  { isShare, isQuotient }: { isShare: boolean; isQuotient: boolean },
  of: () => string | undefined,
): Limit {
  if (typeof limit === 'number') return isShare && limit !== 0 ? `${Math.abs(limit) < 1 ? limit * 100 : limit}%` : limit
  if (isShare || isQuotient || !/^-?[\d.]+%$/.test(limit)) return limit
  const name = of()
  return name === undefined ? limit : `${limit} of ${name}`
}

/** What a measure is likely compared with: another one that is called a target or a plan. */
function compared({ names, guess }: Gathered, judged: string): string | undefined {
  const ways = names.values
    .filter(
      ({ id, label, is }) =>
        (is === 'measure' || is === 'parameter') &&
        id !== judged &&
        /target|plan|goal|budget|last/i.test(`${id} ${label}`),
    )
    .map(({ id }) => id)
  return ways.length === 0 ? undefined : guess.pick('of', ways)
}
