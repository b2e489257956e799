import { type Bound, operandsOf } from '../../expression/bound.js'
import type { Calendar } from '../../time/calendar.js'
import { type PeriodUnit, periodOf, type Span, spanOf } from '../../time/period.js'
import type { Step } from '../../time/step.js'
import { windowOf } from '../../time/stepped.js'
import type { Measure } from '../plan/measures.js'
import { type CellSet, spansOf } from './cell-set.js'
import { partKey, type SourceAnswers } from './question.js'

/** Without limits: the whole periods of a cell's time keys. */
const ALWAYS: Span = { from: Number.NEGATIVE_INFINITY, to: Number.POSITIVE_INFINITY }

/**
 * What measures read of the spans of cells, at each time at which they read it: the share of a
 * cell's whole periods that is over, and how many periods its span has.
 */
export function spannedAt(
  frame: CellSet,
  measures: readonly Measure[],
  time: SourceAnswers['time'],
): Map<string, Float64Array> {
  const values = new Map<string, Float64Array>()
  if (time === undefined) return values
  const byName = new Map(measures.map((measure) => [measure.name, measure]))
  const seen = new Set<string>()
  const visit = (bound: Bound, steps: readonly Step[]): void => {
    if (bound.op === 'spanned') values.set(partKey(steps, bound.key), valuesOf(bound, frame, steps, time))
    else if (bound.op === 'moved') visit(bound.of, [...steps, bound.step])
    else if (bound.op === 'name' && bound.ref.kind === 'measure') {
      const key = partKey(steps, bound.ref.name)
      const measure = byName.get(bound.ref.name)
      if (measure === undefined || seen.has(key)) return
      seen.add(key)
      visit(measure.bound, steps)
    } else for (const part of operandsOf(bound)) visit(part, steps)
  }
  for (const { bound } of measures) visit(bound, [])
  return values
}

function valuesOf(
  { of, unit }: Bound & { op: 'spanned' },
  frame: CellSet,
  steps: readonly Step[],
  { whole, axis, asOf, calendar }: NonNullable<SourceAnswers['time']>,
): Float64Array {
  const at = (span: Span): Span => (span.from > span.to ? span : windowOf(span, steps, calendar, false))
  const [over, periods, within] = [spansOf(frame, whole), spansOf(frame, ALWAYS), spansOf(frame, axis)]
  return Float64Array.from(over, (span, cell) => {
    const own = periods[cell]
    // A cell without a key of time has the periods of the axis.
    const all = at(Number.isFinite(own.from) && Number.isFinite(own.to) ? own : within[cell])
    if (all.from > all.to) return Number.NaN
    const past = at(span)
    if (unit === undefined) return past.from > past.to ? 0 : lengthOf(past) / lengthOf(all)
    if (past.from > past.to) return Number.NaN
    return of === 'passed' ? passedOf(unit, past.to, asOf, calendar) : periodsIn(unit, past, calendar)
  })
}

/**
 * The share of the period of a day that is over on it: 1 if the period ends by the date of the
 * report.
 */
function passedOf(unit: PeriodUnit, day: number, asOf: number, calendar: Calendar): number {
  const span = spanOf(unit, periodOf(unit, day, calendar), calendar)
  return span.to <= asOf ? 1 : lengthOf({ from: span.from, to: day }) / lengthOf(span)
}

function lengthOf({ from, to }: Span): number {
  return to - from + 1
}

/** How many periods a span has; one that it cuts counts by its days. */
function periodsIn(unit: PeriodUnit, { from, to }: Span, calendar: Calendar): number {
  let count = 0
  for (let period = periodOf(unit, from, calendar); period <= periodOf(unit, to, calendar); period++) {
    const span = spanOf(unit, period, calendar)
    count += lengthOf({ from: Math.max(span.from, from), to: Math.min(span.to, to) }) / lengthOf(span)
  }
  return count
}
