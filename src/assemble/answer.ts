import { constantNumber, evaluate, numbers } from '../expression/evaluate.js'
import { numberPrinter } from '../format/format.js'
import { periodPrinter } from '../format/period.js'
import { spanText } from '../format/span.js'
import type { Exhibit, Page } from '../page/page.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import type { BoundRule } from '../rule/check.js'
import type { Survey } from '../summary/engine.js'
import { timedParts } from '../summary/looked.js'
import type { Measure } from '../summary/measure.js'
import { type Summary, summarise } from '../summary/summarise.js'
import { dayText } from '../time/day.js'
import { spanOf as daysOf, parsePeriod, periodOf, periodText, type Span } from '../time/period.js'
import { stepsKey } from '../time/step.js'
import { askingsOf, firstDay, type Spans, shownNames, spansOf, streakAskings, withParts } from './asking.js'
import { type BoundReport, parameterValues } from './bind.js'
import { buildChart } from './chart.js'
import { checkExpected, controlsOf } from './control.js'
import type { BoundExhibit } from './exhibit.js'
import { buildGrid } from './grid.js'
import { legendsOf } from './legend.js'
import { createPaintedLevels, type PaintedLevels } from './painted-levels.js'
import { joinSources, sourceText } from './sources.js'

/** An exhibit's numbers and looks, before they become a page. */
export interface Answered {
  report: BoundReport
  exhibit: BoundExhibit
  summary: Summary
  /** The rules that may paint it, in their order. */
  rules: readonly BoundRule[]
  levels: PaintedLevels
  head: {
    name: string
    title: string
    note: string | null
    beside: boolean
    periodText: string
  }
  /** After everything shown is painted: legends and notes. */
  told(): { legends: Exhibit['legends']; notes: string[] }
}

/** Answers a report with the engines of its sources: numbers read once, decided once, and laid out as a page. */
export async function answerReport(bound: BoundReport): Promise<Page> {
  return (await decideReport(bound)).page
}

/** A report answered, with what decided each cell still at hand. */
export interface DecidedReport {
  report: BoundReport
  page: Page
  /** In the order of the page. */
  exhibits: readonly Answered[]
}

/** The same, and what its rules found: for whoever asks why. */
export async function decideReport(bound: BoundReport): Promise<DecidedReport> {
  const joined: Problem[] = []
  const sources = await joinSources(bound.sources, bound.wanted, joined)
  const report: BoundReport = { ...bound, sources, notes: [...bound.notes, ...joined] }
  const surveys = await Promise.all(sources.map((source) => source.engine.survey()))
  const asOf = asOfDay(report, surveys[0].span)
  await checkExpected(report, surveys)
  const exhibits: Exhibit[] = []
  const decided: Answered[] = []
  for (const exhibit of report.exhibits) {
    const answered = await answerExhibit(report, exhibit, surveys, asOf)
    decided.push(answered)
    exhibits.push(exhibit.kind === 'chart' ? buildChart(answered) : buildGrid(answered))
  }
  const notes = report.notes.map((note) => note.message)
  for (const [s, { rows, undated }] of surveys.entries()) {
    const { name } = sources[s]
    if (rows === 0) notes.push(problem('note-no-rows', { source: name }).message)
    if (undated > 0) notes.push(problem('note-undated', { count: undated, source: name }).message)
  }
  const { spec, locale, parameters } = report
  const page: Page = {
    title: spec.title,
    note: spec.note ?? null,
    locale,
    asOf: asOf === undefined ? null : dayText(asOf),
    asOfText: asOf === undefined ? null : periodPrinter(locale).date(asOf),
    sources: Object.values(spec.sources).map(sourceText),
    controls: await controlsOf(report, surveys, asOf, joined),
    parameters: [...parameters.values()].map(({ name, label, value, format }) => ({
      name,
      label,
      value,
      text: numberPrinter(format, locale)(value),
    })),
    where: report.whereText,
    statuses: report.statuses,
    icons: report.palette.icons,
    exhibits,
    notes,
  }
  return { report, page, exhibits: decided }
}

function asOfDay(report: BoundReport, extent: Span | undefined): number | undefined {
  if (report.sources[0].date === undefined) return undefined
  const [{ grain }] = report.sources
  // A source of months is known to the end of its last one.
  if (report.asOf === 'latest')
    return extent && (grain === 'day' ? extent.to : daysOf(grain, periodOf(grain, extent.to)).to)
  if (report.asOf === 'today') {
    if (report.today === undefined) throw new ProblemError([problem('bad-date', { text: 'today' })])
    return report.today
  }
  return parsePeriod(report.asOf)?.period
}

async function answerExhibit(
  report: BoundReport,
  exhibit: BoundExhibit,
  surveys: readonly Survey[],
  asOf: number | undefined,
): Promise<Answered> {
  const rules = report.rules.filter(
    (rule) =>
      !rule.paused &&
      (rule.target !== 'measure' || exhibit.show.includes(rule.measure)) &&
      (rule.target !== 'field' || exhibit.rows.includes(rule.measure)) &&
      (rule.only?.includes(exhibit.name) ?? true),
  )
  const collator = new Intl.Collator(report.locale, { numeric: true })
  const [home] = report.sources
  const notes: Problem[] = []
  const measures = neededMeasures(report, exhibit, rules)
  const extents = surveys.map((survey) => survey.span)
  const spans: Spans = { ...spansOf(report, exhibit, firstDay(report, measures, extents), asOf), extents }
  const { whole } = spans
  const summary = await summarise({
    rows: exhibit.rows,
    columns: exhibit.columns,
    measures,
    parameters: parameterValues(report),
    fields: neededFields(exhibit, rules),
    askings: askingsOf(report, exhibit, measures, spans, notes),
    streaks: streakAskings(report, exhibit, measures, spans, notes),
    ...(spans.axisSpan && { axisSpan: spans.axisSpan }),
    ...(whole && { whole }),
    starts: report.starts,
    collate: (a, b) => collator.compare(a, b),
    orders: exhibit.orders,
    keeps: exhibit.keeps,
    ...(exhibit.sort && { by: exhibit.sort }),
    source: home.table,
  })
  notes.push(...unknownOrders(exhibit, summary), ...repeats(report, exhibit, measures, summary))
  const levels = createPaintedLevels(report, exhibit, summary, rules)
  return {
    report,
    exhibit,
    summary,
    rules,
    levels,
    head: {
      name: exhibit.name,
      title: exhibit.title,
      note: exhibit.note,
      beside: exhibit.beside,
      periodText: spans.axisSpan === undefined ? '' : spanText(spans.axisSpan, report.locale),
    },
    told() {
      const details = levels.of(summary.levels[exhibit.rows.length][exhibit.columns.length])
      const painted = [details, ...levels.done().filter((own) => own !== details)]
      // A rule for totals alone has its legend from there; else details speak.
      const seen = new Set<BoundRule>()
      const legends = painted.flatMap(({ result: { results, painting } }) => {
        const firsts = results.filter((r, i) => !seen.has(r.rule) && results.findIndex((o) => o.rule === r.rule) === i)
        for (const { rule } of firsts) seen.add(rule)
        return legendsOf(report, firsts, painting)
      })
      if (surveys[0].rows > 0 && summary.counted === 0) notes.unshift(problem('note-none-fit', {}))
      const said = [...notes, ...levels.done().flatMap(({ result }) => result.notes)]
      return { legends, notes: [...new Set(said.map((note) => note.message))] }
    },
  }
}

/** Measures that look back and find the present again: the two times are not linked as one thinks. */
function repeats(
  report: BoundReport,
  exhibit: BoundExhibit,
  measures: readonly Measure[],
  summary: Summary,
): Problem[] {
  const found = timedParts(measures, report.measures)
    .filter((time) => summary.repeats.has(stepsKey(time.steps)))
    .map((time) => shownNames(report, exhibit, time))
  return found.map((names) => problem('note-lag-same', { measures: names }))
}

/** Words of a given order that no row has: a name mistyped, or gone. */
function unknownOrders(exhibit: BoundExhibit, summary: Summary): Problem[] {
  return [...exhibit.orders].flatMap(([key, order]) => {
    const domain = [...summary.rows.keys, ...summary.columns.keys].find((own) => own.name === key)?.domain
    if (domain === undefined) return []
    const known = new Set(
      domain.kind === 'text' ? domain.words : domain.periods.map((p) => periodText(domain.unit, p, domain.starts)),
    )
    const words = order.filter((word) => !known.has(word))
    return words.length === 0 ? [] : [problem('note-order-unknown', { key, words })]
  })
}

/** The measures shown, those that rules read, and those that these are made of. */
function neededMeasures(report: BoundReport, exhibit: BoundExhibit, rules: readonly BoundRule[]): Measure[] {
  return withParts(report.measures, [...exhibit.show, ...rules.flatMap((rule) => [...rule.measures])])
}

/** What rules ask of rows, beyond the exhibit's own keys. */
function neededFields(exhibit: BoundExhibit, rules: readonly BoundRule[]): string[] {
  const keys = new Set([...exhibit.rows, ...exhibit.columns])
  return [...new Set(rules.flatMap((rule) => rule.fields))].filter((name) => !keys.has(name))
}

/** A line across a chart: an expression of parameters. */
export function lineValue(report: BoundReport, line: BoundExhibit['lines'][number]): number {
  const values = parameterValues(report)
  const vector = evaluate(line.bound, {
    length: 1,
    read: (ref) => constantNumber(values.get(ref.name) ?? Number.NaN),
    aggregate: () => constantNumber(Number.NaN),
  })
  return numbers(vector, 1)[0]
}
