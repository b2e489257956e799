import type { Bound, BoundAggregate } from '../../expression/bound.js'
import type { CellSet } from './cell-set.js'
import { questionOf, type SourceQuery } from './question.js'
import { nothing, type Without, wholeAt } from './spread.js'

/** A part that does not merge, without excluded groups: one question for each set of them. */
export async function wholeWithout(
  asking: SourceQuery,
  part: BoundAggregate,
  frame: CellSet,
  without: Without,
): Promise<Float64Array> {
  const out = nothing(frame.count)
  const names = frame.keys.map((key) => key.name)
  for (const [s, set] of without.sets.entries()) {
    const question = questionOf(asking, names)
    const where = [...question.where, notAmong(without, set)]
    const whole = await wholeAt(asking, { ...question, where }, part, frame)
    for (let cell = 0; cell < out.length; cell++) if (without.shown[cell] === s) out[cell] = whole[cell]
  }
  return out
}

/** The condition that excludes some words of a key; a missing key is not excluded. */
export function notAmong({ name, domain }: Without, codes: ReadonlySet<number>): Bound {
  const words = domain.kind === 'text' ? domain.words : []
  const condition = { kind: 'condition' } as const
  const text = { kind: 'text' } as const
  const key: Bound = { op: 'name', ref: { kind: 'field', name }, type: text }
  const list = [...codes]
    .filter((code) => code >= 0)
    .map((code): Bound => ({ op: 'text', value: words[code], type: text }))
  const gone: Bound = { op: 'missing', of: key, not: codes.has(-1), type: condition }
  if (list.length === 0) return gone
  const others: Bound = { op: 'in', of: key, list, not: true, type: condition }
  return { op: codes.has(-1) ? 'and' : 'or', left: others, right: gone, type: condition }
}
