import type { Bound } from '../expression/bound.js'
import { numberPrinter, PLAIN_FORMAT } from '../format/format.js'
import { periodPrinter } from '../format/period.js'
import type { SourceControl } from '../page/page.js'
import type { Survey } from '../summary/engine.js'
import type { Span } from '../time/period.js'
import type { BoundReport } from './bind.js'
import { type BoundSource, canNarrow } from './joined.js'

/** Control totals but for what the report is narrowed by: a page carries them. */
export type SourceFacts = Omit<SourceControl, 'filtered' | 'text'>

/** The control totals of each source, with the rows that the report's own condition leaves out, and in words. */
export async function finishControls(
  report: BoundReport,
  facts: readonly SourceFacts[],
  surveys: readonly Survey[],
  asOf: number | undefined,
): Promise<SourceControl[]> {
  return Promise.all(
    report.sources.map(async (source, s) => {
      const where = report.where.filter((condition) => canNarrow(source, condition))
      const filtered = where.length === 0 ? 0 : surveys[s].rows - (await counted(source, where))
      const { source: name, from, rows, undated, ...more } = facts[s]
      const own = { source: name, from, rows, undated, filtered, ...more }
      return { ...own, text: textOf(report, own, surveys[s].span, asOf) }
    }),
  )
}

/** How many rows of a source fit. */
export async function counted({ engine }: BoundSource, where: readonly Bound[], span?: Span): Promise<number> {
  const { rows } = await engine.ask({ keys: [], parts: [], fields: [], where, ...(span === undefined ? {} : { span }) })
  return rows.reduce((a, b) => a + b, 0)
}

/** `sales: 27,872 rows of sales.csv, 1 July 2022 to 30 June 2025; revenue €4,542,326`. */
function textOf(
  report: BoundReport,
  { source, from, rows, undated, filtered, late, unmatched, lacking, blank, sums }: Omit<SourceControl, 'text'>,
  span: Span | undefined,
  asOf: number | undefined,
): string {
  const count = numberPrinter({ ...PLAIN_FORMAT, digits: 0 }, report.locale)
  const date = periodPrinter(report.locale).date
  const plural = (n: number): string => `${count(n)} ${n === 1 ? 'row' : 'rows'}`
  const parts = [`${source}: ${plural(rows)}${from === '' || from === source ? '' : ` of ${from}`}`]
  if (span !== undefined) parts[0] += `, ${date(span.from)} to ${date(span.to)}`
  if (filtered > 0) parts.push(`${plural(filtered)} left out by where`)
  if (late > 0 && asOf !== undefined) parts.push(`${plural(late)} left out after ${date(asOf)}`)
  if (undated > 0) parts.push(`${plural(undated)} without a date`)
  for (const { key, words } of unmatched) parts.push(`${words.length} ${key} not in ${report.sources[0].name}`)
  const gone = lacking.reduce((n, { periods }) => n + Math.max(1, periods.length), 0)
  if (gone > 0)
    parts.push(`no rows for ${count(gone)} ${gone === 1 ? 'key' : 'keys'} that ${report.sources[0].name} has`)
  for (const { column, rows: empty } of blank) parts.push(`${plural(empty)} without ${column}`)
  for (const { label, text } of sums) parts.push(`${label} ${text === '' ? 'missing' : text} over all rows`)
  return parts.join('; ')
}
