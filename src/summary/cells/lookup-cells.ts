import { pickNumbers } from '../../column/pick.js'
import { isTimeUnit } from '../../time/period.js'
import { type CellSet, cellsOfGroups, coarser } from './cell-set.js'
import type { SourceAnswers } from './question.js'
import { takenCodes } from './spread.js'

/** Values of what holds in every period: worked out without the keys of time, the same in all. */
export async function inEveryPeriod(
  frame: CellSet,
  valuesAt: (frame: CellSet) => Promise<Float64Array[]>,
): Promise<Float64Array[]> {
  const names = frame.keys.map((key) => key.name).filter((name) => !isTimeUnit(name))
  if (frame.without !== undefined) names.push(frame.without.name)
  const { frame: coarse, into } = coarser(frame, names)
  return (await valuesAt(coarse)).map((values) => pickNumbers(values, into))
}

/**
 * Marks the groups of answers without headings that some heading shows, by the keys that they know:
 * totals add what the rows show.
 */
export function meetHeadings(answers: SourceAnswers, frame: CellSet): void {
  answers.list.forEach((answer, a) => {
    const { query, groups } = answer
    if (!query.headless) return
    const known = frame.keys.filter(
      ({ name }) =>
        !(query.timeless && isTimeUnit(name)) &&
        answers.shared.find((key) => key.name === name)?.codes[a] !== undefined,
    )
    const names = known.map(({ name }) => name)
    const { frame: coarse } = coarser(frame, names)
    const of = cellsOfGroups(coarse, coarse.keys, takenCodes(answers, a, coarse.keys) ?? [], groups.groups)
    answer.met = Uint8Array.from(of, (cell) => Number(cell >= 0))
  })
}
