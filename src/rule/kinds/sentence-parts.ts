import { colorText } from '../../color/color.js'
import { parseColor } from '../../color/parse.js'
import { HOUSE_PIGMENTS } from '../../color/pigments.js'
import { isTree, parseExpression } from '../../expression/parse.js'
import { printExpression, printSum, quoteText } from '../../expression/print.js'
import { RESERVED } from '../../expression/reserved.js'
import { type Tree, treeParts } from '../../expression/tree.js'
import type { Limit, Outcome, RuleSpec, Style } from '../../spec/rules.js'
import { ordinal } from './limit-text.js'

/**
 * Writes the parts of a rule in a sentence: `revenue: at least target → ahead`. The `sentence.ts`
 * of each kind uses these for its clauses.
 */

/** Writes the clauses of a kind: the text after the colon of a sentence. */
export type WriteClauses = (spec: RuleSpec) => string

/** Words of the grammar of sentences; a name that equals one is quoted. */
const WORDS: ReadonlySet<string> = new Set(
  `of each in judged by within all among unfiltered where and or not at least most above below is contains
  when missing otherwise top bottom best worst split making next shade icons bar fading with for negatives
  from to through around steps as status fill text icon picture column flag no number hide the totals
  subtotals grand total too only on one scale final paused rows every measure bold good bad lowest highest
  average median percentile range ${[...RESERVED].join(' ')}`.split(/\s+/),
)

/** A name in a sentence: in double quotes if it is ambiguous. */
export function nameInSentence(name: string): string {
  const plain = /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name)
  return plain && !WORDS.has(name.toLowerCase()) && !isColor(name) ? name : `"${name.replaceAll('"', '""')}"`
}

/** `a`, `a and b`, `a, b and c`, each as a name. */
export function namesInSentence(names: readonly string[]): string {
  const parts = names.map(nameInSentence)
  return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`
}

function isColor(text: string): boolean {
  return text === 'paper' || text === 'soot' || Object.hasOwn(HOUSE_PIGMENTS, text) || parseColor(text) !== undefined
}

/** A colour: a word as written, else `#rrggbb`. */
export function colorInSentence(text: string): string {
  if (/^\p{L}+$/u.test(text)) return text
  const color = parseColor(text)
  return color === undefined ? nameInSentence(text) : colorText(color)
}

/** An icon: a word, or a step of a family such as `petals-2-of-5`. */
export function iconInSentence(name: string): string {
  return /^\p{L}+-\d+-of-\d+$/u.test(name) ? name : nameInSentence(name)
}

/** A plain value: a word without quotes unless it is ambiguous. */
export function literalInSentence(value: string | number | boolean): string {
  if (typeof value !== 'string') return String(value)
  if (/^\d{4}(-[\dQW-]+)?$/.test(value)) return value
  return nameInSentence(value) === value ? value : quoteText(value)
}

const STATISTICS: Readonly<Record<string, string>> = {
  mean: 'average',
  median: 'median',
  lowest: 'lowest',
  highest: 'highest',
}

/** A limit: a statistic of the judged values in words, else an expression. */
export function limitInSentence(limit: Limit): string {
  const tree = parsed(limit)
  if (tree === undefined) return String(limit)
  if (tree.op === 'name' && tree.source === undefined)
    return tree.name === 'lowest' || tree.name === 'highest' ? `the ${tree.name}` : nameInSentence(tree.name)
  return statisticWords(tree) ?? printSum(tree)
}

/** An end of a scale: like a limit, but `lowest` and `highest` have no article. */
export function endInSentence(limit: Limit): string {
  const text = limitInSentence(limit)
  return text === 'the lowest' || text === 'the highest' ? text.slice(4) : text
}

/** The expression of `judge`: in brackets if it contains a call. */
export function judgeInSentence(text: string): string {
  const tree = parsed(text)
  if (tree === undefined) return text
  if (tree.op === 'name' && tree.source === undefined) return nameInSentence(tree.name)
  return treeParts(tree).some(({ op }) => op === 'call') ? `(${printExpression(tree)})` : printSum(tree)
}

/** A condition after `where` or `when`. */
export function conditionInSentence(text: string): string {
  const tree = parsed(text)
  return tree === undefined ? text : printExpression(tree)
}

function parsed(text: Limit): Tree | undefined {
  // A number without an exponent: an expression would read its sign as arithmetic.
  const tree = parseExpression(String(text).replace('e+', 'e'))
  return isTree(tree) ? tree : undefined
}

function statisticWords(tree: Tree): string | undefined {
  if (tree.op !== 'call' || tree.where !== undefined) return undefined
  const [of, share] = tree.args
  if (of?.op !== 'name' || of.source !== undefined) return undefined
  const isPercentile = tree.name === 'percentile' && share?.op === 'number' && share.percent
  const statistic = isPercentile
    ? `${ordinal(share.value * 100)} percentile`
    : tree.args.length === 1 && Object.hasOwn(STATISTICS, tree.name)
      ? STATISTICS[tree.name]
      : undefined
  if (statistic === undefined) return undefined
  const whose = of.name === 'value' ? '' : ` of ${nameInSentence(of.name)}`
  const { within } = tree
  const group = within === undefined ? '' : ` within ${within.length === 0 ? 'all' : namesInSentence(within)}`
  return `the ${statistic}${whose}${group}`
}

/** The result of a band, rank or part: a status, a status with channels replaced, or a style. */
export function resultInSentence(outcome: Outcome | undefined, refined?: Style): string {
  const parts = typeof outcome === 'string' ? [nameInSentence(outcome)] : styleWords(outcome ?? {})
  return [...parts, ...styleWords(refined ?? {})].join(' and ')
}

/** Status and style of a band or part as written. */
export function writtenResult({ status, style }: { status?: string | undefined; style?: Style | undefined }): string {
  return status === undefined ? resultInSentence(style) : resultInSentence(status, style)
}

function styleWords({ wash, fill, ink, weight, icon, flag, picture, hide }: Style): string[] {
  const words: string[] = []
  if (wash !== undefined) words.push(colorInSentence(wash))
  if (fill !== undefined) words.push(`${colorInSentence(fill)} fill`)
  if (ink !== undefined) words.push(`${colorInSentence(ink)} text`)
  if (weight !== undefined) words.push(weight === 'bold' ? 'bold' : 'not bold')
  if (icon !== undefined) words.push(`icon ${iconInSentence(icon)}`)
  if (flag !== undefined) words.push(`flag ${quoteText(flag)}`)
  if (picture !== undefined) words.push(`picture ${quoteText(picture)}`)
  if (hide !== undefined) words.push(hide === 'value' ? 'no number' : 'no icon')
  return words
}

/** The written ends of a bar, or of a scale of icons. */
export function endsInSentence({
  from,
  to,
  around,
}: Partial<Readonly<Record<'from' | 'to' | 'around', Limit | undefined>>>): string {
  const low = from === undefined ? '' : ` from ${endInSentence(from)}`
  const high = to === undefined ? '' : ` to ${endInSentence(to)}`
  return `${low}${high}${around === undefined ? '' : ` around ${limitInSentence(around)}`}`
}
