import { civil, dayOf, monthLength } from './day.js'
import { isoWeek, periodOf, type Span, spanOf, type TimeUnit } from './period.js'
import type { Shift } from './shift.js'

/**
 * A shifted day; with `end` the end of a month stays the end of a month, and no day exceeds its
 * month.
 */
export function moveDay(day: number, { months, days }: Shift, end: boolean): number {
  if (!Number.isFinite(day)) return day
  if (months === 0) return day - days
  const { year, month, day: d } = civil(day)
  const target = year * 12 + month - 1 - months
  const [y, m] = [Math.floor(target / 12), (((target % 12) + 12) % 12) + 1]
  const last = monthLength(y, m)
  const dayOfMonth = end && d === monthLength(year, month) ? last : Math.min(d, last)
  return dayOf(y, m, dayOfMonth) - days
}

export function moveSpan({ from, to }: Span, shift: Shift): Span {
  return { from: moveDay(from, shift, false), to: moveDay(to, shift, true) }
}

/**
 * A shifted span in weeks: by years each end keeps its weekday in the week of the same ISO number,
 * so that no week is cut; else as `moveSpan`.
 */
export function moveWeeks({ from, to }: Span, shift: Shift): Span {
  const { months, days } = shift
  if (months === 0 || days !== 0 || months % 12 !== 0) return moveSpan({ from, to }, shift)
  const move = (day: number): number => {
    if (!Number.isFinite(day)) return day
    const week = periodOf('week', day)
    // Week 53 without a counterpart ends with week 52.
    const past = sameWeek(week, -months / 12) ?? sameWeek(week - 1, -months / 12) ?? week - 52
    return spanOf('week', past).from + day - spanOf('week', week).from
  }
  return { from: move(from), to: move(to) }
}

/**
 * The present period whose shift gives a past one; undefined if there is none (29 February, week
 * 53), or if the shift does not map periods of this unit onto periods (a quarter by a month). Weeks
 * shifted by years keep their ISO number.
 */
export function presentPeriod(unit: TimeUnit, period: number, { months, days }: Shift): number | undefined {
  if (unit === 'weekday') return months === 0 ? (period + days) % 7 : period
  if (unit === 'monthOfYear') return days === 0 ? (period + months) % 12 : undefined
  if (unit === 'day') {
    if (months === 0) return period + days
    const { year, month, day } = civil(period + days)
    const target = year * 12 + month - 1 + months
    const [y, m] = [Math.floor(target / 12), (target % 12) + 1]
    return day > monthLength(y, m) ? undefined : dayOf(y, m, day)
  }
  if (unit === 'week') {
    if (months === 0) return days % 7 === 0 ? period + days / 7 : undefined
    return days === 0 && months % 12 === 0 ? sameWeek(period, months / 12) : undefined
  }
  const size = { year: 12, quarter: 3, month: 1 }[unit]
  return days === 0 && months % size === 0 ? period + months / size : undefined
}

function sameWeek(period: number, years: number): number | undefined {
  const { year, week } = isoWeek(period)
  const target = periodOf('week', dayOf(year + years, 1, 4)) + week - 1
  return isoWeek(target).year === year + years ? target : undefined
}

/** Whether a shift maps periods of a unit onto periods. */
export function movesWhole(unit: TimeUnit, shift: Shift): boolean {
  // Only week 53 and 29 February have no counterpart.
  return presentPeriod(unit, periodOf(unit, dayOf(2024, 3, 5)), shift) !== undefined
}
