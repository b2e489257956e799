import type { LevelName, RuleSpec } from '../../spec/rules.js'
import {
  conditionInSentence,
  judgeInSentence,
  nameInSentence,
  namesInSentence,
  type WriteClauses,
} from '../kinds/sentence-parts.js'

/**
 * A rule as one line of the grammar of rules, with names and limits as written: `revenue of each
 * shop: at least target → ahead; otherwise → behind`. `clauses` writes the part of its kind.
 */
export function ruleText(spec: RuleSpec, levels: readonly LevelName[], clauses: WriteClauses): string {
  const written = clauses(spec)
  const extras: string[] = []
  if (spec.hide !== undefined) extras.push(`hide the ${spec.hide === 'value' ? 'number' : 'icon'}`)
  if (spec.icon === 'after') extras.push('icon after the number')
  if (levels.join() !== 'detail') extras.push(levelWords(levels))
  if (spec.oneScale === true) extras.push('on one scale')
  if (spec.final === true) extras.push('final')
  if (spec.unfinished !== undefined) extras.push('unfinished periods unpainted')
  if (spec.paused === true) extras.push('paused')
  return `${paintedText(spec)}${scopeText(spec)}: ${[written, ...extras].join(', ')}`
}

function paintedText({ paint }: RuleSpec): string {
  const names = typeof paint === 'string' ? [paint] : paint
  if (paint === 'all') return 'every measure'
  return names.length === 1 && names[0] === 'row'
    ? 'rows'
    : names.length < 2
      ? nameInSentence(names[0] ?? '')
      : namesInSentence(names)
}

function scopeText({ grain, only, judge, within, among, where }: RuleSpec): string {
  const list = (names: string | readonly string[]): string =>
    namesInSentence(typeof names === 'string' ? [names] : names)
  const parts: string[] = []
  if (grain !== undefined) parts.push(` of each ${list(grain)}`)
  if (only !== undefined) parts.push(` in ${list(only)}`)
  if (judge !== undefined) parts.push(` judged by ${judgeInSentence(judge)}`)
  if (within !== undefined) parts.push(` within ${list(within)}`)
  if (among !== undefined)
    parts.push(among.trim() === 'unfiltered' ? ' among unfiltered' : ` among (${conditionInSentence(among)})`)
  if (where !== undefined) parts.push(` where ${conditionInSentence(where)}`)
  return parts.join('')
}

function levelWords(levels: readonly LevelName[]): string {
  const [detail, subtotal, total] = (['detail', 'subtotal', 'total'] as const).map((level) => levels.includes(level))
  const which = subtotal && total ? 'totals' : subtotal ? 'subtotals' : 'grand total'
  return `${which} ${detail ? 'too' : 'only'}`
}
