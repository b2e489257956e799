import type { PeriodUnit } from './period.js'
import { type Shift, shiftKey } from './shift.js'

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
  /** The period of the last day, to that day, and the whole ones before it: so many in all. */
  | { kind: 'rolling'; unit: PeriodUnit; count: number }
  /** The whole period of the last day, after the date of the report, too. */
  | { kind: 'whole'; unit: PeriodUnit }
  /** The periods of a source that are over, and the one that the date of the report cuts. */
  | { kind: 'finished' | 'begun' }

/** Equal texts for equal steps; empty for none. */
export function stepsKey(steps: readonly Step[]): string {
  return steps
    .map((step) => (step.kind === 'lag' ? shiftKey(step.shift) : Object.values(step).join(' ')))
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
