import { aggregatesOf, type Bound, type BoundAggregate, referencesOf } from '../../expression/bound.js'
import { problem } from '../../problem/answering.js'
import type { Problem } from '../../problem/problem.js'
import type { SourceQuery } from '../../summary/cells/question.js'
import type { Measure } from '../../summary/plan/measures.js'
import { type TimedParts, timedParts } from '../../summary/plan/required-times.js'
import { isPeriodUnit, isTimeUnit, parseSpan, periodOf, type Span, spanOf } from '../../time/period.js'
import { shiftKey, wholeMonths } from '../../time/shift.js'
import { plainShift, stepsKey } from '../../time/step.js'
import type { QueryContext } from '../model/answered.js'
import type { BoundExhibit, BoundReport, BoundSource } from '../model/bound.js'
import { canNarrow, spanFor, whyNotSplit } from './source-fit.js'

export interface Spans {
  /** The span of rows; undefined where time does not matter. */
  span?: Span
  /** The span of calendar axes. */
  axisSpan?: Span
  /** The span of totals: the axis up to the report's date. */
  whole?: Span
  /** The date of the report. */
  asOf?: number
  /** First and last day of each source. */
  extents: readonly (Span | undefined)[]
  /** What moves spans; loaded where some measure is read at another time. */
  moving?: QueryContext['moving']
}

/** The first day of the sources that an exhibit reads: a plan may begin before the first sale. */
export function firstDay(
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

/** The spans of an exhibit: its period, never beyond `asOf` for rows, and with a start. */
export function spansOf(
  report: BoundReport,
  exhibit: BoundExhibit,
  first: number | undefined,
  asOf: number | undefined,
): Omit<Spans, 'extents'> {
  if (asOf === undefined) return {}
  const asked = parseSpan(exhibit.period ?? report.period, asOf, report.calendar)
  if (asked === undefined) return {}
  const last = exhibit.unfinished === 'leaveOut' ? lastFinished(report, exhibit, asOf) : asked.to
  const span = { from: asked.from, to: Math.min(last, asked.to, asOf) }
  const from = Number.isFinite(asked.from) ? asked.from : first
  if (from === undefined || from > asked.to) return { span, asOf }
  return { span, axisSpan: { from, to: Math.min(last, asked.to) }, whole: { from, to: span.to }, asOf }
}

/** The last day before the periods of an exhibit's keys that end after the date of the report. */
function lastFinished({ calendar }: BoundReport, { rows, columns }: BoundExhibit, asOf: number): number {
  let last = Number.POSITIVE_INFINITY
  for (const unit of [...rows, ...columns].filter(isPeriodUnit)) {
    const { from, to } = spanOf(unit, periodOf(unit, asOf, calendar), calendar)
    last = Math.min(last, to > asOf ? from - 1 : to)
  }
  return last
}

/**
 * The questions to each source, one for each time that measures read: its own parts, conditions and
 * span.
 */
export function sourceQueries(
  report: BoundReport,
  exhibit: BoundExhibit,
  measures: readonly Measure[],
  spans: Spans,
  notes: Problem[],
): SourceQuery[] {
  const [home] = report.sources
  const times = timedParts(measures, report.measures)
  return times.flatMap((time) =>
    report.sources.flatMap((source, s) => {
      const parts = [...time.parts.values()].filter((part) => (part.source ?? home.name) === source.name)
      // The present is always asked of home: its rows make the axes.
      if (parts.length === 0 && !(source === home && (time === times[0] || time.rows))) return []
      return [queryFor(report, exhibit, { source, parts, time, extent: spans.extents[s] }, spans, notes)]
    }),
  )
}

interface TimedSource {
  source: BoundSource
  parts: BoundAggregate[]
  time: TimedParts
  extent: Span | undefined
}

function queryFor(
  report: BoundReport,
  exhibit: BoundExhibit,
  { source, parts, time, extent }: TimedSource,
  { span, whole, moving, extents }: Spans,
  notes: Problem[],
): SourceQuery {
  const [home] = report.sources
  const { engine } = source
  const { steps } = time
  const where = [...report.where, ...exhibit.where]
  const moves = stepsKey(steps) !== ''
  // A source that cannot apply a condition or date gives missing values, never unfiltered ones.
  const holdsAlways = source.lookup === 'always'
  const undated =
    !holdsAlways && source.date === undefined && ((span !== undefined && Number.isFinite(span.from)) || moves)
  const open = where.filter((condition) => !canNarrow(source, condition))
  if (open.length > 0 || undated) {
    const names = [...new Set(open.flatMap((condition) => referencesOf(condition).map((ref) => ref.name)))]
    notes.push(problem('note-not-narrowed', { source: source.name, condition: undated ? 'time' : names.join(' and ') }))
    return {
      engine,
      parts,
      answers: () => false,
      where: [NEVER],
      steps: plainShift(steps) === undefined ? [] : steps,
      weeks: false,
    }
  }
  const keys = [...exhibit.rows, ...exhibit.columns].filter((key) => !holdsAlways || source.per || !isTimeUnit(key))
  const shift = plainShift(steps)
  const splits = (key: string): boolean => whyNotSplit(source, key, home) === undefined
  // Only a plain shift needs periods that map onto periods; a window takes the rows inside it.
  const falls = (key: string): boolean =>
    shift === undefined || shiftKey(shift) === '' || !isTimeUnit(key) || moving?.movesWhole(key, shift) === true
  const shown = shownNames(report, exhibit, time)
  for (const key of keys) {
    const why = whyNotSplit(source, key, home)
    if (why !== undefined) notes.push(problem('note-not-split', { source: source.name, key, why }))
    else if (moving && shift !== undefined && !falls(key)) notes.push(moving.keyNote(shown, key, shift))
  }
  const weeks = keys.includes('week')
  const asking: SourceQuery = {
    engine,
    parts,
    answers: (key) => splits(key) && falls(key) && !(holdsAlways && isTimeUnit(key)),
    where,
    steps,
    weeks,
  }
  if (source.lookup !== undefined) asking.addsNoRows = !isShown(report, exhibit, source)
  asking.holdsAlways = holdsAlways
  if (holdsAlways) {
    const [ofHome] = extents
    if (source.per !== undefined) asking.per = source.per
    if (ofHome !== undefined && whole !== undefined) asking.time = { whole, data: wholeMonths(ofHome) }
    return asking
  }
  if (span === undefined || source.date === undefined) return asking
  asking.fit = (needed) => spanFor(source, needed).span
  asking.grain = source.grain
  if (extent !== undefined && whole !== undefined) asking.time = { whole, data: wholeMonths(extent) }
  if (moving && asking.time !== undefined && shown.length > 0)
    notes.push(...moving.outsideNotes(report, shown, keys, steps, asking.time))
  if (shift === undefined) return asking
  const moved = moving?.move(span, shift, weeks) ?? span
  const cut = spanFor(source, moves ? moved : span)
  if (cut.begun && !moves) notes.push(problem('note-begun', { source: source.name, unit: source.grain }))
  // Rows without a date belong to no past period, so an open start begins with the data.
  const begins = moves && asking.time !== undefined && !Number.isFinite(cut.span.from)
  asking.span = begins ? { from: Math.min(asking.time?.data.from ?? 0, cut.span.to), to: cut.span.to } : cut.span
  return asking
}

/** Whether an exhibit shows an aggregate of a source: in a limit alone it adds no rows. */
export function isShown(report: BoundReport, { show }: BoundExhibit, { name }: BoundSource): boolean {
  return withParts(report.measures, show).some(({ bound }) => aggregatesOf(bound).some(({ source }) => source === name))
}

/** The measures to name in a problem of a shift: shown ones first, else those of rules. */
export function shownNames(report: BoundReport, exhibit: BoundExhibit, time: TimedParts): string[] {
  const all = [...time.measures]
  const visible = all.filter((name) => exhibit.show.includes(name))
  return (visible.length > 0 ? visible : all).map((name) => report.measures.get(name)?.label ?? name)
}

/** A condition that excludes all rows. */
const NEVER: Bound = { op: 'truth', value: false, type: { kind: 'condition' } }

/** Measures by name, with those that they are made of. */
export function withParts(measures: ReadonlyMap<string, Measure>, wanted: readonly string[]): Measure[] {
  const withAll = new Map<string, Measure>()
  const add = (name: string): void => {
    const measure = measures.get(name)
    if (measure === undefined || withAll.has(name)) return
    withAll.set(name, measure)
    for (const ref of referencesOf(measure.bound)) if (ref.kind === 'measure') add(ref.name)
  }
  for (const name of wanted) add(name)
  return [...withAll.values()]
}
