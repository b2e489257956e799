/**
 * Days are whole numbers since 1970-01-01 in the proleptic Gregorian calendar; a missing day is
 * NaN.
 */

const DAY = 86_400_000

export function dayOf(year: number, month: number, day: number): number {
  // Date.UTC reads years below 100 as 19xx; parseDay refuses them.
  return Date.UTC(year, month - 1, day) / DAY
}

export interface Civil {
  year: number
  /** 1 to 12. */
  month: number
  /** 1 to 31. */
  day: number
}

export function civil(day: number): Civil {
  const date = new Date(day * DAY)
  return { year: date.getUTCFullYear(), month: date.getUTCMonth() + 1, day: date.getUTCDate() }
}

/** 0 is Monday. 1970-01-01 was a Thursday. */
export function weekdayOf(day: number): number {
  return (((day + 3) % 7) + 7) % 7
}

export function monthLength(year: number, month: number): number {
  return dayOf(month === 12 ? year + 1 : year, month === 12 ? 1 : month + 1, 1) - dayOf(year, month, 1)
}

/** `2025-06-30` */
export function dayText(day: number): string {
  const { year, month, day: d } = civil(day)
  return `${String(year).padStart(4, '0')}-${String(month).padStart(2, '0')}-${String(d).padStart(2, '0')}`
}
