import { isPeriodUnit, type PeriodUnit, periodOf, type Span, spanOf } from './period.js'

/** The length of a shift into the past: whole months, or whole days. */
export interface Shift {
  months: number
  days: number
}

export const NO_SHIFT: Shift = { months: 0, days: 0 }

export function shiftOf(count: number, unit: PeriodUnit): Shift {
  if (unit === 'day') return { months: 0, days: count }
  if (unit === 'week') return { months: 0, days: count * 7 }
  return { months: count * { year: 12, quarter: 3, month: 1 }[unit], days: 0 }
}

export function addShifts(a: Shift, b: Shift): Shift {
  return { months: a.months + b.months, days: a.days + b.days }
}

/** For readers: `1 month`, `12 months`, `7 days`. */
export function shiftText({ months, days }: Shift): string {
  const count = (n: number, unit: string): string[] => (n === 0 ? [] : [`${n} ${unit}${n === 1 ? '' : 's'}`])
  return [...count(months, 'month'), ...count(days, 'day')].join(' and ')
}

/** Parses `1 month` and `3 weeks`; undefined for other text. */
export function parseShift(text: string): Shift | undefined {
  const match = /^(\d{1,4}) ([a-z]+?)(s?)$/.exec(text.trim())
  if (match === null || !isPeriodUnit(match[2])) return undefined
  const count = Number(match[1])
  return count < 1 || count > 1 !== (match[3] === 's') ? undefined : shiftOf(count, match[2])
}

/** Equal texts for equal shifts; empty for none. */
export function shiftKey({ months, days }: Shift): string {
  return months === 0 && days === 0 ? '' : `${months}m${days}d`
}

/** A span in whole months: from the first day of its first month to the last of its last. */
export function wholeMonths({ from, to }: Span): Span {
  return { from: spanOf('month', periodOf('month', from)).from, to: spanOf('month', periodOf('month', to)).to }
}
