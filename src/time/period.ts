import { type Calendar, CIVIL_CALENDAR } from './calendar.js'
import { civil, dayOf, dayText, monthLength, weekdayOf } from './day.js'

/** The units of calendar periods, coarse to fine. */
export const PERIOD_UNITS = ['year', 'quarter', 'month', 'week', 'day'] as const
export type PeriodUnit = (typeof PERIOD_UNITS)[number]

/** Cycles: conditions on a date instead of spans. */
export const CYCLES = ['monthOfYear', 'weekday'] as const
export type Cycle = (typeof CYCLES)[number]

export type TimeUnit = PeriodUnit | Cycle

export function isTimeUnit(name: string): name is TimeUnit {
  return isPeriodUnit(name) || (CYCLES as readonly string[]).includes(name)
}

export function isPeriodUnit(name: string): name is PeriodUnit {
  return (PERIOD_UNITS as readonly string[]).includes(name)
}

/** A range of days, both ends included. */
export interface Span {
  from: number
  to: number
}

/**
 * The number of the period of a day: periods of one unit are numbered consecutively, so the next is
 * +1. Weeks are ISO 8601 weeks (Monday first). Cycles are numbered from 0. Fiscal years and their
 * quarters are named by the year they begin in.
 */
export function periodOf(unit: TimeUnit, day: number, calendar = CIVIL_CALENDAR): number {
  if (unit === 'day') return day
  if (unit === 'week') return Math.floor((day + 3) / 7)
  if (unit === 'weekday') return weekdayOf(day)
  const { year, month } = civil(day)
  if (unit === 'monthOfYear') return month - 1
  if (unit === 'month') return year * 12 + month - 1
  const months = year * 12 + month - calendar.yearStarts
  return Math.floor(months / (unit === 'quarter' ? 3 : 12))
}

export function spanOf(unit: PeriodUnit, period: number, calendar = CIVIL_CALENDAR): Span {
  if (unit === 'day') return { from: period, to: period }
  if (unit === 'week') return { from: period * 7 - 3, to: period * 7 + 3 }
  if (unit === 'month') return monthsFrom(period, 1)
  const size = unit === 'quarter' ? 3 : 12
  return monthsFrom(period * size + calendar.yearStarts - 1, size)
}

/** Whole months from one numbered as in `periodOf`. */
function monthsFrom(first: number, count: number): Span {
  const day = (month: number): number => dayOf(Math.floor(month / 12), (month % 12) + 1, 1)
  return { from: day(first), to: day(first + count) - 1 }
}

/** The ISO 8601 year and number of a week. The year is the one that holds the week's Thursday. */
export function isoWeek(period: number): { year: number; week: number } {
  const thursday = period * 7
  const { year } = civil(thursday)
  return { year, week: Math.floor((thursday - dayOf(year, 1, 1)) / 7) + 1 }
}

/**
 * `2025`, `2025-Q2`, `2025-06`, `2025-W23`, `2025-06-30`, a fiscal `2025/26` and `2025/26-Q2`;
 * cycles print their 1-based number.
 */
export function periodText(unit: TimeUnit, period: number, calendar = CIVIL_CALENDAR): string {
  const two = (n: number): string => String(n).padStart(2, '0')
  if (unit === 'year') return yearText(period, calendar)
  if (unit === 'quarter') return `${yearText(Math.floor(period / 4), calendar)}-Q${(period % 4) + 1}`
  if (unit === 'month') return `${Math.floor(period / 12)}-${two((period % 12) + 1)}`
  if (unit === 'day') return dayText(period)
  if (unit === 'week') {
    const { year, week } = isoWeek(period)
    return `${year}-W${two(week)}`
  }
  return String(period + 1)
}

/** `2025`; a fiscal year names both of its years: `2025/26`. */
export function yearText(year: number, calendar = CIVIL_CALENDAR): string {
  return calendar.yearStarts === 1 ? String(year) : `${year}/${String((year + 1) % 100).padStart(2, '0')}`
}

/** A period with its unit. */
export interface Period {
  unit: PeriodUnit
  period: number
}

/**
 * Parses `2025`, `2025-Q2`, `2025-06`, `2025-W23` and `2025-06-30`, and if years do not begin in
 * January `2025/26` and `2025/26-Q2`; undefined for other text and invalid dates.
 */
export function parsePeriod(text: string, calendar = CIVIL_CALENDAR): Period | undefined {
  const fiscal = /^(\d{4})\/(\d{2})(-Q[1-4])?$/.exec(text)
  if (fiscal !== null) {
    const plain = `${fiscal[1]}${fiscal[3] ?? ''}`
    return calendar.yearStarts !== 1 && text.startsWith(yearText(Number(fiscal[1]), calendar))
      ? parsePeriod(plain)
      : undefined
  }
  const match = /^(\d{4})(?:-(?:Q([1-4])|W(\d{2})|(\d{2})(?:-(\d{2}))?))?$/.exec(text)
  if (match === null) return undefined
  const year = Number(match[1])
  if (year < 100) return undefined
  if (match[2] !== undefined) return { unit: 'quarter', period: year * 4 + Number(match[2]) - 1 }
  if (match[3] !== undefined) return parseWeek(year, Number(match[3]))
  if (match[4] === undefined) return { unit: 'year', period: year }
  const month = Number(match[4])
  if (month < 1 || month > 12) return undefined
  if (match[5] === undefined) return { unit: 'month', period: year * 12 + month - 1 }
  const day = Number(match[5])
  return day < 1 || day > monthLength(year, month) ? undefined : { unit: 'day', period: dayOf(year, month, day) }
}

function parseWeek(year: number, week: number): Period | undefined {
  // 4 January always lies in week 1.
  const period = periodOf('week', dayOf(year, 1, 4)) + week - 1
  return week < 1 || isoWeek(period).year !== year ? undefined : { unit: 'week', period }
}

/** The last n periods up to a day, the unfinished one included. */
function begunSpan(unit: PeriodUnit, count: number, asOf: number, calendar: Calendar): Span {
  return { from: spanOf(unit, periodOf(unit, asOf, calendar) - count + 1, calendar).from, to: asOf }
}

/**
 * The span of a report's `period`. `this UNIT`, which is also `UNIT to date`, and `last n UNITs`
 * (the unfinished one counts) end at `asOf`; `last UNIT` and `previous UNIT` are the whole one
 * before the one with `asOf`; written periods and ranges are whole; `all` is everything up to
 * `asOf`. Undefined for other text.
 */
export function parseSpan(text: string, asOf: number, calendar = CIVIL_CALENDAR): Span | undefined {
  const plain = text.trim()
  if (plain === 'all') return { from: Number.NEGATIVE_INFINITY, to: asOf }
  const begun = /^this (\w+)$/.exec(plain) ?? /^(\w+) to date$/.exec(plain)
  if (begun !== null) return isPeriodUnit(begun[1]) ? begunSpan(begun[1], 1, asOf, calendar) : undefined
  const before = /^(?:last|previous) ([a-z]+)$/.exec(plain)
  if (before !== null) {
    const unit = before[1]
    return isPeriodUnit(unit) ? spanOf(unit, periodOf(unit, asOf, calendar) - 1, calendar) : undefined
  }
  const last = /^last (\d{1,4}) ([a-z]+?)(s?)$/.exec(plain)
  if (last !== null) {
    const unit = last[2]
    const count = Number(last[1])
    if (!isPeriodUnit(unit) || count < 1 || count > 1 !== (last[3] === 's')) return undefined
    return begunSpan(unit, count, asOf, calendar)
  }
  const range = /^(\S+) to (\S+)$/.exec(plain)
  const from = parsePeriod(range === null ? plain : range[1], calendar)
  const to = parsePeriod(range === null ? plain : range[2], calendar)
  if (from === undefined || to === undefined) return undefined
  const span = { from: spanOf(from.unit, from.period, calendar).from, to: spanOf(to.unit, to.period, calendar).to }
  return span.from > span.to ? undefined : span
}
