import type { BoundAggregate } from '../../expression/bound.js'
import { shiftKey } from '../../time/shift.js'
import { plainShift } from '../../time/step.js'
import type { Keyed, Question, UnmergedAnswer } from '../contract.js'
import { type CellSet, type CellSetKey, cellsOfGroups } from './cell-set.js'
import type { SourceAnswers, SourceQuery } from './question.js'

export function nothing(count: number): Float64Array {
  return new Float64Array(count).fill(Number.NaN)
}

/**
 * The codes of an answer's groups by each key of the cells; undefined if it is not split by one of
 * them.
 */
export function takenCodes(
  { shared }: SourceAnswers,
  a: number,
  keys: readonly CellSetKey[],
): Int32Array[] | undefined {
  const taken: Int32Array[] = []
  for (const { name } of keys) {
    const codes = shared.find((key) => key.name === name)?.codes[a]
    if (codes === undefined) return undefined
    taken.push(codes)
  }
  return taken
}

export type Without = NonNullable<CellSet['without']>

/** Whether a group is excluded from a cell; undefined if the answer is not split by that key. */
export function leftOut(
  { shared }: SourceAnswers,
  a: number,
  { name, shown, sets }: Without,
): ((group: number, cell: number) => boolean) | undefined {
  const codes = shared.find((key) => key.name === name)?.codes[a]
  return codes && ((group, cell) => sets[shown[cell]].has(codes[group]))
}

export function isMoved({ steps, holdsAlways }: SourceQuery): boolean {
  if (holdsAlways) return false
  const shift = plainShift(steps)
  return shift !== undefined && shiftKey(shift) !== ''
}

/** A part that does not merge, asked for at the keys of the cells. */
export async function wholeAt(
  asking: SourceQuery,
  question: Question,
  part: BoundAggregate,
  frame: CellSet,
): Promise<Float64Array> {
  const answer = await asking.engine.askWhole(question, part)
  return spreadToCells(
    isMoved(asking) ? (await import('./shift-keys.js')).presently(answer, asking.steps) : answer,
    frame,
  )
}

/** Values by combination of keys, at the cells. */
export function spreadToCells(answer: UnmergedAnswer, frame: CellSet): Float64Array {
  const keys = frame.keys.map(({ name }) => answer.keys.find((key) => key.name === name))
  const taken = frame.keys.map((key, k) => translated(keys[k], key))
  const of = cellsOfGroups(frame, frame.keys, taken, answer.values.length)
  const out = nothing(frame.count)
  for (let g = 0; g < of.length; g++) if (of[g] >= 0) out[of[g]] = answer.values[g]
  return out
}

/** Codes of an answer in the domain of the cells; unknown ones become -2, which no cell has. */
function translated(from: Keyed | undefined, to: CellSetKey): Int32Array {
  if (from === undefined) return new Int32Array(0)
  const places = new Map<string | number, number>()
  const { domain } = to
  if (domain.kind === 'time') for (const [code, period] of domain.periods.entries()) places.set(period, code)
  else for (const [code, word] of domain.words.entries()) places.set(word, code)
  const words: readonly (string | number)[] = from.domain.kind === 'time' ? from.domain.periods : from.domain.words
  const meant = words.map((word) => places.get(word) ?? -2)
  return from.codes.map((code) => (code < 0 ? -1 : meant[code]))
}
