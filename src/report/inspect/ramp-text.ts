import { createPhrases, type PhraseContext } from '../../rule/explain/phrases.js'
import type { RuleResult } from '../../rule/model.js'

/** The ends of a ramp and what is between them, as its legend has them. */
export function rampText({ rule, fit, judged }: RuleResult, facts: PhraseContext): string[] {
  const telling = createPhrases(rule, facts)
  const marks = rule.kind.legend(rule.plan, fit, judged, telling).ramp?.marks ?? []
  return marks.map(({ text, what }) => `${text} ${what}`.trim())
}
