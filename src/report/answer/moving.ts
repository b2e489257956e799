import { referencesOf } from '../../expression/bound.js'
import { periodPrinter } from '../../format/period.js'
import { problem } from '../../problem/optional.js'
import type { Problem } from '../../problem/problem.js'
import { sameKeysOf } from '../../summary/cells/same-keys.js'
import type { StreakQuery } from '../../summary/cells/streak.js'
import type { Summary } from '../../summary/cells/summarise.js'
import type { Measure } from '../../summary/plan/measures.js'
import { timedParts } from '../../summary/plan/required-times.js'
import type { streaksOf } from '../../summary/plan/streaks.js'
import { moveSpan, movesWhole, moveWeeks } from '../../time/move-span.js'
import { isPeriodUnit, PERIOD_UNITS, periodOf, type Span, spanOf } from '../../time/period.js'
import { shiftKey, shiftText } from '../../time/shift.js'
import { plainShift, type Step, stepsKey } from '../../time/step.js'
import { windowOf } from '../../time/stepped.js'
import type { Moving } from '../model/answered.js'
import type { BoundExhibit, BoundReport } from '../model/bound.js'
import { type Spans, shownNames, sourceQueries, withParts } from './questions.js'
import { firstFew } from './value.js'

/** What a report needs where some measure is read at another time; other pages do not carry it. */
export const moving: Moving = {
  move: (span, shift, weeks) => (weeks ? moveWeeks(span, shift) : moveSpan(span, shift)),
  movesWhole,
  keyNote: (measures, key, shift) => problem('note-lag-key', { measures, key, shift: shiftText(shift) }),
  outsideNotes,
  sameBy: (measures) => [...new Set([...sameKeysOf(measures).values()].map(({ bound }) => bound.by))],
  withMethods: (measures) =>
    measures.flatMap((measure) => {
      const { bound, name } = measure
      if (bound.op !== 'if' || bound.method === undefined) return [measure]
      return [measure, { ...measure, name: methodName(name), bound: bound.method }]
    }),
  methodAt({ table }, cell, measure) {
    const column = table.columns.get(methodName(measure))?.column
    return column?.kind === 'number' ? METHODS[column.values[cell]] : undefined
  },
  notes: (report, exhibit, measures, summary) => [
    ...repeats(report, exhibit, measures, summary),
    ...(summary.leftOut ?? []).map(({ by, words }) =>
      problem('note-same-keys', { by, count: words.length, what: firstFew(words, ', ') }),
    ),
  ],
}

/** Measures that read a time, or a window of the first cell, before the data. */
function outsideNotes(
  { locale, calendar }: BoundReport,
  measures: readonly string[],
  keys: readonly string[],
  steps: readonly Step[],
  { whole, data }: { whole: Span; data: Span },
): Problem[] {
  const from = periodPrinter(locale).date(data.from)
  const weeks = keys.includes('week')
  // The total shift of some steps, whatever windows they contain.
  const back = plainShift(steps.filter((step) => step.kind === 'lag'))
  const past = back === undefined || shiftKey(back) === '' ? whole : moving.move(whole, back, weeks)
  if (past.from < data.from) return [problem('note-lag-outside', { measures, from, all: past.to < data.from })]
  const rolling = steps.find((step) => step.kind === 'rolling')
  const [unit] = keys.filter(isPeriodUnit).sort((a, b) => PERIOD_UNITS.indexOf(b) - PERIOD_UNITS.indexOf(a))
  if (rolling === undefined || !Number.isFinite(whole.from)) return []
  const reach = (to: number): number => windowOf({ from: whole.from, to }, steps, calendar, weeks).from
  const first = unit === undefined ? whole.to : spanOf(unit, periodOf(unit, whole.from, calendar), calendar).to
  if (reach(Math.min(first, whole.to)) >= data.from) return []
  const window = `${rolling.count} ${rolling.unit}${rolling.count === 1 ? '' : 's'}`
  return [problem('note-rolling-outside', { measures, window, from, all: reach(whole.to) < data.from })]
}

/** The column that holds how the values of a measure are found: no valid name. */
function methodName(measure: string): string {
  return `(method of ${measure})`
}

/** By their numbers in expressions. */
const METHODS = [
  { name: 'finished', words: 'is of a finished period: nothing is projected' },
  { name: 'lastYear', words: 'is projected by the course of last year' },
  { name: 'days', words: 'is projected by days: last year has no base' },
] as const

/**
 * Measures of another period that equal the present one in every cell: the periods are not linked
 * as intended.
 */
function repeats(
  report: BoundReport,
  exhibit: BoundExhibit,
  measures: readonly Measure[],
  summary: Summary,
): Problem[] {
  const timed = timedParts(measures, report.measures)
    .filter((time) => summary.repeats.has(stepsKey(time.steps)))
    .map((time) => shownNames(report, exhibit, time))
  return timed.map((names) => problem('note-lag-same', { measures: names }))
}

/**
 * A streak is counted over all data up to the last shown day, by its own period or the shortest of
 * the exhibit.
 */
export function streakQueries(
  report: BoundReport,
  exhibit: BoundExhibit,
  streaks: ReturnType<typeof streaksOf>,
  spans: Spans,
  notes: Problem[],
): StreakQuery[] {
  const keys = [...exhibit.rows, ...exhibit.columns]
  const units = keys.filter(isPeriodUnit).sort((a, b) => PERIOD_UNITS.indexOf(b) - PERIOD_UNITS.indexOf(a))
  return streaks.flatMap((streak) => {
    const unit = streak.unit ?? units[0]
    const days = spans.extents.flatMap((extent) => (extent === undefined ? [] : [extent.from]))
    if (unit === undefined) {
      notes.push(problem('note-streak-unit', { text: streak.key }))
      return []
    }
    if (spans.whole === undefined || days.length === 0) return []
    const names = referencesOf(streak.of).flatMap((ref) => (ref.kind === 'measure' ? [ref.name] : []))
    const measures = withParts(report.measures, names)
    const condition: Measure = { ...measures[0], name: streak.key, bound: streak.of }
    const span = { from: Math.min(...days), to: spans.whole.to }
    const over: Spans = { ...spans, span, axisSpan: span, whole: span }
    const place: BoundExhibit = { ...exhibit, rows: keys.filter((key) => !isPeriodUnit(key)), columns: [unit] }
    // Problems of these questions are reported with the exhibit.
    const askings = sourceQueries(report, place, [condition], over, [])
    return [{ streak, unit, askings, span, measures }]
  })
}
