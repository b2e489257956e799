import { type Bound, type BoundAggregate, partsOf } from '../expression/bound.js'
import { addShifts, NO_SHIFT, type Shift, shiftKey } from '../time/shift.js'
import type { Measure } from './measure.js'

/** The parts needed at one time, and the measures that look back so far. */
export interface TimedParts {
  shift: Shift
  parts: Map<string, BoundAggregate>
  measures: Set<string>
}

/** Which parts are needed at which times: a measure under lag() is needed as it was then, with all that it is made of. */
export function timedParts(shown: readonly string[], measures: ReadonlyMap<string, Measure>): TimedParts[] {
  const times = new Map<string, TimedParts>([['', { shift: NO_SHIFT, parts: new Map(), measures: new Set() }]])
  const seen = new Set<string>()
  const at = (shift: Shift): TimedParts => {
    const key = shiftKey(shift)
    const known = times.get(key) ?? { shift, parts: new Map(), measures: new Set() }
    times.set(key, known)
    return known
  }
  const visit = (bound: Bound, shift: Shift, owner: string): void => {
    if (bound.op === 'aggregate') {
      at(shift).parts.set(bound.key, bound)
      at(shift).measures.add(owner)
    } else if (bound.op === 'lag') visit(bound.of, addShifts(shift, bound.shift), owner)
    else if (bound.op === 'name') {
      if (bound.ref.kind === 'measure') measure(bound.ref.name, shift, owner)
    } else for (const part of partsOf(bound)) visit(part, shift, owner)
  }
  const measure = (name: string, shift: Shift, owner: string): void => {
    const key = `${owner} ${name} ${shiftKey(shift)}`
    const found = measures.get(name)
    if (found === undefined || seen.has(key)) return
    seen.add(key)
    visit(found.bound, shift, owner)
  }
  for (const name of shown) measure(name, NO_SHIFT, name)
  return [...times.values()]
}
