import { nearest } from '../../problem/nearest.js'
import { type Path, type Problem, problem } from '../../problem/problem.js'
import { RULE_SPEC } from '../../shape/rule-table.js'
import { validate } from '../../shape/shape.js'
import { SAID_RULE } from '../../shape/table.js'
import type { RuleSpec, SaidRule } from '../../spec/rules.js'
import type { SentenceNames } from '../grammar/names.js'
import type { Span } from '../grammar/reader.js'
import { offersFor } from '../loose/offer.js'
import { readLoosely } from '../loose/read.js'
import { placedInSentence, readSentence } from '../sentence/parse.js'

/** Rules of which none is a sentence any more. */
export interface SaidRules {
  /** Each rule in keys; null in place of a sentence that cannot be read. */
  rules: unknown
  problems: Problem[]
  /**
   * The rule of a sentence, read again with more names: what is called like a column is that
   * column, whatever label is written so. Undefined for a rule in keys.
   */
  again(index: number, names: SentenceNames): RuleSpec | undefined
  /** Whether a problem of the shape is that a sentence could not be read, which was told. */
  isTold(problem: Problem): boolean
  /**
   * A problem of a rule in keys, at its place in the sentence that it was.
   *
   * @param locate adds the place in the file.
   */
  place(problem: Problem, locate?: (problem: Problem) => Problem): Problem
}

/** A sentence in a list of rules. */
interface Said {
  text: string
  /**
   * Where the text stands: the rule itself, its `say`, or the key of a map of one entry, which is
   * the first part of the text.
   */
  path: Path
  /** Name and title. */
  more: object
  /** The keys beside the sentence, which have places of their own. */
  keys: readonly string[]
  isEntry: boolean
  spans: readonly Span[]
}

/** Sentences are offered for the first problems only: it takes some milliseconds each. */
const MOST_ADVISED = 5

const RULE_KEYS = Object.keys(RULE_SPEC.keys).map((key) => key.replace('?', ''))

/**
 * Turns the sentences of a list of rules into rules in keys. What is neither a sentence nor in keys
 * is left to the check of shapes.
 *
 * @param at the path of the list.
 */
export function saidRules(written: unknown, names: SentenceNames, at: Path): SaidRules {
  const problems: Problem[] = []
  const said = new Map<number, Said>()
  const unread = new Set<number>()
  /** Sentences that YAML reads as a map of one entry. */
  const entries = new Set<number>()
  if (!Array.isArray(written))
    return {
      rules: written,
      problems,
      again: () => undefined,
      isTold: () => false,
      place: (p, locate = same) => locate(p),
    }
  const rules = written.map((rule: unknown, i) => {
    const found = sentenceOf(rule, [...at, i], problems)
    if (found === undefined) return rule
    if (found === 'no text') {
      unread.add(i)
      return null
    }
    if (found.isEntry) entries.add(i)
    const read = readSentence(found.text, names)
    if ('code' in read) {
      const isAdvised = problems.length < MOST_ADVISED
      const p = isAdvised ? withAdvice(read, found.text, names) : read
      problems.push({ ...p, place: { ...read.place, path: found.path } })
      unread.add(i)
      return null
    }
    said.set(i, { ...found, spans: read.spans })
    return { ...found.more, ...read.spec }
  })
  return {
    rules,
    problems,
    again(index, known) {
      const found = said.get(index)
      const read = found === undefined ? undefined : readSentence(found.text, known)
      if (found === undefined || read === undefined || 'code' in read) return undefined
      said.set(index, { ...found, spans: read.spans })
      return { ...found.more, ...read.spec }
    },
    isTold({ place: { path = [] } }) {
      return path.length === at.length + 1 && at.every((key, k) => path[k] === key) && unread.has(Number(path.at(-1)))
    },
    place(p, locate = same) {
      const { path = [] } = p.place
      const index = at.every((key, k) => path[k] === key) ? Number(path[at.length]) : Number.NaN
      const found = said.get(index)
      const own = path.slice(at.length + 1)
      // The name and the title stand beside the sentence.
      const isSaid = found !== undefined && !found.keys.includes(String(own[0]))
      const located = locate(isSaid ? placedInSentence(p, own, found) : p)
      // The first part of a sentence without quotes is a key for YAML alone.
      return entries.has(index)
        ? { ...located, place: { ...located.place, path: path.slice(0, at.length + 1) } }
        : located
    },
  }
}

function same(p: Problem): Problem {
  return p
}

/** The sentence of a rule; undefined if it is in keys. */
function sentenceOf(rule: unknown, path: Path, problems: Problem[]): Omit<Said, 'spans'> | 'no text' | undefined {
  if (typeof rule === 'string') return { text: rule, path, more: {}, keys: [], isEntry: false }
  if (typeof rule !== 'object' || rule === null || Array.isArray(rule)) return undefined
  if ('say' in rule) {
    const checked = validate(SAID_RULE, rule, path)
    problems.push(...checked.problems)
    if (typeof rule.say !== 'string') return 'no text'
    const { say: _, ...more } = (checked.value ?? {}) as Partial<SaidRule>
    return { text: rule.say, path: [...path, 'say'], more, keys: Object.keys(rule), isEntry: false }
  }
  // `- revenue: at least target → ahead` without quotes is a map of one entry for YAML.
  const entries = Object.entries(rule)
  const [key, value] = entries[0] ?? []
  if (entries.length !== 1 || typeof value !== 'string') return undefined
  if (RULE_KEYS.includes(key) || nearest(key, RULE_KEYS) !== undefined) return undefined
  return { text: `${key}: ${value}`, path: [...path, key], more: {}, keys: [], isEntry: true }
}

/**
 * A text in other words is written out as the sentence that it would be. One without a colon is
 * seldom a sentence: a comma may have cut it in a list in brackets.
 */
function withAdvice(p: Problem, text: string, names: SentenceNames): Problem {
  const loose = readLoosely(text, names)
  if (loose !== undefined) return problem('sentence-meant', { sentence: loose.sentence }, p.place)
  const isCut = !text.includes(':') && text.trim() !== ''
  return withOffers(p, text, names) ?? (isCut ? problem('sentence-no-colon', { text }, p.place) : p)
}

/** Problems that ask what is meant, or say what is missing, where a whole sentence says less. */
const TELLING = [
  'sentence-empty',
  'sentence-too-long',
  'sentence-end',
  'sentence-bare-color',
  'sentence-two-kinds',
  'sentence-two-names',
  'sentence-test-twice',
  'sentence-status-or-style',
]

/** A problem with the sentences that the text may mean; undefined if there are none. */
export function withOffers(p: Problem, text: string, names: SentenceNames): Problem | undefined {
  const sentences = TELLING.includes(p.code) ? [] : offersFor(text, names)
  if (sentences.length === 0) return undefined
  const [sentence] = sentences
  return sentences.length === 1
    ? problem('sentence-meant', { sentence }, p.place)
    : problem('sentence-ways', { sentences }, p.place)
}
