import { mergeMoments } from '../column/moments.js'
import { needsOf } from '../column/statistic.js'
import type { BoundAggregate } from '../expression/bound.js'
import { isPeriodUnit, type Span, spanOf } from '../time/period.js'
import { moveSpan, presentPeriod, type Shift } from '../time/shift.js'
import type { Axis } from './axis.js'
import type { Domain, Grain, Keyed } from './engine.js'

/** The keys of an answer about the past in terms of the present: June 2024 stands under June 2025. Groups without a present are told. */
export function movedKeys(keys: readonly Keyed[], groups: number, shift: Shift): { keys: Keyed[]; keep: Uint8Array } {
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

/** A whole answer about the past, in terms of the present. */
export function movedGrain(grain: Grain, parts: readonly BoundAggregate[], shift: Shift): Grain {
  const { keys, keep } = movedKeys(grain.keys, grain.groups, shift)
  let groups = 0
  const into = Int32Array.from(keep, (own) => (own === 1 ? groups++ : -1))
  const kept = <T extends Int32Array | Float64Array>(list: T): T => list.filter((_, g) => keep[g] === 1) as T
  return {
    groups,
    keys: keys.map((key) => ({ ...key, codes: kept(key.codes) })),
    rows: kept(grain.rows),
    parts: grain.parts.map((moments, p) => moments && mergeMoments(moments, into, groups, needsOf(parts[p].statistic))),
    fields: [],
  }
}

/** What a header stands for in time: its calendar keys, each inside the other. */
function headerSpan(axis: Axis, codes: readonly number[], whole: Span): Span {
  let { from, to } = whole
  codes.forEach((code, k) => {
    const { domain } = axis.keys[k]
    if (domain.kind !== 'time' || !isPeriodUnit(domain.unit) || code < 0) return
    const own = spanOf(domain.unit, domain.periods[code])
    from = Math.max(from, own.from)
    to = Math.min(to, own.to)
  })
  return { from, to }
}

/** For each cell of a level, row by row, whether its span, moved back, lies inside the data. */
export function cellsInside(
  rows: Axis,
  columns: Axis,
  rowDepth: number,
  columnDepth: number,
  { whole, data, shift }: { whole: Span; data: Span; shift: Shift },
): Uint8Array {
  const across = columns.depths[columnDepth].map((node) => headerSpan(columns, node.codes, whole))
  const out = new Uint8Array(rows.depths[rowDepth].length * across.length)
  let i = 0
  for (const node of rows.depths[rowDepth]) {
    const own = headerSpan(rows, node.codes, whole)
    for (const other of across) {
      const span = { from: Math.max(own.from, other.from), to: Math.min(own.to, other.to) }
      const past = moveSpan(span, shift)
      out[i++] = Number(span.from <= span.to && past.from >= data.from && past.to <= data.to)
    }
  }
  return out
}
