import { CIVIL_CALENDAR } from '../time/calendar.js'
import { civil, dayOf } from '../time/day.js'
import { isoWeek, type PeriodUnit, periodOf, periodText, spanOf, type TimeUnit, yearText } from '../time/period.js'
import { cachedFormatter } from './formatter-cache.js'

/** Prints periods for readers. `long` has the year, `short` leaves it to the heading above. */
export interface PeriodPrinter {
  long(unit: TimeUnit, period: number): string
  short(unit: TimeUnit, period: number): string
  date(day: number): string
  /** The day up to which an unfinished period has data: `17`, or `17 Apr` of a longer one. */
  until(unit: PeriodUnit, day: number): string
  /** The year of a heading above periods of a unit. */
  year(unit: PeriodUnit, period: number): string
}

export function periodPrinter(locale: string, calendar = CIVIL_CALENDAR): PeriodPrinter {
  const make = (options: Intl.DateTimeFormatOptions) => {
    const utc = { ...options, timeZone: 'UTC' }
    let intl: Intl.DateTimeFormat | undefined
    return (day: number): string => {
      intl ??= cachedFormatter('date', locale, utc, () => new Intl.DateTimeFormat(locale, utc))
      return intl.format(new Date(day * 86_400_000))
    }
  }
  const month = make({ month: 'short' })
  const monthYear = make({ month: 'short', year: 'numeric' })
  const date = make({ day: 'numeric', month: 'long', year: 'numeric' })
  const dayMonth = make({ day: 'numeric', month: 'short' })
  const weekday = make({ weekday: 'short' })
  const monday = 4 // 1970-01-05 was a Monday
  return {
    date,
    until: (unit, day) => (unit === 'month' ? String(civil(day).day) : dayMonth(day)),
    year(unit, period) {
      // The Thursday of an ISO week is in the week's year; of longer periods any day will do. Weeks
      // follow the civil calendar.
      const day = spanOf(unit, period, calendar).from + (unit === 'week' ? 3 : 0)
      return unit === 'week' ? String(civil(day).year) : yearText(periodOf('year', day, calendar), calendar)
    },
    long(unit, period) {
      if (unit === 'quarter') return `Q${(period % 4) + 1} ${yearText(Math.floor(period / 4), calendar)}`
      if (unit === 'month') return monthYear(spanOf('month', period).from)
      if (unit === 'day') return `${dayMonth(period)} ${civil(period).year}`
      return this.short(unit, period)
    },
    short(unit, period) {
      if (unit === 'quarter') return `Q${(period % 4) + 1}`
      if (unit === 'month') return month(spanOf('month', period).from)
      if (unit === 'monthOfYear') return month(dayOf(2000, period + 1, 1))
      if (unit === 'weekday') return weekday(monday + period)
      if (unit === 'week') return `W${isoWeek(period).week}`
      if (unit === 'day') return dayMonth(period)
      return periodText(unit, period, calendar)
    },
  }
}
