import { joinWithAnd } from '../kinds/limit-text.js'
import { levelsText } from '../levels.js'
import type { BoundRule } from '../model.js'
import { createPhrases, type PhraseContext, subjectOf } from './phrases.js'

/** A rule as a sentence, with an explanation. */
export interface RuleSentence {
  rule: string
  title: string
  /**
   * One line of the grammar of rules, with names and limits as written: `revenue: at least target →
   * ahead; otherwise → behind`.
   */
  sentence: string
  /** The same with labels and computed limits, and the treatment of missing values. */
  explanation: string
}

/** One sentence for each written rule, whatever it paints. */
export function sentencesOf(rules: readonly BoundRule[], facts: PhraseContext): RuleSentence[] {
  const byIndex = new Map<number, BoundRule[]>()
  for (const rule of rules) byIndex.set(rule.index, [...(byIndex.get(rule.index) ?? []), rule])
  return [...byIndex.values()].map((group) => ({
    rule: group[0].name,
    title: group[0].title,
    sentence: group[0].text,
    explanation: explanationOf(group, facts),
  }))
}

/**
 * Explains a rule with labels and numbers. It is bound once for each target; equal explanations are
 * joined.
 */
function explanationOf(rules: readonly BoundRule[], facts: PhraseContext): string {
  const subjects = new Map<string, string[]>()
  for (const rule of rules) {
    const text = descriptionOf(rule, facts)
    subjects.set(text, [...(subjects.get(text) ?? []), subjectOf(rule, facts)])
  }
  const [first] = rules
  if (first === undefined) return ''
  const sentences = [...subjects].map(
    ([text, names]) => `${upperFirst(joinWithAnd([...new Set(names)]))}${scopeOf(first, facts)}: ${text}.`,
  )
  return `${first.paused ? 'Paused: ' : ''}${sentences.join(' ')}`
}

function upperFirst(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** The cells of a rule: `of each shop, in totals, where region is Coast, judged by margin`. */
function scopeOf(rule: BoundRule, facts: PhraseContext): string {
  const { words } = createPhrases(rule, facts)
  const parts: string[] = []
  if (rule.grain.length > 0) parts.push(` of each ${joinWithAnd(rule.grain.map((key) => facts.label(key)))}`)
  if (rule.levels.join() !== 'detail') parts.push(` in ${levelsText(rule.levels)}`)
  if (rule.only !== undefined) parts.push(` in ${joinWithAnd(rule.only)}`)
  if (rule.where !== undefined) parts.push(` where ${words(rule.where.bound, rule.where.text)}`)
  if (rule.judge !== undefined) parts.push(`, judged by ${words(rule.judge.bound, rule.judge.text)}`)
  return parts.join('')
}

function descriptionOf(rule: BoundRule, facts: PhraseContext): string {
  const phrases = createPhrases(rule, facts)
  const more: string[] = []
  if (rule.readsPopulation) {
    const all = rule.amongUnfiltered === true ? 'all cells, whatever is filtered' : 'all cells shown'
    const keys = joinWithAnd(rule.within.map((key) => facts.label(key)))
    const among = rule.among === undefined ? '' : ` where ${phrases.words(rule.among.bound, rule.among.text)}`
    more.push(`compared with ${all}${keys === '' ? '' : ` of the same ${keys}`}${among}`)
  }
  if (rule.oneScale.length > 0)
    more.push(`${joinWithAnd(rule.oneScale.map((name) => facts.label(name)))} are on one scale`)
  if (rule.hide !== undefined) more.push(`the ${rule.hide === 'value' ? 'number' : 'icon'} is hidden`)
  if (rule.iconAfter === true) more.push('its icon stands after the number')
  if (rule.skipsUnfinished) more.push('unfinished periods stay unpainted')
  if (rule.final) more.push('no later rule paints the cells that it matches')
  return [rule.kind.describe(rule.plan, phrases), ...more].join('; ')
}
