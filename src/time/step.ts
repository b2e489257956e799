import type { PeriodUnit, Span } from './period.js'
import { periodOf, spanOf } from './period.js'
import { moveSpan, type Shift, shiftKey } from './shift.js'

/** One step away from the time that a cell stands for. */
export type Step =
  /** Some time ago. */
  | { kind: 'lag'; shift: Shift }
  /** From the start of the period that holds the last day, or from the beginning, to that day. */
  | { kind: 'sofar'; unit: PeriodUnit | 'all' }
  /** The last day with rows up to the start of the period that holds the last day; without one, the first in it. */
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

/** The days that count for a cell that stands for `span`, after every step. An opening reaches as far back as there are rows. */
export function windowOf(span: Span, steps: readonly Step[], starts: number): Span {
  let { from, to } = span
  for (const step of steps) {
    if (step.kind === 'lag') ({ from, to } = moveSpan({ from, to }, step.shift))
    else if (step.kind === 'opening' || step.unit === 'all') from = Number.NEGATIVE_INFINITY
    else from = spanOf(step.unit, periodOf(step.unit, to, starts), starts).from
  }
  return { from, to }
}
