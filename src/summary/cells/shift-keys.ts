import { mergeMoments } from '../../column/moments.js'
import { needsOf } from '../../column/statistic.js'
import type { BoundAggregate } from '../../expression/bound.js'
import { moveSpan, moveWeeks, presentPeriod } from '../../time/move-span.js'
import { type Shift, shiftKey } from '../../time/shift.js'
import { plainShift, type Step } from '../../time/step.js'
import type { Domain, GroupedAnswer, Keyed, UnmergedAnswer } from '../contract.js'
import { type CellSet, spansOf } from './cell-set.js'
import type { SourceQuery } from './question.js'

/**
 * The keys of an answer about the past as present keys: June 2024 becomes June 2025. Groups without
 * a present are reported.
 */
export function shiftKeys(keys: readonly Keyed[], groups: number, shift: Shift): { keys: Keyed[]; keep: Uint8Array } {
  const keep = new Uint8Array(groups).fill(1)
  const moved = keys.map((key): Keyed => {
    const { domain } = key
    if (domain.kind !== 'time') return key
    const present = domain.periods.map((period) => presentPeriod(domain.unit, period, shift))
    for (let g = 0; g < groups; g++) if (key.codes[g] >= 0 && present[key.codes[g]] === undefined) keep[g] = 0
    const periods: Domain = { ...domain, periods: present.map((p) => p ?? 0) }
    return { ...key, domain: periods }
  })
  return { keys: moved, keep }
}

/** A whole answer about the past, with present keys. */
export function shiftAnswer(grain: GroupedAnswer, parts: readonly BoundAggregate[], shift: Shift): GroupedAnswer {
  const { keys, keep } = shiftKeys(grain.keys, grain.groups, shift)
  let groups = 0
  const into = Int32Array.from(keep, (kept) => (kept === 1 ? groups++ : -1))
  const kept = <T extends Int32Array | Float64Array>(list: T): T => list.filter((_, g) => keep[g] === 1) as T
  return {
    groups,
    keys: keys.map((key) => ({ ...key, codes: kept(key.codes) })),
    rows: kept(grain.rows),
    parts: grain.parts.map((moments, p) => moments && mergeMoments(moments, into, groups, needsOf(parts[p].statistic))),
    decimals: grain.decimals,
    fields: [],
  }
}

/** Whether the shifted span of each cell is inside the data; undefined without a shift. */
export function insideData({ steps, time, weeks }: SourceQuery, frame: CellSet): Uint8Array | undefined {
  const shift = plainShift(steps)
  if (time === undefined || shift === undefined || shiftKey(shift) === '') return undefined
  const { whole, data } = time
  return Uint8Array.from(spansOf(frame, whole), (span) => {
    const past = weeks ? moveWeeks(span, shift) : moveSpan(span, shift)
    return Number(span.from <= span.to && past.from >= data.from && past.to <= data.to)
  })
}

/** Values by combination of keys, with present keys; those without a present are left out. */
export function presently(answer: UnmergedAnswer, steps: readonly Step[]): UnmergedAnswer {
  const shift = plainShift(steps)
  if (shift === undefined || shiftKey(shift) === '') return answer
  const { keys, keep } = shiftKeys(answer.keys, answer.values.length, shift)
  return {
    keys: keys.map((key) => ({ ...key, codes: key.codes.filter((_, g) => keep[g] === 1) })),
    values: answer.values.filter((_, g) => keep[g] === 1),
  }
}
