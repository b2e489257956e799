import { mergeMoments } from '../../column/moments.js'
import { fromMoments, needsOf } from '../../column/statistic.js'
import type { Calendar } from '../../time/calendar.js'
import { NO_SHIFT, shiftKey } from '../../time/shift.js'
import { plainShift } from '../../time/step.js'
import { type SharedKey, shareKeys } from './align-keys.js'
import { type CellSet, cellsOfGroups, tellsTime } from './cell-set.js'
import { partKey, questionOf, type SourceAnswer, type SourceAnswers, type SourceQuery } from './question.js'
import { isMoved, leftOut, nothing, takenCodes, wholeAt } from './spread.js'

/**
 * Asks every source for the finest grain of the keys that it has. `fields` are asked of home, the
 * first source.
 */
export async function askAll(
  askings: readonly SourceQuery[],
  keys: readonly string[],
  fields: readonly string[],
  calendar: Calendar,
): Promise<SourceAnswers> {
  const list = await Promise.all(
    askings.map(async (asking, a): Promise<SourceAnswer> => {
      const { parts, steps } = asking
      const names = keys.filter(asking.answers)
      const shift = asking.holdsAlways ? NO_SHIFT : plainShift(steps)
      if (shift === undefined) return (await import('./windows.js')).askWindows(asking, names, keys, calendar)
      const ofFields = a === 0 ? fields : []
      const grain = await asking.engine.ask({ ...questionOf(asking, names), parts, fields: ofFields })
      if (shiftKey(shift) === '') return { query: asking, groups: grain }
      const { shiftAnswer: movedGrain } = await import('./shift-keys.js')
      return { query: asking, groups: movedGrain(grain, parts, shift) }
    }),
  )
  return {
    list,
    shared: shareKeys(
      keys,
      list.map((answer) => answer.groups),
    ),
  }
}

/** The keys of the axes; those that only serve windows or limits make no headings. */
export function axisKeys({ list, shared }: SourceAnswers): SharedKey[] {
  const names = shared.map((key) => key.name)
  return shared.map((key) => ({
    ...key,
    codes: key.codes.map((codes, a) =>
      list[a].query.addsNoRows || (list[a].windows !== undefined && tellsTime(key.name, names)) ? undefined : codes,
    ),
  }))
}

/**
 * The decimals of each part by its text, whatever its time; unknown for a part that is not there.
 */
export function partDecimals({ list }: SourceAnswers): Map<string, number | undefined> {
  const decimals = new Map<string, number | undefined>()
  for (const { query: asking, groups: grain } of list)
    asking.parts.forEach(({ key }, p) => {
      const partDecimals = grain.decimals[p]
      const before = decimals.has(key) ? decimals.get(key) : 0
      decimals.set(key, partDecimals === undefined || before === undefined ? undefined : Math.max(partDecimals, before))
    })
  return decimals
}

/** Every part of every answer at some cells. */
export async function valuesAt(answers: SourceAnswers, frame: CellSet): Promise<Map<string, Float64Array>> {
  const values = new Map<string, Float64Array>()
  for (const [a, answer] of answers.list.entries()) {
    const partValues =
      answer.windows === undefined
        ? await plainValues(answers, a, frame)
        : await (await import('./windows.js')).windowValues(answers, a, frame)
    answer.query.parts.forEach((part, p) => {
      values.set(partKey(answer.query.steps, part.key), partValues[p])
    })
  }
  return values
}

async function plainValues(answers: SourceAnswers, a: number, frame: CellSet): Promise<Float64Array[]> {
  return answers.list[a].query.holdsAlways
    ? (await import('./lookup-cells.js')).inEveryPeriod(answers, a, frame, (cells) => groupValues(answers, a, cells))
    : groupValues(answers, a, frame)
}

async function groupValues(answers: SourceAnswers, a: number, frame: CellSet): Promise<Float64Array[]> {
  const { query: asking, groups: grain, met } = answers.list[a]
  const { count } = frame
  const taken = takenCodes(answers, a, frame.keys)
  if (taken === undefined) return asking.parts.map(() => nothing(count))
  const of = cellsOfGroups(frame, frame.keys, taken, grain.groups)
  if (met !== undefined) for (let g = 0; g < of.length; g++) if (met[g] === 0) of[g] = -1
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
  // Without rows every measure of a cell is missing, count too; 0 means that no row meets the
  // condition.
  const hasRows = new Uint8Array(count)
  for (let g = 0; g < of.length; g++) if (of[g] >= 0) hasRows[of[g]] = 1
  const inside = isMoved(asking) ? (await import('./shift-keys.js')).insideData(asking, frame) : undefined
  if (inside === undefined && !hasRows.includes(0)) return values
  for (const column of values)
    for (let i = 0; i < count; i++) if (hasRows[i] === 0 || inside?.[i] === 0) column[i] = Number.NaN
  return values
}
