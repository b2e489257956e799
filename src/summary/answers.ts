import { mergeMoments } from '../column/moments.js'
import { fromMoments, needsOf } from '../column/statistic.js'
import type { Bound, BoundAggregate } from '../expression/bound.js'
import type { Span } from '../time/period.js'
import { shiftKey } from '../time/shift.js'
import { plainShift, type Step, stepsKey } from '../time/step.js'
import type { Engine, Grain, Keyed, Question, Whole } from './engine.js'
import { cellsOfGroups, type Frame, type FrameKey, tellsTime } from './frame.js'
import { type SharedKey, shareKeys } from './share.js'
import type { Windows } from './windows.js'

/** One question to one source. */
export interface Asking {
  engine: Engine
  /** The parts that this source is asked for. */
  parts: readonly BoundAggregate[]
  /** Keys it can be split by; cells split by another have no values from it, totals over that key do. */
  answers(key: string): boolean
  /** Conditions on rows; all must hold. */
  where: readonly Bound[]
  /** What counts, already moved back; left out where time does not matter. */
  span?: Span
  /** The way from the time that a cell stands for to the one it is asked about. */
  steps: readonly Step[]
  /** Whether the exhibit is split by week: weeks then move by years by their ISO number. */
  weeks: boolean
  /** What a total spans now, and the source's days in whole months. */
  time?: { whole: Span; data: Span }
  /** A span in whole periods of a coarse source. */
  fit?: (span: Span) => Span
}

/** An asking with its answer. */
export interface Answer {
  asking: Asking
  grain: Grain
  /** Where cells of different times share rows: the answer is by small periods, and each cell takes those in its window. */
  windows?: Windows
}

/** All answers, their keys on one domain each. */
export interface Answers {
  list: readonly Answer[]
  shared: readonly SharedKey[]
}

/** Asks every source for the finest grain of the keys it knows. `fields` are asked of the first, which is home. */
export async function askAll(
  askings: readonly Asking[],
  keys: readonly string[],
  fields: readonly string[],
  starts: number,
): Promise<Answers> {
  const list = await Promise.all(
    askings.map(async (asking, a): Promise<Answer> => {
      const { parts, steps } = asking
      const known = keys.filter(asking.answers)
      const shift = plainShift(steps)
      if (shift === undefined) return (await import('./windows.js')).askWindows(asking, known, keys, starts)
      const own = a === 0 ? fields : []
      const grain = await asking.engine.ask({ ...questionOf(asking, known), parts, fields: own })
      if (shiftKey(shift) === '') return { asking, grain }
      const { movedGrain } = await import('./moved.js')
      return { asking, grain: movedGrain(grain, parts, shift) }
    }),
  )
  return {
    list,
    shared: shareKeys(
      keys,
      list.map((answer) => answer.grain),
    ),
  }
}

export function questionOf({ where, span }: Asking, keys: readonly string[]): Question {
  return { keys, parts: [], fields: [], where, ...(span === undefined ? {} : { span }) }
}

/** Keys for the axes: what only tells a window's time makes no headers. */
export function axisKeys({ list, shared }: Answers): SharedKey[] {
  const names = shared.map((key) => key.name)
  return shared.map((key) => ({
    ...key,
    codes: key.codes.map((codes, a) =>
      list[a].windows !== undefined && tellsTime(key.name, names) ? undefined : codes,
    ),
  }))
}

/** A part at one time: values of the present have the part's key alone. */
export function partKey(steps: readonly Step[], key: string): string {
  return `${stepsKey(steps)} ${key}`
}

/**
 * The decimals of each part, by its text, whatever time it is asked at; a part that is not there has none
 * that are known.
 */
export function partDecimals({ list }: Answers): Map<string, number | undefined> {
  const found = new Map<string, number | undefined>()
  for (const { asking, grain } of list)
    asking.parts.forEach(({ key }, p) => {
      const own = grain.decimals[p]
      const before = found.has(key) ? found.get(key) : 0
      found.set(key, own === undefined || before === undefined ? undefined : Math.max(own, before))
    })
  return found
}

/** Every part of every answer at the cells of a frame. */
export async function valuesAt(answers: Answers, frame: Frame): Promise<Map<string, Float64Array>> {
  const values = new Map<string, Float64Array>()
  for (const [a, answer] of answers.list.entries()) {
    const own =
      answer.windows === undefined
        ? await plainValues(answers, a, frame)
        : await (await import('./windows.js')).windowValues(answers, a, frame)
    answer.asking.parts.forEach((part, p) => {
      values.set(partKey(answer.asking.steps, part.key), own[p])
    })
  }
  return values
}

export function nothing(count: number): Float64Array {
  return new Float64Array(count).fill(Number.NaN)
}

/** The codes of an answer's groups by each key of a frame; undefined where it is not split by one of them. */
export function takenCodes({ shared }: Answers, a: number, keys: readonly FrameKey[]): Int32Array[] | undefined {
  const taken: Int32Array[] = []
  for (const { name } of keys) {
    const codes = shared.find((key) => key.name === name)?.codes[a]
    if (codes === undefined) return undefined
    taken.push(codes)
  }
  return taken
}

async function plainValues(answers: Answers, a: number, frame: Frame): Promise<Float64Array[]> {
  const { asking, grain } = answers.list[a]
  const { count } = frame
  const taken = takenCodes(answers, a, frame.keys)
  if (taken === undefined) return asking.parts.map(() => nothing(count))
  const of = cellsOfGroups(frame, frame.keys, taken, grain.groups)
  const left = frame.without && leftOut(answers, a, frame.without)
  if (frame.without !== undefined && left === undefined) return asking.parts.map(() => nothing(count))
  if (left !== undefined) for (let g = 0; g < of.length; g++) if (of[g] >= 0 && left(g, of[g])) of[g] = -1
  const values = await Promise.all(
    asking.parts.map(async (part, p) => {
      const fine = grain.parts[p]
      if (fine === undefined && frame.without !== undefined)
        return (await import('./without.js')).wholeWithout(asking, part, frame, frame.without)
      if (fine !== undefined)
        return fromMoments(part.statistic, mergeMoments(fine, of, count, needsOf(part.statistic)), grain.decimals[p])
      const names = frame.keys.map((key) => key.name)
      return wholeAt(asking, questionOf(asking, names), part, frame)
    }),
  )
  // A cell without rows is missing for every measure, count too; 0 is for rows of which none fits.
  const hasRows = new Uint8Array(count)
  for (let g = 0; g < of.length; g++) if (of[g] >= 0) hasRows[of[g]] = 1
  const inside = isMoved(asking) ? (await import('./moved.js')).insideData(asking, frame) : undefined
  for (const column of values)
    for (let i = 0; i < count; i++) if (hasRows[i] === 0 || inside?.[i] === 0) column[i] = Number.NaN
  return values
}

export type Without = NonNullable<Frame['without']>

/** Whether a group is one of those that a cell is without; undefined where the answer is not split by that key. */
export function leftOut(
  { shared }: Answers,
  a: number,
  { name, shown, sets }: Without,
): ((group: number, cell: number) => boolean) | undefined {
  const codes = shared.find((key) => key.name === name)?.codes[a]
  return codes && ((group, cell) => sets[shown[cell]].has(codes[group]))
}

function isMoved({ steps }: Asking): boolean {
  const shift = plainShift(steps)
  return shift !== undefined && shiftKey(shift) !== ''
}

/** A part that does not merge, asked for at the keys of a frame. */
export async function wholeAt(
  asking: Asking,
  question: Question,
  part: BoundAggregate,
  frame: Frame,
): Promise<Float64Array> {
  const answer = await asking.engine.askWhole(question, part)
  return spread(isMoved(asking) ? (await import('./moved.js')).presently(answer, asking.steps) : answer, frame)
}

/** Values told per combination of keys, put at the cells of a frame. */
export function spread(answer: Whole, frame: Frame): Float64Array {
  const keys = frame.keys.map(({ name }) => answer.keys.find((key) => key.name === name))
  const taken = frame.keys.map((key, k) => translated(keys[k], key))
  const of = cellsOfGroups(frame, frame.keys, taken, answer.values.length)
  const out = nothing(frame.count)
  for (let g = 0; g < of.length; g++) if (of[g] >= 0) out[of[g]] = answer.values[g]
  return out
}

/** Codes of an answer on a frame's domain; what the frame does not know is -2, which no cell has. */
function translated(from: Keyed | undefined, to: FrameKey): Int32Array {
  if (from === undefined) return new Int32Array(0)
  const known = new Map<string | number, number>()
  const { domain } = to
  if (domain.kind === 'time') for (const [code, period] of domain.periods.entries()) known.set(period, code)
  else for (const [code, word] of domain.words.entries()) known.set(word, code)
  const words: readonly (string | number)[] = from.domain.kind === 'time' ? from.domain.periods : from.domain.words
  const meant = words.map((word) => known.get(word) ?? -2)
  return from.codes.map((code) => (code < 0 ? -1 : meant[code]))
}
