import { nearest } from '../../problem/nearest.js'
import { ProblemError, problem } from '../../problem/problem.js'
import { type Rehearsal, rehearsable, rehearseRule } from '../../rule/explain/rehearse.js'
import { phraseContextOf } from '../answer/facts.js'
import { CellMaker } from '../layout/cells.js'
import type { DecidedReport } from '../model/answered.js'
import { placeOf, placeTitle } from './cells.js'
import { tellRules } from './rules.js'

/** A rehearsal with the cell whose limits it uses. */
export type RehearsedRule = Rehearsal & { exhibit: string; place: string; of: string }

/**
 * Rules that have no values to try, as their style comes from the data, with the number of their
 * cells.
 */
export function withoutTrial(decided: DecidedReport, name: string | undefined): { title: string; cells: number }[] {
  return tellRules(decided).flatMap(({ rule, title, places }) => {
    const bound = decided.report.rules.find((one) => one.name === rule)
    if (bound?.kind.judges !== false || (name !== undefined && name !== rule)) return []
    return [{ title, cells: places.reduce((sum, { painted, lost }) => sum + painted + lost, 0) }]
  })
}

/**
 * Tries each rule, or the named one, on values around its limits: once for each measure that it
 * paints, in the first exhibit that shows it.
 */
export function rehearseReport(
  decided: DecidedReport,
  name: string | undefined,
  values: readonly (number | string)[] = [],
): RehearsedRule[] {
  const { report } = decided
  const facts = phraseContextOf(report)
  const names = [...new Set(report.rules.map((rule) => rule.name))]
  if (name !== undefined && !names.includes(name))
    throw new ProblemError([problem('unknown-rule', { name, nearest: nearest(name, names), known: names })])
  const rehearsed: RehearsedRule[] = []
  for (const rule of report.rules) {
    if (name !== undefined && rule.name !== name) continue
    for (const answered of decided.exhibits) {
      const painted = answered.levels
        .decided()
        .find(({ result }) => rehearsable(result.results).some((result) => result.rule === rule))
      const result = painted?.result.results.find((candidate) => candidate.rule === rule)
      if (painted === undefined || result === undefined) continue
      const rehearsal = rehearseRule(result, facts, values)
      const make = new CellMaker(answered)
      const place =
        rehearsal.cell < 0
          ? ''
          : placeTitle(answered, placeOf(answered, make, painted, rehearsal.cell), rehearsal.measure)
      rehearsed.push({ ...rehearsal, exhibit: answered.exhibit.name, place, of: facts.label(rehearsal.measure) })
      break
    }
  }
  return rehearsed
}
