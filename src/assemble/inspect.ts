import { conditions } from '../expression/evaluate.js'
import type { Painting } from '../look/painting.js'
import { nearest } from '../problem/nearest.js'
import { ProblemError, problem } from '../problem/problem.js'
import type { BoundRule, RuleResult } from '../rule/model.js'
import { type Rehearsal, rehearsable, rehearseRule } from '../rule/rehearse.js'
import { ruleSentence } from '../rule/sentence.js'
import { tallyCells } from '../rule/tally.js'
import { createTelling, type Facts } from '../rule/telling.js'
import type { Why } from '../rule/why.js'
import type { DecidedReport } from './answered.js'
import { createCellMaker } from './cells.js'
import { factsOf } from './facts.js'
import { placeAsked } from './place-asked.js'
import { placeOf } from './places.js'
import { keysOf, textAt, whyPlace } from './why-place.js'

/** What one asked about, or all that it could be. */
export type WhyAnswer =
  | { exhibit: string; keys: Record<string, string | null>; name: string; why: Why }
  | { exhibit: string; candidates: { name: string; keys: Record<string, string | null>; text: string }[] }

/** Why a cell looks as it does. Keys that are left out are summed over; where no such cell is shown, the candidates are told. */
export function whyCell(
  decided: DecidedReport,
  exhibitName: string,
  measure: string,
  keys: Readonly<Record<string, string>>,
): WhyAnswer {
  const { answered, fitting, one } = placeAsked(decided, exhibitName, measure, keys)
  if (one !== undefined) return { exhibit: exhibitName, ...whyPlace(answered, measure, one) }
  const make = createCellMaker(answered)
  return {
    exhibit: exhibitName,
    candidates: fitting.map((place) => ({
      name: place.name,
      keys: keysOf(place.keys),
      text: textAt(make, place, measure),
    })),
  }
}

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
  const facts = factsOf(report)
  const byIndex = new Map<number, BoundRule[]>()
  for (const rule of report.rules) byIndex.set(rule.index, [...(byIndex.get(rule.index) ?? []), rule])
  return [...byIndex.values()].map((own) => {
    const [{ name, title, paused }] = own
    const told: RuleTold = { rule: name, title, sentence: ruleSentence(own, facts), paused, places: [], skipped: [] }
    for (const { exhibit, levels } of decided.exhibits)
      for (const { cells, result } of levels.done()) {
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

function rulePlace(
  exhibit: string,
  level: string,
  result: RuleResult,
  painting: Painting,
  { report }: DecidedReport,
): RulePlace {
  const facts = factsOf(report)
  const { rule, measure, classes, judged } = result
  const painted = painting.get(measure)
  const won = painted?.looks.map((look) => Object.values(look.paintedBy).includes(rule.name)) ?? []
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

function rampText({ rule, fit, judged }: RuleResult, facts: Facts): string[] {
  const telling = createTelling(rule, facts)
  const marks = rule.kind.legend(rule.plan, fit, judged, telling).ramp?.marks ?? []
  return marks.map(({ text, what }) => `${text} ${what}`.trim())
}

/** A rehearsal with the place whose limits it takes. */
export type RehearsedRule = Rehearsal & { exhibit: string; place: string; of: string }

/**
 * Rules that no values can be tried in, for they take their look from the data, and how many cells each
 * reaches.
 */
export function withoutTrial(decided: DecidedReport, name: string | undefined): { title: string; cells: number }[] {
  return tellRules(decided).flatMap(({ rule, title, places }) => {
    const own = decided.report.rules.find((one) => one.name === rule)
    if (own?.kind.judges !== false || (name !== undefined && name !== rule)) return []
    return [{ title, cells: places.reduce((sum, { painted, lost }) => sum + painted + lost, 0) }]
  })
}

/** Each rule, or the one named, on values around its limits: once for each measure it paints, in the first exhibit that shows it. */
export function rehearseReport(
  decided: DecidedReport,
  name: string | undefined,
  values: readonly (number | string)[] = [],
): RehearsedRule[] {
  const { report } = decided
  const facts = factsOf(report)
  const names = [...new Set(report.rules.map((rule) => rule.name))]
  if (name !== undefined && !names.includes(name))
    throw new ProblemError([problem('unknown-rule', { name, nearest: nearest(name, names), known: names })])
  const found: RehearsedRule[] = []
  for (const rule of report.rules) {
    if (name !== undefined && rule.name !== name) continue
    for (const answered of decided.exhibits) {
      const painted = answered.levels
        .done()
        .find(({ result }) => rehearsable(result.results).some((own) => own.rule === rule))
      const result = painted?.result.results.find((own) => own.rule === rule)
      if (painted === undefined || result === undefined) continue
      const rehearsal = rehearseRule(result, facts, values)
      const make = createCellMaker(answered)
      const place = rehearsal.cell < 0 ? '' : placeOf(answered, make, painted, rehearsal.cell).name
      found.push({ ...rehearsal, exhibit: answered.exhibit.name, place, of: facts.label(rehearsal.measure) })
      break
    }
  }
  return found
}
