import { numberPrinter } from '../../format/format.js'
import { periodPrinter } from '../../format/period.js'
import type { Page } from '../../page/page.js'
import { problem } from '../../problem/answering.js'
import { ProblemError } from '../../problem/problem.js'
import { formatFor } from '../../rule/explain/print.js'
import { timedParts } from '../../summary/plan/required-times.js'
import { streaksOf } from '../../summary/plan/streaks.js'
import { dayText } from '../../time/day.js'
import { spanOf as daysOf, parsePeriod, periodOf, type Span } from '../../time/period.js'
import { finishControls } from '../answer/control-text.js'
import { filtersByParameter, hasFlags } from '../answer/facts.js'
import type { UnmatchedKeys } from '../answer/join-sources.js'
import type { BuiltExhibit, DecidedReport, QueryContext } from '../model/answered.js'
import type { BoundExhibit, BoundReport, Coverage } from '../model/bound.js'
import { buildExhibit, pageOf } from './build-exhibit.js'
import { stripOf } from './strip.js'

/** A report whose sources were joined and surveyed; no exhibit is answered yet. */
export interface OpenedReport {
  bound: BoundReport
  context: QueryContext
  coverage: Coverage
  unmatched: UnmatchedKeys[]
}

/**
 * `again`: the report will be decided again with other values of parameters. `late`: its long
 * tables are laid out when they are looked at.
 */
export async function openReport(
  bound: BoundReport,
  { again = false, late = false }: Pick<DecideOptions, 'again' | 'late'> = {},
): Promise<OpenedReport> {
  const coverage = bound.coverage ?? (await (await import('../answer/coverage.js')).coverageOf(bound))
  const {
    sources,
    unmatched,
    notes: joined,
  } = bound.sources.length > 1
    ? await (await import('../answer/join-sources.js')).joinSources(bound)
    : { sources: bound.sources, unmatched: [], notes: [] }
  const notes = [...bound.notes, ...joined]
  const joinedReport: BoundReport = { ...bound, coverage, sources, notes }
  const report = bound.exhibits.some(filtersByParameter)
    ? { ...joinedReport, exhibits: (await import('./filled-conditions.js')).filledConditions(joinedReport) }
    : joinedReport
  const surveys = await Promise.all(sources.map((source) => source.engine.stats()))
  const asOf = asOfDay(report, surveys[0].span)
  if (bound.controls === undefined) await (await import('../answer/control-totals.js')).checkExpected(report, surveys)
  const measures = [...report.measures.values()]
  // Streaks may compare with another time, too.
  const isTimed = timedParts(measures, report.measures).length > 1 || streaksOf(measures).length > 0
  const moving = isTimed && (await import('../answer/moving.js')).moving
  const flags = hasFlags(report) && (await import('./flags.js')).flagOf
  const isCompared = report.rules.some((rule) => rule.oneScale.length > 0)
  const oneScale = isCompared && (await import('../../rule/run/one-scale.js')).runOneScale
  const asked: QueryContext = {
    report,
    stats: surveys,
    asOf,
    ...(moving && { moving }),
    ...(flags && { flags }),
    ...(oneScale && { oneScale }),
    ...(again && { again }),
    ...(late && { late }),
  }
  return { bound: { ...bound, coverage }, context: asked, coverage, unmatched }
}

interface DecideOptions {
  again?: boolean
  late?: boolean
  reuse?: (exhibit: BoundExhibit) => BuiltExhibit | undefined
}

/**
 * Answers a report: asks the engines of its sources, decides the cells, and lays out the page. The
 * result keeps what decided each cell. `again` and `late`: see `openReport`. `reuse` gives an
 * exhibit that was built before and would be the same.
 */
export async function decideReport(bound: BoundReport, options: DecideOptions = {}): Promise<DecidedReport> {
  return decideOpened(await openReport(bound, options), options.reuse)
}

/** The same for a report that was opened. */
export async function decideOpened(
  { bound, context: asked, coverage, unmatched }: OpenedReport,
  reuse?: DecideOptions['reuse'],
): Promise<DecidedReport> {
  const { report, stats: surveys, asOf } = asked
  const { sources } = report
  const laid: BuiltExhibit[] = []
  for (const exhibit of report.exhibits) laid.push(reuse?.(exhibit) ?? (await buildExhibit(asked, exhibit)))
  // After the exhibits, as their answers contain the sums over all rows.
  const controls =
    bound.controls ??
    (await (await import('../answer/control-totals.js')).controlsOf(report, surveys, asOf, unmatched, coverage))
  const messages = [...report.notes.map((note) => note.message), ...controls.flatMap((control) => control.notes)]
  const { title, note, locale, parameters } = report
  const exhibits = laid.map((built) => built.answered)
  const strip = stripOf(report, exhibits)
  // A reader's changes count the same cells.
  const counted = strip && { strip: { exhibit: strip.exhibit, measure: strip.measure } }
  const about: Omit<Page, 'exhibits'> = {
    title,
    note,
    locale,
    asOf: asOf === undefined ? null : dayText(asOf),
    asOfText: asOf === undefined ? null : periodPrinter(locale).date(asOf),
    sources: sources.map(({ from }) => from),
    controls: await finishControls(report, controls, surveys),
    parameters: toldParameters(parameters, locale),
    where: report.whereText,
    statuses: report.statuses,
    formats: formatsOf(report),
    icons: report.palette.icons,
    strip,
    messages,
  }
  return {
    bound: { ...bound, controls, ...counted },
    report: { ...report, ...counted },
    page: pageOf(about, laid),
    about,
    context: asked,
    exhibits,
    built: laid,
  }
}

function formatsOf({ measures }: BoundReport): Page['formats'] {
  return Object.fromEntries([...measures].map(([name, { format, unit }]) => [name, formatFor(format, unit)]))
}

/** Parameters with their values for readers. */
export function toldParameters(parameters: BoundReport['parameters'], locale: string): Page['parameters'] {
  return [...parameters.values()].map(({ name, label, value, format }) => ({
    name,
    label,
    value,
    text: numberPrinter(format, locale)(value),
  }))
}

function asOfDay(report: BoundReport, extent: Span | undefined): number | undefined {
  if (report.sources[0].date === undefined) return undefined
  const [{ grain }] = report.sources
  // A source of months is complete up to the end of its last month.
  if (report.asOf === 'latest')
    return extent && (grain === 'day' ? extent.to : daysOf(grain, periodOf(grain, extent.to)).to)
  if (report.asOf === 'today') {
    if (report.today === undefined) throw new ProblemError([problem('bad-date', { text: 'today' })])
    return report.today
  }
  return parsePeriod(report.asOf)?.period
}
