import { type Bound, type BoundAggregate, operandsOf } from '../../expression/bound.js'
import { type Step, stepsKey } from '../../time/step.js'
import type { Measure } from './measures.js'

/** The parts that are read at one time, and the measures that read them. */
export interface TimedParts {
  /** The steps from the time of a cell, outermost first. */
  steps: readonly Step[]
  parts: Map<string, BoundAggregate>
  measures: Set<string>
  /** Set where the rows of home are asked for, too, to compare their keys. */
  rows?: true
}

/**
 * The parts that are read at each time: a measure under lag() is read as it was then, with all that
 * it is made of. Streaks have questions of their own.
 */
export function timedParts(measures: readonly Measure[], all: ReadonlyMap<string, Measure>): TimedParts[] {
  const times = new Map<string, TimedParts>([['', { steps: [], parts: new Map(), measures: new Set() }]])
  const seen = new Set<string>()
  const at = (steps: readonly Step[]): TimedParts => {
    const key = stepsKey(steps)
    const entry = times.get(key) ?? { steps, parts: new Map(), measures: new Set() }
    times.set(key, entry)
    return entry
  }
  const visit = (bound: Bound, steps: readonly Step[], owner: string): void => {
    if (bound.op === 'streak') return
    if (bound.op === 'aggregate') {
      at(steps).parts.set(bound.key, bound)
      at(steps).measures.add(owner)
    } else if (bound.op === 'sameKeys') {
      for (const time of [steps, [...steps, { kind: 'lag', shift: bound.shift } as const]]) at(time).rows = true
      visit(bound.of, steps, owner)
    } else if (bound.op === 'moved') visit(bound.of, [...steps, bound.step], owner)
    else if (bound.op === 'name') {
      if (bound.ref.kind === 'measure') measure(all.get(bound.ref.name), steps, owner)
    } else for (const part of operandsOf(bound)) visit(part, steps, owner)
  }
  const measure = (measure: Measure | undefined, steps: readonly Step[], owner: string): void => {
    const key = `${owner} ${measure?.name} ${stepsKey(steps)}`
    if (measure === undefined || seen.has(key)) return
    seen.add(key)
    visit(measure.bound, steps, owner)
  }
  for (const top of measures) measure(top, [], top.name)
  return [...times.values()]
}
