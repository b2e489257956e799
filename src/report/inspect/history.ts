import type { Trend } from '../../page/page.js'
import { ProblemError } from '../../problem/problem.js'
import { isTimeUnit } from '../../time/period.js'
import { DEFAULT_PARTS } from '../bind/exhibit-defaults.js'
import { CellMaker } from '../layout/cells.js'
import { answerTrend } from '../layout/trends.js'
import type { AnsweredExhibit, DecidedReport } from '../model/answered.js'
import type { Place } from './cells.js'
import { conditionsOf } from './row-conditions.js'

/** The period of a cell's trend: two years. */
const PERIOD = 'last 24 months'

/**
 * The measure of a cell month by month, for its keys except time; null without dates, for records,
 * and if fewer than two months have a value.
 */
export async function trendBehind(
  { context: asked, report }: DecidedReport,
  answered: AnsweredExhibit,
  measure: string,
  one: Place,
): Promise<Trend | null> {
  if (report.sources[0].date === undefined) return null
  const { exhibit, summary } = answered
  if (exhibit.kind === 'records' || !report.measures.has(measure)) return null
  const where = [
    ...exhibit.where,
    ...conditionsOf(answered, summary.rows, one.row, false),
    ...conditionsOf(answered, summary.columns, one.column, false),
  ]
  const alone = {
    ...exhibit,
    ...DEFAULT_PARTS,
    chart: undefined,
    cards: undefined,
    list: undefined,
    reading: undefined,
    where,
  }
  const trend = { of: measure, along: 'month', period: PERIOD }
  try {
    const lines = await answerTrend(asked, { exhibit: alone, summary, notes: [] }, trend)
    const line = lines.of([], nameOf(answered, one))
    return line !== null && line.points.filter(({ value }) => value !== null).length > 1 ? line : null
  } catch (error) {
    // The groups in a page may not be cut at the start or end of these months.
    if (error instanceof ProblemError) return null
    throw error
  }
}

/** Its innermost keys except time, which is the axis of the trend. */
function nameOf(answered: AnsweredExhibit, { row, column }: Place): string {
  const make = new CellMaker(answered)
  const { rows, columns } = answered.summary
  const labels = [[rows, row] as const, [columns, column] as const].flatMap(([axis, node]) => {
    const last = axis.keys[node.codes.length - 1]
    return last === undefined || isTimeUnit(last.name) ? [] : [make.labels.label(axis, node)]
  })
  return labels.join(', ') || 'Total'
}
