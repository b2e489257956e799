import { type Bound, operandsOf } from '../../expression/bound.js'
import type { Measure } from './measures.js'

export type Streak = Bound & { op: 'streak' }

/** The streaks in measures, by their text. */
export function streaksOf(measures: readonly Measure[]): Streak[] {
  const streaks = new Map<string, Streak>()
  const visit = (bound: Bound): void => {
    if (bound.op === 'streak') streaks.set(bound.key, bound)
    for (const part of operandsOf(bound)) visit(part)
  }
  for (const { bound } of measures) visit(bound)
  return [...streaks.values()]
}
