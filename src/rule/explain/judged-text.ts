import { numbers } from '../../expression/evaluate.js'
import type { RuleResult } from '../model.js'
import { createPhrases, type PhraseContext } from './phrases.js'

/** What a rule judged in a cell, for readers; empty if it is missing, or no number. */
export function judgedText({ rule, judged, judgedAt }: RuleResult, cell: number, facts: PhraseContext): string {
  if (judged.value.kind !== 'number') return ''
  return createPhrases(rule, facts).print(numbers(judged.value, judged.length)[judgedAt(cell)])
}
