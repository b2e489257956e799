import { referencesOf } from '../../expression/bound.js'
import { periodPrinter } from '../../format/period.js'
import { spanText } from '../../format/span.js'
import { problem } from '../../problem/answering.js'
import type { Problem } from '../../problem/problem.js'
import type { BoundRule, RuleResult } from '../../rule/model.js'
import { type Summary, summarise } from '../../summary/cells/summarise.js'
import type { Measure } from '../../summary/plan/measures.js'
import { streaksOf } from '../../summary/plan/streaks.js'
import type { AnsweredExhibit, QueryContext, UnfilteredSummary } from '../model/answered.js'
import type { BoundExhibit, BoundReport } from '../model/bound.js'
import { parameterValues } from './facts.js'
import { legendsOf } from './legend.js'
import { createPaintedLevels } from './paint-levels.js'
import { firstDay, type Spans, sourceQueries, spansOf, withParts } from './questions.js'
import { createReuseCache } from './reuse-cache.js'
import { unfinishedSince } from './value.js'

/** The rules that may paint an exhibit, in their order. */
export function rulesFor(report: BoundReport, exhibit: BoundExhibit): BoundRule[] {
  const fields = exhibit.records === undefined ? exhibit.rows : exhibit.show
  return report.rules.filter(
    (rule) =>
      !rule.paused &&
      (rule.target !== 'measure' || exhibit.show.includes(rule.measure)) &&
      (rule.target !== 'field' || fields.includes(rule.measure)) &&
      (rule.only?.includes(exhibit.name) ?? true),
  )
}

/** The period of an exhibit. */
export function exhibitSpans(
  { report, stats: surveys, asOf, moving }: QueryContext,
  exhibit: BoundExhibit,
  measures: readonly Measure[],
): Spans {
  const extents = surveys.map((survey) => survey.span)
  return { ...spansOf(report, exhibit, firstDay(report, measures, extents), asOf), extents, ...(moving && { moving }) }
}

/** Summarises an exhibit and decides its cells. `rules` default to those of the report. */
export async function answerExhibit(
  asked: QueryContext,
  exhibit: BoundExhibit,
  rules: readonly BoundRule[] = rulesFor(asked.report, exhibit),
): Promise<AnsweredExhibit> {
  const notes: Problem[] = []
  const measures = neededMeasures(asked.report, exhibit, rules)
  const spans = exhibitSpans(asked, exhibit, measures)
  const summary = await summaryOf(asked.report, exhibit, rules, measures, spans, notes)
  notes.push(
    ...(exhibit.orders.size > 0 ? (await import('./gap-notes.js')).unknownOrders(exhibit, summary) : []),
    ...(asked.moving?.notes(asked.report, exhibit, measures, summary) ?? []),
    ...tooLarge(exhibit, summary),
    ...unfinishedPeriods(asked, summary),
    ...(await gapsOf(asked.report, exhibit, measures, spans)),
  )
  const all = unfiltered(asked, rules)
  const everything =
    all &&
    (await comparedSummary(
      await summaryOf(all.report, exhibit, rules, measures, exhibitSpans(all, exhibit, measures), []),
    ))
  const skips = exhibit.unfinished === 'unpainted' || rules.some((rule) => rule.skipsUnfinished)
  return answeredOf(asked, exhibit, summary, rules, spans, notes, {
    ...(everything && { unfiltered: everything }),
    ...(skips && { unfinished: (await import('./unfinished.js')).unfinishedCells(asked, exhibit) }),
  })
}

/**
 * An unfiltered summary for rules that compare with it; the code that runs them is loaded on
 * demand.
 */
export async function comparedSummary(summary: Summary): Promise<UnfilteredSummary> {
  return { summary, run: (await import('../../rule/run/unfiltered-population.js')).runAmongEverything }
}

/** The summary without the reader's filters, if there are any and some rule compares with it. */
export function unfiltered(asked: QueryContext, rules: readonly BoundRule[]): QueryContext | undefined {
  const { report } = asked
  if (report.unfiltered === undefined || !rules.some((rule) => rule.amongUnfiltered === true && rule.readsPopulation))
    return undefined
  return { ...asked, report: { ...report, ...report.unfiltered } }
}

async function summaryOf(
  report: BoundReport,
  exhibit: BoundExhibit,
  rules: readonly BoundRule[],
  measures: readonly Measure[],
  spans: Spans,
  notes: Problem[],
): Promise<Summary> {
  // Made when words are compared: it takes as long as a small report.
  let collator: Intl.Collator | undefined
  const [home] = report.sources
  const { whole } = spans
  const streaks = streaksOf(measures)
  return summarise({
    rows: exhibit.rows,
    columns: exhibit.columns,
    measures: spans.moving?.withMethods(measures) ?? measures,
    parameters: parameterValues(report),
    fields: neededFields(exhibit, rules),
    askings: sourceQueries(report, exhibit, measures, spans, notes),
    streaks:
      streaks.length === 0 ? [] : (await import('./moving.js')).streakQueries(report, exhibit, streaks, spans, notes),
    ...(spans.axisSpan && { axisSpan: spans.axisSpan }),
    ...(whole && { whole }),
    ...(spans.asOf !== undefined && { asOf: spans.asOf }),
    ...(spans.moving && { sameBy: spans.moving.sameBy(measures) }),
    calendar: report.calendar,
    collate: (a, b) => {
      collator ??= new Intl.Collator(report.locale, { numeric: true })
      return collator.compare(a, b)
    },
    orders: exhibit.orders,
    keeps: exhibit.topN,
    ...(exhibit.sort && { by: exhibit.sort }),
    source: home.table,
  })
}

/** Prepares the painting of a summary: levels are painted when they are first used. */
export function answeredOf(
  asked: QueryContext,
  exhibit: BoundExhibit,
  summary: Summary,
  rules: readonly BoundRule[],
  spans: Spans,
  notes: Problem[],
  more: Pick<AnsweredExhibit, 'unfiltered' | 'unfinished'> = {},
): AnsweredExhibit {
  const head = {
    name: exhibit.name,
    title: exhibit.title,
    note: exhibit.note,
    section: exhibit.section,
    beside: exhibit.beside,
    alone: exhibit.alone,
    besideUnpainted: exhibit.besideUnpainted,
    periodText: spans.axisSpan === undefined ? '' : spanText(spans.axisSpan, asked.report.locale),
    keys: { row: exhibit.rows, column: exhibit.columns },
  }
  return decideExhibit(asked, {
    exhibit,
    summary,
    ...more,
    rules,
    head,
    notes,
    ...(asked.again && { cache: createReuseCache() }),
  })
}

/** Decides the same summary with other values of parameters, which no measure reads. */
export function redecideExhibit(asked: QueryContext, before: AnsweredExhibit): AnsweredExhibit {
  const { levels: _levels, legendsAndMessages: _told, report: _report, asOf: _asOf, since, ...rest } = before
  const answered = decideExhibit(asked, { ...rest, notes: [...before.notes] })
  return since === undefined ? answered : since.again(asked, answered)
}

function decideExhibit(
  { report, stats: surveys, asOf, flags, oneScale, moving }: QueryContext,
  given: Omit<AnsweredExhibit, 'report' | 'asOf' | 'flags' | 'moving' | 'levels' | 'legendsAndMessages'>,
): AnsweredExhibit {
  const { summary, notes } = given
  const levels = createPaintedLevels(report, given, oneScale)
  return {
    ...given,
    report,
    asOf,
    ...(flags && { flags }),
    ...(moving && { moving }),
    levels,
    legendsAndMessages(shown) {
      const details = levels.of(summary.levels[given.exhibit.rows.length][given.exhibit.columns.length])
      const painted = [details, ...levels.decided().filter((level) => level !== details)]
      // The legend of a rule shows details; a rule for totals alone shows totals, and a scale that
      // differs in totals is shown for both.
      const seen = new Set<BoundRule>()
      const legends = painted.flatMap(({ result: { results, painting }, cells }) => {
        const firsts = results.filter(
          (r, i) => (!seen.has(r.rule) || ownScale(r)) && results.findIndex((o) => o.rule === r.rule) === i,
        )
        const ofDetails = cells === details.cells
        const level = firsts.some(({ rule }) => seen.has(rule)) ? cells.levelText : ''
        for (const { rule } of firsts) seen.add(rule)
        const from = { results: firsts, painting, table: cells.table, level, ...(ofDetails && shown && { shown }) }
        return legendsOf(report, from, given.cache)
      })
      if (surveys[0].rows > 0 && summary.counted === 0) notes.unshift(problem('note-none-fit', {}))
      const said = [...notes, ...levels.decided().flatMap(({ result }) => result.notes)]
      return { legends, notes: [...new Set(said.map((note) => note.message))] }
    },
  }
}

/** Keys and periods that further sources lack beside home, and rows without an amount. */
async function gapsOf(
  report: BoundReport,
  exhibit: BoundExhibit,
  measures: readonly Measure[],
  { span }: Spans,
): Promise<Problem[]> {
  const { gaps = [], blanks = [] } = report.coverage ?? {}
  if (gaps.length + blanks.length === 0) return []
  const { blankNotes, gapNotes } = await import('./gap-notes.js')
  return [...gapNotes(report, gaps, exhibit, measures, span), ...blankNotes(report, blanks, measures)]
}

/** Whether totals have a scale of their own: its ends come from several values. */
function ownScale({ rule, fit }: RuleResult): boolean {
  const ends = rule.readsPopulation ? rule.kind.scale?.(fit) : undefined
  return ends?.from.some((from, g) => from < ends.to[g]) === true
}

/** The periods on the axes that end after the date of the report. */
function unfinishedPeriods({ report, asOf }: QueryContext, { rows, columns }: Summary): Problem[] {
  if (asOf === undefined) return []
  const print = periodPrinter(report.locale, report.calendar)
  const names = [rows, columns].flatMap((axis) =>
    axis.keys.flatMap(({ domain }, k) => {
      if (domain.kind !== 'time') return []
      const codes = new Set(axis.depths[k + 1].map(({ codes }) => codes[k]))
      return [...codes].flatMap((code) =>
        unfinishedSince(domain, code, asOf) === undefined ? [] : [print.long(domain.unit, domain.periods[code])],
      )
    }),
  )
  return [...new Set(names)].map((period) => problem('note-unfinished', { period, to: print.date(asOf) }))
}

/** Measures with values beyond the range of doubles. */
function tooLarge({ show }: BoundExhibit, { levels }: Summary): Problem[] {
  return show.flatMap((name) => {
    let cells = 0
    for (const level of levels.flat().reverse()) {
      const column = level.table.columns.get(name)
      if (column?.column.kind !== 'number' || cells > 0) continue
      cells = countInfinite(column.column.values)
    }
    return cells === 0 ? [] : [problem('note-too-large', { measure: name, count: cells })]
  })
}

function countInfinite(values: Float64Array): number {
  let count = 0
  for (let i = 0; i < values.length; i++) if (Math.abs(values[i]) === Number.POSITIVE_INFINITY) count++
  return count
}

/**
 * The shown measures, those that rules and reference lines read, and those that they are made of.
 */
export function neededMeasures(report: BoundReport, exhibit: BoundExhibit, rules: readonly BoundRule[]): Measure[] {
  const lines = (exhibit.chart?.references ?? []).flatMap(({ bound }) =>
    [...referencesOf(bound)].flatMap((ref) => (ref.kind === 'measure' ? [ref.name] : [])),
  )
  return withParts(report.measures, [...exhibit.show, ...rules.flatMap((rule) => [...rule.measures]), ...lines])
}

/** Fields that rules read besides the keys of the exhibit. */
export function neededFields(exhibit: BoundExhibit, rules: readonly BoundRule[]): string[] {
  const keys = new Set([...exhibit.rows, ...exhibit.columns])
  return [...new Set(rules.flatMap((rule) => rule.fields))].filter((name) => !keys.has(name))
}
