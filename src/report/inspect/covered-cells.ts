import { conditions } from '../../expression/evaluate.js'
import { nearest } from '../../problem/nearest.js'
import { ProblemError, problem } from '../../problem/problem.js'
import { effectText, type PhraseContext } from '../../rule/explain/phrases.js'
import type { RuleResult } from '../../rule/model.js'
import { ROW } from '../../rule/row.js'
import { CHANNELS, type Channel } from '../../style/cell-style.js'
import { styleOf } from '../../style/painting.js'
import { phraseContextOf } from '../answer/facts.js'
import { valueAt } from '../answer/value.js'
import { CellMaker } from '../layout/cells.js'
import type { AnsweredExhibit, DecidedReport, PaintedLevel } from '../model/answered.js'
import { placeOf, placeTitle } from './cells.js'
import { cellTextAt, keysOf } from './why-place.js'

/** A cell that a rule was applied to, whether it painted it or not. */
export interface CoveredCell {
  rule: string
  exhibit: string
  /** `details`, or which totals. */
  level: string
  measure: string
  row: Record<string, string | null>
  column: Record<string, string | null>
  name: string
  value: number | string | null
  text: string
  /** The part of the rule that the value meets: a status or a style; null for none. */
  part: string | null
  /** The channels that the rule set, and those that other rules had set before. */
  won: Channel[]
  lost: Channel[]
}

/**
 * Lists the cells that each rule, or the named one, was applied to: those of its levels and
 * measures for which its condition holds.
 *
 * @throws ProblemError if no rule has the name.
 */
export function coveredCells(decided: DecidedReport, name: string | undefined): CoveredCell[] {
  const names = [...new Set(decided.report.rules.map((rule) => rule.name))]
  if (name !== undefined && !names.includes(name))
    throw new ProblemError([problem('unknown-rule', { name, nearest: nearest(name, names), known: names })])
  const facts = phraseContextOf(decided.report)
  const cells = decided.exhibits.flatMap((answered) => {
    const make = new CellMaker(answered)
    return answered.levels
      .decided()
      .flatMap((painted) =>
        painted.result.results
          .filter(({ rule }) => name === undefined || rule.name === name)
          .flatMap((result) => cellsOfResult(answered, make, painted, result, facts)),
      )
  })
  // In the order of the rules.
  return names.flatMap((rule) => cells.filter((cell) => cell.rule === rule))
}

function cellsOfResult(
  answered: AnsweredExhibit,
  make: CellMaker,
  painted: PaintedLevel,
  result: RuleResult,
  facts: PhraseContext,
): CoveredCell[] {
  const { rule, measure, classes, effects, judged } = result
  const where = rule.where && conditions(judged.run(rule.where.bound), judged.length)
  const { table, levelText } = painted.cells
  return [...classes].flatMap((part, cell): CoveredCell[] => {
    if (where !== undefined && where[result.judgedAt(cell)] !== 1) return []
    const place = placeOf(answered, make, painted, cell)
    const { paintedBy } = styleOf(painted.result.painting, measure, cell)
    const given = part < 0 ? undefined : effects[part]
    const set = CHANNELS.filter((channel) => given !== undefined && given[channel] !== null)
    const values = table.columns.get(measure)
    return [
      {
        rule: rule.name,
        exhibit: answered.exhibit.name,
        level: levelText,
        measure: measure === ROW ? 'row' : measure,
        row: keysOf(make.labels.keys(answered.summary.rows, place.row)),
        column: keysOf(make.labels.keys(answered.summary.columns, place.column)),
        name: placeTitle(answered, place, measure),
        value: values === undefined ? null : valueAt(values, cell),
        text: cellTextAt(make, place, measure),
        part: given === undefined ? null : effectText(given, facts),
        won: set.filter((channel) => paintedBy[channel] === rule.name),
        lost: set.filter((channel) => paintedBy[channel] !== rule.name),
      },
    ]
  })
}
