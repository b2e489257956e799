import { pickNumbers } from '../../column/pick.js'
import { type Calendar, CIVIL_CALENDAR } from '../../time/calendar.js'
import { movesWhole } from '../../time/move-span.js'
import { isPeriodUnit, isTimeUnit, PERIOD_UNITS, type PeriodUnit, periodOf, type TimeUnit } from '../../time/period.js'
import { shiftKey } from '../../time/shift.js'
import { plainShift } from '../../time/step.js'
import { cutPeriod, windowOf } from '../../time/stepped.js'
import { type CellSet, cellsOfGroups, coarser, spansOf, tellsTime } from './cell-set.js'
import type { SourceAnswers, SourceQuery } from './question.js'
import { takenCodes } from './spread.js'

/**
 * Values of what holds in every period: worked out without the keys of time, the same in all, or so
 * many times as a cell has periods that they are for each.
 */
export async function inEveryPeriod(
  answers: SourceAnswers,
  a: number,
  frame: CellSet,
  valuesAt: (frame: CellSet) => Promise<Float64Array[]>,
): Promise<Float64Array[]> {
  const { query } = answers.list[a]
  const names = frame.keys.map((key) => key.name).filter((name) => !isTimeUnit(name))
  if (frame.without !== undefined) names.push(frame.without.name)
  const { frame: coarse, into } = coarser(frame, names)
  const values = (await valuesAt(coarse)).map((list) => pickNumbers(list, into))
  if (query.per === undefined) return values
  const periods = periodsOf(query, query.per, frame, answers.time?.calendar ?? CIVIL_CALENDAR)
  // As if the rows stood once in each period: sums and counts grow with their number, and a mean or
  // an extreme stays; where there is no whole period all of them are missing.
  return values.map((list, p) => {
    const adds = ['sum', 'count'].includes(query.parts[p].statistic)
    return list.map((value, cell) => (adds ? value * periods[cell] : Number.isNaN(periods[cell]) ? Number.NaN : value))
  })
}

/**
 * How many periods the window of each cell touches, one that the date of the report cuts by its
 * days if the steps say so; missing where a cell is shorter than a period.
 */
function periodsOf(
  { steps, weeks, time }: SourceQuery,
  per: PeriodUnit,
  frame: CellSet,
  calendar: Calendar,
): Float64Array {
  const out = new Float64Array(frame.count).fill(Number.NaN)
  const names = frame.keys.map((key) => key.name)
  const units = names.filter(isTimeUnit)
  const months = frame.keys.find(({ name }) => name === 'monthOfYear' && per === 'month' && !tellsTime(name, names))
  const isShorter = (unit: TimeUnit): boolean =>
    isPeriodUnit(unit) ? PERIOD_UNITS.indexOf(unit) > PERIOD_UNITS.indexOf(per) : unit === 'weekday' || per !== 'month'
  const shift = plainShift(steps)
  const isCut = (unit: TimeUnit): boolean => shift !== undefined && shiftKey(shift) !== '' && !movesWhole(unit, shift)
  if (time === undefined || units.some((unit) => isShorter(unit) || isCut(unit))) return out
  const { whole, data } = time
  const cut = cutPeriod(steps, per, whole.to, calendar)
  const opens = steps.some(({ kind }) => kind === 'opening')
  spansOf(frame, whole).forEach((span, cell) => {
    if (span.from > span.to) return
    const reach = windowOf(span, steps, calendar, weeks)
    const from = Math.max(
      Number.isFinite(reach.from) ? reach.from : data.from,
      cut?.begun === true ? cut.from : Number.NEGATIVE_INFINITY,
    )
    const to = Math.min(reach.to, cut?.begun === false ? cut.from - 1 : Number.POSITIVE_INFINITY)
    if (opens) out[cell] = 1
    else if (from <= to)
      out[cell] = touched(per, from, to, months && monthOf(months, cell, shift?.months ?? 0), calendar)
    if (cut?.begun === true) out[cell] *= cut.share
  })
  return out
}

/** The month of the year that a cell reads, from 0: a shift alone moves it, too. */
function monthOf({ domain, codes }: CellSet['keys'][number], cell: number, back: number): number {
  return domain.kind === 'time' ? (((domain.periods[codes[cell]] - back) % 12) + 12) % 12 : Number.NaN
}

function touched(per: PeriodUnit, from: number, to: number, month: number | undefined, calendar: Calendar): number {
  const [first, last] = [periodOf(per, from, calendar), periodOf(per, to, calendar)]
  if (month === undefined) return last - first + 1
  let count = 0
  for (let period = first; period <= last; period++) if (period % 12 === month) count++
  return count === 0 ? Number.NaN : count
}

/**
 * Marks the groups of answers without headings that some heading shows, by the keys that they know:
 * totals add what the rows show.
 */
export function meetHeadings(answers: SourceAnswers, frame: CellSet): void {
  answers.list.forEach((answer, a) => {
    const { query, groups } = answer
    if (!query.addsNoRows) return
    const known = frame.keys.filter(
      ({ name }) =>
        !(query.holdsAlways && isTimeUnit(name)) &&
        answers.shared.find((key) => key.name === name)?.codes[a] !== undefined,
    )
    const names = known.map(({ name }) => name)
    const { frame: coarse } = coarser(frame, names)
    const of = cellsOfGroups(coarse, coarse.keys, takenCodes(answers, a, coarse.keys) ?? [], groups.groups)
    answer.met = Uint8Array.from(of, (cell) => Number(cell >= 0))
  })
}
