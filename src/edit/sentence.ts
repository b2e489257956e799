import type { Path } from '../problem/problem.js'
import type { SentenceNames } from '../rule/grammar/names.js'
import { type ReadSentence, readSentence, writeSentence } from '../rule/sentence/parse.js'
import type { RuleSpec } from '../spec/rules.js'
import { isPlainMap, isSame } from './text/plain.js'

/** How a sentence is spelled anew. */
interface Spelled {
  /** The names afterwards; default: those before. */
  names?: SentenceNames
  /** Whether a part keeps its spelling though it now means another name: a label that stays. */
  isKept?: (written: string) => boolean
}

/**
 * A sentence after its rule was edited: only the parts that differ are written anew. Words for
 * which the writer chose another spelling stay where their part stays.
 *
 * @param before the names that the text was written with.
 * @returns undefined if no sentence says the rule.
 */
export function editedSentence(
  written: string,
  after: RuleSpec,
  before: SentenceNames,
  { names = before, isKept = () => false }: Spelled = {},
): string | undefined {
  // A block text ends with a line end, which is no part of the sentence.
  const text = written.trimEnd()
  const end = written.slice(text.length)
  const now = read(text, before)
  const canonical = sentenceOf(after)
  const next = canonical === undefined ? undefined : read(canonical, names)
  if (canonical === undefined || next === undefined || !isSameRule(next.spec, after)) return undefined
  if (now === undefined) return canonical + end
  const ways = [() => byTokens(text, now, canonical, next, isKept), () => byClauses(text, now, canonical)]
  for (const way of ways) {
    const made = way()
    const checked = made === undefined ? undefined : read(made, names)
    if (made !== undefined && checked !== undefined && isSameRule(checked.spec, after)) return made + end
  }
  return canonical + end
}

/** A rule as a sentence; undefined for one that lacks parts, as a draft may. */
export function sentenceOf(rule: RuleSpec): string | undefined {
  try {
    return writeSentence(rule)
  } catch (error) {
    if (error instanceof TypeError) return undefined
    throw error
  }
}

function read(text: string, names: SentenceNames): ReadSentence | undefined {
  const found = readSentence(text, names)
  return 'code' in found ? undefined : found
}

/** Whether two rules say the same: a list of one is its entry, and digits are a number. */
export function isSameRule(a: RuleSpec, b: RuleSpec): boolean {
  return isSame(a, b) || isSame(plainest(a), plainest(b))
}

function plainest(value: unknown): unknown {
  if (Array.isArray(value)) {
    const [first] = value
    return value.length === 1 && typeof first !== 'object' ? plainest(first) : value.map(plainest)
  }
  if (isPlainMap(value)) return Object.fromEntries(Object.entries(value).map(([key, item]) => [key, plainest(item)]))
  return typeof value === 'string' && /^-?\d+(?:\.\d+)?$/.test(value) ? Number(value) : value
}

/** Writes the values that differ in their places, where both rules have the same parts. */
function byTokens(
  text: string,
  now: ReadSentence,
  canonical: string,
  next: ReadSentence,
  isKept: (written: string) => boolean,
): string | undefined {
  const paths = differences(now.spec, next.spec, [])
  if (paths === undefined || paths.length === 0) return undefined
  const edits: { from: number; to: number; written: string }[] = []
  for (const path of paths) {
    const [own, other] = [spanOf(now, path), spanOf(next, path)]
    if (own === undefined || other === undefined) return undefined
    const written = canonical.slice(other.from, other.to)
    if (!isKept(text.slice(own.from, own.to))) edits.push({ from: own.from, to: own.to, written })
  }
  edits.sort((a, b) => b.from - a.from)
  let made = text
  let limit = Number.POSITIVE_INFINITY
  for (const { from, to, written } of edits) {
    // A part that holds another one is written once.
    if (to > limit) return undefined
    made = made.slice(0, from) + written + made.slice(to)
    limit = from
  }
  return made
}

function spanOf({ spans }: ReadSentence, path: Path): { from: number; to: number } | undefined {
  return spans.find(({ path: own }) => own.length === path.length && own.every((key, i) => key === path[i]))
}

/** The paths of the leaves that differ; undefined where the parts differ, too. */
function differences(a: unknown, b: unknown, path: Path): Path[] | undefined {
  if (isSame(a, b)) return []
  if (isPlainMap(a) && isPlainMap(b)) {
    const keys = Object.keys(a)
    if (keys.length !== Object.keys(b).length || keys.some((key) => !Object.hasOwn(b, key))) return undefined
    return joined(keys.map((key) => differences(a[key], b[key], [...path, key])))
  }
  if (Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.some((item) => isPlainMap(item)))
    return joined(a.map((item, i) => differences(item, b[i], [...path, i])))
  return [path]
}

function joined(lists: readonly (Path[] | undefined)[]): Path[] | undefined {
  const all: Path[] = []
  for (const list of lists) {
    if (list === undefined) return undefined
    all.push(...list)
  }
  return all
}

/** Keeps each clause that says the same, and writes the others anew. */
function byClauses(text: string, now: ReadSentence, canonical: string): string | undefined {
  const [own, before, after] = [text, writeSentence(now.spec), canonical].map(clausesOf)
  if (own.length !== before.length) return undefined
  const taken = new Set<number>()
  const parts = after.map((part, i) => {
    const same = (k: number): boolean => before[k]?.text === part.text && !taken.has(k) && (k === 0) === (i === 0)
    const k = same(i) ? i : before.findIndex((_, at) => same(at))
    if (k < 0) return part.text
    taken.add(k)
    return own[k].text
  })
  return parts.map((part, i) => `${i === 0 ? '' : after[i].mark}${i === 0 ? '' : ' '}${part}`).join('')
}

/** The head of a sentence, its clauses, and what stands at its end, with the mark before each. */
function clausesOf(text: string): { mark: string; text: string }[] {
  const parts: { mark: string; text: string }[] = []
  let mark = ''
  let from = 0
  let depth = 0
  let quote = ''
  for (let i = 0; i <= text.length; i++) {
    const c = text[i]
    if (quote !== '') {
      if (c === quote) quote = ''
    } else if (c === "'" || c === '"') quote = c
    else if (c === '(') depth++
    else if (c === ')') depth--
    const isHead = parts.length === 0
    const isMark =
      quote === '' && depth === 0 && (isHead ? c === ':' : c === ';' || (c === ',' && !/\d/.test(text[i + 1] ?? '')))
    if (i < text.length && !isMark) continue
    parts.push({ mark, text: text.slice(from, i).trim() })
    mark = c
    from = i + 1
  }
  return parts
}
