import { joinWithAnd } from '../kinds/limit-text.js'
import { levelsText } from '../levels.js'
import type { BoundRule, BoundText } from '../model.js'
import { createPhrases, type PhraseContext, subjectOf } from './phrases.js'

/**
 * A rule as one plain sentence. Bound once for each thing it paints, it is told once: what reads
 * alike is put together. `rules` are those of one rule as written.
 */
export function ruleSentence(rules: readonly BoundRule[], facts: PhraseContext): string {
  const told = new Map<string, string[]>()
  for (const rule of rules) {
    const said = predicate(rule, facts)
    told.set(said, [...(told.get(said) ?? []), subjectOf(rule, facts)])
  }
  const [first] = rules
  if (first === undefined) return ''
  const sentences = [...told].map(
    ([said, subjects]) => `${sentenceCase(subjectText([...new Set(subjects)]))}${placeOf(first, facts)} ${said}.`,
  )
  return `${first.paused ? 'Paused: ' : ''}${sentences.join(' ')}`
}

function subjectText(subjects: readonly string[]): string {
  return subjects.length === 1 ? subjects[0] : `each of ${joinWithAnd(subjects)}`
}

function sentenceCase(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}

/** Which cells: `of each shop, in totals, where region is Coast, judged by margin`. */
function placeOf(rule: BoundRule, facts: PhraseContext): string {
  const telling = createPhrases(rule, facts)
  const parts: string[] = []
  if (rule.grain.length > 0) parts.push(` of each ${joinWithAnd(rule.grain.map((key) => facts.label(key)))}`)
  if (rule.levels.join() !== 'detail') parts.push(` in ${levelsText(rule.levels)}`)
  if (rule.only !== undefined) parts.push(` in ${joinWithAnd(rule.only)}`)
  if (rule.where !== undefined) parts.push(` where ${conditionText(rule.where, telling.words)}`)
  if (rule.judge !== undefined) parts.push(`, judged by ${telling.words(rule.judge.bound, rule.judge.text)},`)
  return parts.join('')
}

function conditionText(condition: BoundText, words: (bound: BoundText['bound'], text: string) => string): string {
  return words(condition.bound, condition.text)
}

function predicate(rule: BoundRule, facts: PhraseContext): string {
  const telling = createPhrases(rule, facts)
  const more: string[] = []
  if (rule.readsPopulation) {
    const all = rule.amongUnfiltered === true ? 'with everything, whatever is filtered' : 'with all shown'
    const each = `within each ${joinWithAnd(rule.within.map((key) => facts.label(key)))}`
    const group = rule.within.length === 0 ? all : rule.amongUnfiltered === true ? `${each} ${all}` : each
    const among = rule.among === undefined ? '' : ` where ${conditionText(rule.among, telling.words)}`
    more.push(`compared ${group}${among}`)
  }
  if (rule.oneScale.length > 0)
    more.push(`${joinWithAnd(rule.oneScale.map((name) => facts.label(name)))} are one population`)
  const hidden = rule.spec.hide
  if (hidden !== undefined) more.push(`the ${hidden === 'value' ? 'number' : 'icon'} is hidden`)
  if (rule.final) more.push('no later rule paints what it marks')
  return [rule.kind.sentence(rule.plan, telling), ...more].join('; ')
}

/** One sentence a rule as written, whatever it paints. */
export function sentencesOf(
  rules: readonly BoundRule[],
  facts: PhraseContext,
): { rule: string; title: string; sentence: string }[] {
  const byIndex = new Map<number, BoundRule[]>()
  for (const rule of rules) byIndex.set(rule.index, [...(byIndex.get(rule.index) ?? []), rule])
  return [...byIndex.values()].map((own) => ({
    rule: own[0].name,
    title: own[0].title,
    sentence: ruleSentence(own, facts),
  }))
}
