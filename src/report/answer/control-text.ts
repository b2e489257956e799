import type { Bound } from '../../expression/bound.js'
import { numberPrinter, PLAIN_FORMAT } from '../../format/format.js'
import type { SourceControl } from '../../page/page.js'
import type { SourceStats } from '../../summary/contract.js'
import type { Span } from '../../time/period.js'
import type { BoundReport, BoundSource, SourceFacts } from '../model/bound.js'
import { canNarrow } from './source-fit.js'

/**
 * The control totals of each source in words, with the rows that the condition of the report
 * excludes.
 */
export async function finishControls(
  report: BoundReport,
  facts: readonly SourceFacts[],
  surveys: readonly SourceStats[],
): Promise<SourceControl[]> {
  return Promise.all(
    report.sources.map(async (source, s) => {
      const where = report.where.filter((condition) => canNarrow(source, condition))
      const filtered = where.length === 0 ? 0 : surveys[s].rows - (await counted(source, where))
      const { source: name, from, rows, undated, words, notes: _, ...more } = facts[s]
      const left = filtered > 0 ? `; ${rowsText(filtered, report.locale)} left out by where` : ''
      return { source: name, from, rows, undated, filtered, ...more, text: words.join(left) }
    }),
  )
}

/** How many rows of a source meet a condition. */
export async function counted({ engine }: BoundSource, where: readonly Bound[], span?: Span): Promise<number> {
  const { rows } = await engine.ask({ keys: [], parts: [], fields: [], where, ...(span === undefined ? {} : { span }) })
  return rows.reduce((a, b) => a + b, 0)
}

/** `1 row`, `1,200 rows`. */
export function rowsText(count: number, locale: string): string {
  return `${numberPrinter({ ...PLAIN_FORMAT, digits: 0 }, locale)(count)} ${count === 1 ? 'row' : 'rows'}`
}
