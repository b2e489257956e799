/** Converts moments to the day in a time zone. */
export type ZoneDay = (milliseconds: number) => number

const DAY = 86_400_000
const QUARTER = 900_000

/** @throws RangeError for a zone that is not in the IANA database. */
export function zoneDay(zone: string): ZoneDay {
  const format = new Intl.DateTimeFormat('en', {
    timeZone: zone,
    year: 'numeric',
    month: 'numeric',
    day: 'numeric',
    era: 'short',
  })
  // Since 1972 all offsets are multiples of a quarter of an hour, so each quarter is computed once.
  const cache = new Map<number, number>()
  return (milliseconds) => {
    const quarter = Math.floor(milliseconds / QUARTER)
    let day = cache.get(quarter)
    if (day === undefined) {
      const part = Object.fromEntries(format.formatToParts(quarter * QUARTER).map(({ type, value }) => [type, value]))
      day = Date.UTC(Number(part.year), Number(part.month) - 1, Number(part.day)) / DAY
      cache.set(quarter, day)
    }
    return day
  }
}

export function isZone(zone: string): boolean {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: zone }).resolvedOptions().timeZone !== ''
  } catch {
    return false
  }
}

const MOMENT = /^(\d{4}-\d{2}-\d{2})[T ](\d{2}):(\d{2})(?::(\d{2})(?:[.,]\d+)?)?\s?(Z|[+-]\d{2}(?::?\d{2})?)?$/

/** Whether a text is an ISO 8601 moment: a date with a time. */
export function isMoment(text: string): boolean {
  return MOMENT.test(text)
}

/**
 * The day of an ISO 8601 moment: in the zone, if it has an offset and a zone is given; else as
 * written. `day` parses the date; NaN if it is invalid.
 */
export function momentDay(text: string, day: (date: string) => number, zone: ZoneDay | undefined): number {
  const match = MOMENT.exec(text)
  if (match === null) return Number.NaN
  const [, date, hour, minute, second = '0', offset] = match
  const dayNumber = day(date)
  if (Number(hour) > 24 || Number(minute) > 59 || Number(second) > 60) return Number.NaN
  if (offset === undefined || zone === undefined || Number.isNaN(dayNumber)) return dayNumber
  const [, sign, hours, minutes = '0'] = /^([+-])(\d{2}):?(\d{2})?$/.exec(offset) ?? ['', '+', '0', '0']
  const shift = (Number(hours) * 60 + Number(minutes)) * (sign === '-' ? -1 : 1)
  return zone(dayNumber * DAY + ((Number(hour) * 60 + Number(minute) - shift) * 60 + Number(second)) * 1000)
}
