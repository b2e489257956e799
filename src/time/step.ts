import type { Calendar } from './calendar.js'
import type { PeriodUnit, Span } from './period.js'
import { periodOf, spanOf } from './period.js'
import { moveSpan, moveWeeks, type Shift, shiftKey } from './shift.js'

/** One step from the time of a cell to another time. */
export type Step =
  /** A shift into the past. */
  | { kind: 'lag'; shift: Shift }
  /** From the start of the period of the last day, or from the beginning, to that day. */
  | { kind: 'sofar'; unit: PeriodUnit | 'all' }
  /**
   * The last day with rows up to the start of the period of the last day; without one, the first in
   * it.
   */
  | { kind: 'opening'; unit: PeriodUnit }

/** Equal texts for equal steps; empty for none. */
export function stepsKey(steps: readonly Step[]): string {
  return steps
    .map((step) => (step.kind === 'lag' ? shiftKey(step.shift) : `${step.kind} ${step.unit}`))
    .filter((key) => key !== '')
    .join(' ')
}

/** The total of steps that are shifts alone. */
export function plainShift(steps: readonly Step[]): Shift | undefined {
  const shift = { months: 0, days: 0 }
  for (const step of steps) {
    if (step.kind !== 'lag') return undefined
    shift.months += step.shift.months
    shift.days += step.shift.days
  }
  return shift
}

/**
 * The span that a cell of `span` reads after every step. An opening reaches back as far as there
 * are rows. `weeks`: the exhibit is split by week, so a shift by years keeps the ISO week number.
 */
export function windowOf(span: Span, steps: readonly Step[], calendar: Calendar, weeks: boolean): Span {
  return steps.reduce((current, step) => stepped(current, step, calendar, weeks), span)
}

function stepped({ from, to }: Span, step: Step, calendar: Calendar, weeks: boolean): Span {
  switch (step.kind) {
    case 'lag':
      return weeks ? moveWeeks({ from, to }, step.shift) : moveSpan({ from, to }, step.shift)
    case 'opening':
      return { from: Number.NEGATIVE_INFINITY, to }
    case 'sofar':
      if (step.unit === 'all') return { from: Number.NEGATIVE_INFINITY, to }
      return { from: spanOf(step.unit, periodOf(step.unit, to, calendar), calendar).from, to }
    default:
      // A new step has to define its span here.
      return unknownStep(step)
  }
}

function unknownStep(step: never): never {
  throw new Error(`no such step: ${JSON.stringify(step)}`)
}
