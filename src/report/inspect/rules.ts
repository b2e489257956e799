import { conditions } from '../../expression/evaluate.js'
import { createPhrases, type PhraseContext } from '../../rule/explain/phrases.js'
import { type RuleSentence, sentencesOf } from '../../rule/explain/sentence.js'
import { tallyCells } from '../../rule/explain/tally.js'
import type { RuleResult } from '../../rule/model.js'
import type { Painting } from '../../style/painting.js'
import { phraseContextOf } from '../answer/facts.js'
import type { DecidedReport } from '../model/answered.js'

/** A rule and its results, for readers. */
export interface RuleTold extends RuleSentence {
  paused: boolean
  /** Whether its limits depend on the shown cells. */
  readsPopulation: boolean
  /** Where it was applied, by measure and level. */
  places: RulePlace[]
  /** Levels that it could not be applied to, and why. */
  skipped: { exhibit: string; level: string; why: string }[]
}

export interface RulePlace {
  exhibit: string
  /** `details`, or which totals. */
  level: string
  measure: string
  /** Cells it was applied to. */
  covered: number
  /** Cells in which it set some channel. */
  painted: number
  /** Cells in which all its channels were set by other rules before. */
  lost: number
  /** Limits as numbers, in the order of its parts. */
  limits: string[]
}

/** Every rule of a report, in order: its title and its sentence. */
export function ruleWords({ report }: DecidedReport): { title: string; sentence: string }[] {
  return sentencesOf(report.rules, phraseContextOf(report)).map(({ title, sentence }) => ({ title, sentence }))
}

/** Every rule of a report, in order, as a sentence with its results. */
export function tellRules(decided: DecidedReport): RuleTold[] {
  const { report } = decided
  const facts = phraseContextOf(report)
  return sentencesOf(report.rules, facts).map((sentence) => {
    const name = sentence.rule
    const rules = report.rules.filter((rule) => rule.name === name)
    const [paused, readsPopulation] = [rules.some((rule) => rule.paused), rules.some((rule) => rule.readsPopulation)]
    const sentenceAndPlaces: RuleTold = { ...sentence, paused, readsPopulation, places: [], skipped: [] }
    for (const { exhibit, levels } of decided.exhibits)
      for (const { cells, result } of levels.decided()) {
        for (const ruleResult of result.results)
          if (ruleResult.rule.name === name)
            sentenceAndPlaces.places.push(
              rulePlace(exhibit.name, cells.levelText, ruleResult, result.painting, decided),
            )
        for (const { rule, why } of result.skipped)
          if (
            rule.name === name &&
            !sentenceAndPlaces.skipped.some((s) => s.exhibit === exhibit.name && s.level === cells.levelText)
          )
            sentenceAndPlaces.skipped.push({ exhibit: exhibit.name, level: cells.levelText, why })
      }
    return sentenceAndPlaces
  })
}

export function rulePlace(
  exhibit: string,
  level: string,
  result: RuleResult,
  painting: Painting,
  { report }: DecidedReport,
): RulePlace {
  const facts = phraseContextOf(report)
  const { rule, measure, classes, judged } = result
  const painted = painting.get(measure)
  const won = painted?.styles.map((look) => Object.values(look.paintedBy).includes(rule.name)) ?? []
  // Cells that its condition excludes are not counted as covered.
  const where = rule.where === undefined ? undefined : conditions(judged.run(rule.where.bound), judged.length)
  let [covered, given, wins] = [0, 0, 0]
  for (let i = 0; i < classes.length; i++) {
    if (where === undefined || where[result.judgedAt(i)] === 1) covered++
    if (classes[i] < 0) continue
    given++
    if (painted !== undefined && won[painted.ids[i]]) wins++
  }
  const limits = tallyCells(null, painting, [result], facts).parts.map(({ part, limit }) =>
    limit === '' ? part : `${part} ${limit}`,
  )
  limits.push(...rampText(result, facts))
  return { exhibit, level, measure, covered, painted: wins, lost: given - wins, limits }
}

/** The ends of a ramp and what is between them, as its legend has them. */
function rampText({ rule, fit, judged }: RuleResult, facts: PhraseContext): string[] {
  const telling = createPhrases(rule, facts)
  const marks = rule.kind.legend(rule.plan, fit, judged, telling).ramp?.marks ?? []
  return marks.map(({ text, what }) => `${text} ${what}`.trim())
}
