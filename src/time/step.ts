import type { Calendar } from './calendar.js'
import type { PeriodUnit, Span } from './period.js'
import { periodOf, spanOf } from './period.js'
import { moveSpan, moveWeeks, type Shift, shiftKey } from './shift.js'

/** One step away from the time that a cell stands for. */
export type Step =
  /** Some time ago. */
  | { kind: 'lag'; shift: Shift }
  /** From the start of the period that holds the last day, or from the beginning, to that day. */
  | { kind: 'sofar'; unit: PeriodUnit | 'all' }
  /**
   * The last day with rows up to the start of the period that holds the last day; without one, the
   * first in it.
   */
  | { kind: 'opening'; unit: PeriodUnit }

/** The same text for the same steps; empty for none. */
export function stepsKey(steps: readonly Step[]): string {
  return steps
    .map((step) => (step.kind === 'lag' ? shiftKey(step.shift) : `${step.kind} ${step.unit}`))
    .filter((key) => key !== '')
    .join(' ')
}

/** Where steps that are one look back come to: several lags are one. */
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
 * The days that count for a cell that stands for `span`, after every step. An opening reaches as
 * far back as there are rows. `weeks` says that the exhibit is split by week: looking back by years
 * then keeps to the ISO number.
 */
export function windowOf(span: Span, steps: readonly Step[], calendar: Calendar, weeks: boolean): Span {
  return steps.reduce((own, step) => stepped(own, step, calendar, weeks), span)
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
      // A step that is added later has to say here what it does to a span.
      return unknownStep(step)
  }
}

function unknownStep(step: never): never {
  throw new Error(`no such step: ${JSON.stringify(step)}`)
}
