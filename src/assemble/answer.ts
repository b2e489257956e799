import { aggregatesOf, type Bound, type BoundAggregate, referencesOf } from '../expression/bound.js'
import { constantNumber, evaluate, numbers } from '../expression/evaluate.js'
import { numberPrinter } from '../format/format.js'
import { periodPrinter } from '../format/period.js'
import { spanText } from '../format/span.js'
import type { Painted } from '../look/painting.js'
import type { Exhibit, Page } from '../page/page.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import type { BoundRule } from '../rule/check.js'
import { type PaintResult, paintCells } from '../rule/paint.js'
import type { Cells, RuleResult } from '../rule/run.js'
import type { Engine } from '../summary/engine.js'
import { type TimedParts, timedParts } from '../summary/looked.js'
import type { Measure } from '../summary/measure.js'
import { type Asking, type Level, type Summary, summarise } from '../summary/summarise.js'
import { dayText } from '../time/day.js'
import { isTimeUnit, parsePeriod, parseSpan, type Span } from '../time/period.js'
import { moveSpan, movesWhole, moveWeeks, shiftKey, wholeMonths } from '../time/shift.js'
import type { BoundReport } from './bind.js'
import { buildChart } from './chart.js'
import type { BoundExhibit } from './exhibit.js'
import { buildGrid } from './grid.js'
import { legendsOf } from './legend.js'
import { type BoundSource, canNarrow, notSplit, spanFor } from './sources.js'

/** An exhibit's numbers and looks, before they become a page. */
export interface Answered {
  report: BoundReport
  exhibit: BoundExhibit
  summary: Summary
  /** The painting of one pair of depths, made when first asked for. */
  painting(rowDepth: number, columnDepth: number): ReadonlyMap<string, Painted>
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

/** Answers a report with an engine for each of its sources: numbers read once, decided once, and laid out as a page. */
export async function answerReport(report: BoundReport, engines: readonly Engine[]): Promise<Page> {
  const extents = await Promise.all(engines.map((engine) => engine.extent()))
  const asOf = asOfDay(report, extents[0])
  const exhibits: Exhibit[] = []
  for (const exhibit of report.exhibits) {
    const answered = await answerExhibit(report, exhibit, engines, extents, asOf)
    exhibits.push(exhibit.kind === 'chart' ? buildChart(answered) : buildGrid(answered))
  }
  const notes = report.notes.map((note) => note.message)
  for (const { name, table, date } of report.sources) {
    if (table.length === 0) notes.push(problem('note-no-rows', { source: name }).message)
    const days = date === undefined ? undefined : table.columns.get(date)?.column
    const count = days?.kind === 'date' ? days.values.filter(Number.isNaN).length : 0
    if (count > 0) notes.push(problem('note-undated', { count, source: name }).message)
  }
  const { spec, locale, parameters } = report
  return {
    title: spec.title,
    note: spec.note ?? null,
    locale,
    asOf: asOf === undefined ? null : dayText(asOf),
    asOfText: asOf === undefined ? null : periodPrinter(locale).date(asOf),
    sources: Object.values(spec.sources).map((source) => source.file),
    parameters: [...parameters.values()].map(({ name, label, value, format }) => ({
      name,
      label,
      value,
      text: numberPrinter(format, locale)(value),
    })),
    where: report.whereText,
    statuses: report.statuses,
    exhibits,
    notes,
  }
}

function asOfDay(report: BoundReport, extent: Span | undefined): number | undefined {
  if (report.sources[0].date === undefined) return undefined
  if (report.asOf === 'latest') return extent?.to
  if (report.asOf === 'today') {
    if (report.today === undefined) throw new ProblemError([problem('bad-date', { text: 'today' })])
    return report.today
  }
  return parsePeriod(report.asOf)?.period
}

async function answerExhibit(
  report: BoundReport,
  exhibit: BoundExhibit,
  engines: readonly Engine[],
  extents: readonly (Span | undefined)[],
  asOf: number | undefined,
): Promise<Answered> {
  const rules = report.rules.filter(
    (rule) => exhibit.show.includes(rule.measure) && (rule.only?.includes(exhibit.name) ?? true),
  )
  const collator = new Intl.Collator(report.locale, { numeric: true })
  const [home] = report.sources
  const notes: Problem[] = []
  const measures = neededMeasures(report, exhibit, rules)
  const spans: Spans = { ...spansOf(report, exhibit, firstDay(report, measures, extents), asOf), extents }
  const summary = await summarise({
    rows: exhibit.rows,
    columns: exhibit.columns,
    measures,
    parameters: parameterValues(report),
    fields: neededFields(exhibit, rules),
    askings: askingsOf(report, exhibit, engines, measures, spans, notes),
    ...(spans.axisSpan && { axisSpan: spans.axisSpan }),
    collate: (a, b) => collator.compare(a, b),
    source: home.table,
  })
  const results: RuleResult[] = []
  const done = new Map<Level, PaintResult>()
  const painting = (rowDepth: number, columnDepth: number): PaintResult => {
    const level = summary.levels[rowDepth][columnDepth]
    let result = done.get(level)
    if (result === undefined) {
      result = paintCells(cellsOf(report, exhibit, level), rules, exhibit.show)
      done.set(level, result)
      results.push(...result.results)
      notes.push(...result.notes)
    }
    return result
  }
  return {
    report,
    exhibit,
    summary,
    painting: (r, c) => painting(r, c).painting,
    head: {
      name: exhibit.name,
      title: exhibit.title,
      note: exhibit.note,
      beside: exhibit.beside,
      periodText: spans.axisSpan === undefined ? '' : spanText(spans.axisSpan, report.locale),
    },
    told() {
      const details = painting(exhibit.rows.length, exhibit.columns.length)
      // A rule for totals alone has its legend from there; else details speak.
      const others = results.filter((r) => !details.results.some((d) => d.rule === r.rule))
      const firsts = others.filter((r, i) => others.findIndex((o) => o.rule === r.rule) === i)
      const legends = legendsOf(report, details.results, details.painting)
      for (const result of firsts) {
        const own = [...done.values()].find((d) => d.results.includes(result))
        if (own !== undefined) legends.push(...legendsOf(report, [result], own.painting))
      }
      if (report.sources[0].table.length > 0 && summary.counted === 0) notes.unshift(problem('note-none-fit', {}))
      return { legends, notes: [...new Set(notes.map((note) => note.message))] }
    },
  }
}

interface Spans {
  /** What counts now; left out where time does not matter. */
  span?: Span
  /** What calendar axes cover. */
  axisSpan?: Span
  /** First and last day of each source. */
  extents: readonly (Span | undefined)[]
}

/** The first day of the sources that an exhibit reads: a plan may begin before the first sale. */
function firstDay(
  report: BoundReport,
  measures: readonly Measure[],
  extents: readonly (Span | undefined)[],
): number | undefined {
  const read = new Set(measures.flatMap((m) => aggregatesOf(m.bound)).map((part) => part.source))
  const days = extents.flatMap((extent, s) =>
    extent !== undefined && (s === 0 || read.has(report.sources[s].name)) ? [extent.from] : [],
  )
  return days.length === 0 ? undefined : Math.min(...days)
}

/** What counts, and what calendar axes cover: the exhibit's period, never past `asOf` for rows, and never open at its start. */
function spansOf(
  report: BoundReport,
  exhibit: BoundExhibit,
  first: number | undefined,
  asOf: number | undefined,
): { span?: Span; axisSpan?: Span } {
  if (asOf === undefined) return {}
  const asked = parseSpan(exhibit.period ?? report.period, asOf)
  if (asked === undefined) return {}
  const span = { from: asked.from, to: Math.min(asked.to, asOf) }
  const from = Number.isFinite(asked.from) ? asked.from : first
  return from === undefined || from > asked.to ? { span } : { span, axisSpan: { from, to: asked.to } }
}

/** What each source is asked, now and for each time looked back at: its own parts, narrowed and cut as far as it can be. */
function askingsOf(
  report: BoundReport,
  exhibit: BoundExhibit,
  engines: readonly Engine[],
  measures: readonly Measure[],
  spans: Spans,
  notes: Problem[],
): Asking[] {
  const times = timedParts(
    measures.map((m) => m.name),
    report.measures,
  )
  return times.flatMap((time) =>
    report.sources.flatMap((source, s) => {
      const home = source === report.sources[0]
      const parts = [...time.parts.values()].filter((part) => (part.source ?? report.sources[0].name) === source.name)
      // Home is asked about the present in any case: its rows make the axes.
      if (parts.length === 0 && !(home && time === times[0])) return []
      const extent = spans.extents[s]
      return [askOne(report, exhibit, source, { engine: engines[s], parts, time, extent }, spans, notes)]
    }),
  )
}

function askOne(
  report: BoundReport,
  exhibit: BoundExhibit,
  source: BoundSource,
  {
    engine,
    parts,
    time,
    extent,
  }: { engine: Engine; parts: BoundAggregate[]; time: TimedParts; extent: Span | undefined },
  { span, axisSpan }: Spans,
  notes: Problem[],
): Asking {
  const [home] = report.sources
  const { shift } = time
  const where = [...report.where, ...exhibit.where]
  const moves = shiftKey(shift) !== ''
  // What cannot be narrowed or dated is missing, never silently whole.
  const undated = source.date === undefined && ((span !== undefined && Number.isFinite(span.from)) || moves)
  const open = where.filter((condition) => !canNarrow(source, condition))
  if (open.length > 0 || undated) {
    const names = [...new Set(open.flatMap((condition) => referencesOf(condition).map((ref) => ref.name)))]
    notes.push(problem('note-not-narrowed', { source: source.name, condition: undated ? 'time' : names.join(' and ') }))
    return { engine, parts, answers: () => false, where: [NEVER], shift }
  }
  // A measure that only a rule reads is named where none shown looks back so far.
  const all = [...time.measures]
  const visible = all.filter((name) => exhibit.show.includes(name))
  const shown = (visible.length > 0 ? visible : all).map((name) => report.measures.get(name)?.label ?? name)
  const splits = (key: string): boolean => notSplit(source, key, home) === undefined
  const falls = (key: string): boolean => !isTimeUnit(key) || !moves || movesWhole(key, shift)
  for (const key of [...exhibit.rows, ...exhibit.columns]) {
    const why = notSplit(source, key, home)
    if (why !== undefined) notes.push(problem('note-not-split', { source: source.name, key, why }))
    else if (!falls(key)) notes.push(problem('note-lag-key', { measures: shown, key }))
  }
  const asking: Asking = { engine, parts, answers: (key) => splits(key) && falls(key), where, shift }
  if (span === undefined || source.date === undefined) return asking
  const byWeek = [...exhibit.rows, ...exhibit.columns].includes('week')
  const moved = byWeek ? moveWeeks(span, shift) : moveSpan(span, shift)
  const cut = spanFor(source, moves ? moved : span)
  if (cut.begun && !moves) notes.push(problem('note-begun', { source: source.name, unit: source.grain }))
  asking.span = cut.span
  if (!moves || axisSpan === undefined || extent === undefined) return asking
  const data = wholeMonths(extent)
  const whole = { from: axisSpan.from, to: Math.min(axisSpan.to, span.to) }
  const past = moveSpan(whole, shift)
  if (past.from < data.from && shown.length > 0) {
    const from = periodPrinter(report.locale).date(data.from)
    notes.push(problem('note-lag-outside', { measures: shown, from, all: past.to < data.from }))
  }
  return { ...asking, past: { whole, data } }
}

/** A condition that no row meets. */
const NEVER: Bound = { op: 'truth', value: false, type: { kind: 'condition' } }

function parameterValues(report: BoundReport): Map<string, number> {
  return new Map([...report.parameters].map(([name, parameter]) => [name, parameter.value]))
}

/** The measures shown, those that rules read, and those that these are made of. */
function neededMeasures(report: BoundReport, exhibit: BoundExhibit, rules: readonly BoundRule[]): Measure[] {
  const found = new Map<string, Measure>()
  const add = (name: string): void => {
    const measure = report.measures.get(name)
    if (measure === undefined || found.has(name)) return
    found.set(name, measure)
    for (const ref of referencesOf(measure.bound)) if (ref.kind === 'measure') add(ref.name)
  }
  for (const name of exhibit.show) add(name)
  for (const rule of rules) for (const name of rule.measures) add(name)
  return [...found.values()]
}

/** What rules ask of rows, beyond the exhibit's own keys. */
function neededFields(exhibit: BoundExhibit, rules: readonly BoundRule[]): string[] {
  const keys = new Set([...exhibit.rows, ...exhibit.columns])
  return [...new Set(rules.flatMap((rule) => rule.fields))].filter((name) => !keys.has(name))
}

function cellsOf(report: BoundReport, exhibit: BoundExhibit, level: Level): Cells {
  const { rowDepth, columnDepth, table, mixed } = level
  const details = rowDepth === exhibit.rows.length && columnDepth === exhibit.columns.length
  const keys = [...exhibit.rows.slice(0, rowDepth), ...exhibit.columns.slice(0, columnDepth)]
  return {
    exhibit: exhibit.name,
    level: details ? 'details' : 'totals',
    what: details ? 'details' : keys.length === 0 ? 'grand total' : `totals by ${keys.join(' and ')}`,
    table,
    keys,
    mixed,
    parameters: parameterValues(report),
  }
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
