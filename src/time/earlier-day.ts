import { moveDay } from './move-span.js'
import { parsePeriod } from './period.js'
import { parseShift } from './shift.js'

/**
 * The day of an earlier date of a report: an ISO 8601 date, or so many periods before its date, as
 * in `1 month`, from the end of a month to the end of a month. Undefined for other text.
 */
export function earlierDay(text: string, asOf: number): number | undefined {
  const shift = parseShift(text)
  if (shift !== undefined) return moveDay(asOf, shift, true)
  const day = parsePeriod(text.trim())
  return day?.unit === 'day' ? day.period : undefined
}
