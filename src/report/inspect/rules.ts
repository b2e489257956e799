import { conditions } from '../../expression/evaluate.js'
import { ruleSentence } from '../../rule/explain/sentence.js'
import { tallyCells } from '../../rule/explain/tally.js'
import type { BoundRule, RuleResult } from '../../rule/model.js'
import type { Painting } from '../../style/painting.js'
import { phraseContextOf } from '../answer/facts.js'
import type { DecidedReport } from '../model/answered.js'
import { rampText } from './why.js'

/** What a rule is and does, for readers. */
export interface RuleTold {
  rule: string
  title: string
  sentence: string
  paused: boolean
  /** Where it is applied, a measure and level at a time. */
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
  /** Cells in which it decides some channel. */
  painted: number
  /** Cells to which it gave something, and every channel of it was another rule's already. */
  lost: number
  /** Limits as numbers, in the order of its parts. */
  limits: string[]
}

/** Every rule of a report, in order, as a sentence and by what it does. */
export function tellRules(decided: DecidedReport): RuleTold[] {
  const { report } = decided
  const facts = phraseContextOf(report)
  const byIndex = new Map<number, BoundRule[]>()
  for (const rule of report.rules) byIndex.set(rule.index, [...(byIndex.get(rule.index) ?? []), rule])
  return [...byIndex.values()].map((own) => {
    const [{ name, title, paused }] = own
    const told: RuleTold = { rule: name, title, sentence: ruleSentence(own, facts), paused, places: [], skipped: [] }
    for (const { exhibit, levels } of decided.exhibits)
      for (const { cells, result } of levels.decided()) {
        for (const found of result.results)
          if (found.rule.name === name)
            told.places.push(rulePlace(exhibit.name, cells.what, found, result.painting, decided))
        for (const { rule, why } of result.skipped)
          if (rule.name === name && !told.skipped.some((s) => s.exhibit === exhibit.name && s.level === cells.what))
            told.skipped.push({ exhibit: exhibit.name, level: cells.what, why })
      }
    return told
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
  // Cells that its condition leaves out are none that it was applied to.
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
