import type { Calendar } from './calendar.js'
import { moveSpan, moveWeeks } from './move-span.js'
import { type PeriodUnit, periodOf, type Span, spanOf } from './period.js'
import type { Step } from './step.js'

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
    case 'rolling':
      return { from: spanOf(step.unit, periodOf(step.unit, to, calendar) - step.count + 1, calendar).from, to }
    case 'whole':
      return spanOf(step.unit, periodOf(step.unit, to, calendar), calendar)
    case 'finished':
    case 'begun':
      // Cut by the source, whose periods they are.
      return { from, to }
    default:
      // A new step has to define its span here.
      return unknownStep(step)
  }
}

function unknownStep(step: never): never {
  throw new Error(`no such step: ${JSON.stringify(step)}`)
}

/**
 * The period of a source that the date of the report cuts, for steps that read it or what is
 * finished: its first day, and the share of its days that is over. One that ends on the date is
 * finished.
 */
export function cutPeriod(
  steps: readonly Step[],
  grain: PeriodUnit | undefined,
  day: number,
  calendar?: Calendar,
): { begun: boolean; from: number; share: number } | undefined {
  const step = steps.find(({ kind }) => kind === 'finished' || kind === 'begun')
  if (step === undefined || grain === undefined) return undefined
  const { from, to } = spanOf(grain, periodOf(grain, day, calendar), calendar)
  return { begun: step.kind === 'begun', from: to === day ? day + 1 : from, share: (day - from + 1) / (to - from + 1) }
}
