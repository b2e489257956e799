import { expect, test } from 'vitest'
import { dayOf, dayText } from './day.js'
import { moveDay, moveSpan, presentPeriod } from './move-span.js'
import { isPeriodUnit, PERIOD_UNITS, parsePeriod, periodOf, periodText, spanOf } from './period.js'
import { shiftOf } from './shift.js'

const day = (text: string): number => parsePeriod(text)?.period ?? Number.NaN

test.each([
  ['2025-06-15', 1, 'year', '2024-06-15'],
  ['2025-03-31', 1, 'month', '2025-02-28'],
  ['2025-02-28', 1, 'year', '2024-02-29'],
  ['2024-02-29', 1, 'year', '2023-02-28'],
  ['2025-01-31', 1, 'quarter', '2024-10-31'],
  ['2025-01-01', 1, 'week', '2024-12-25'],
  ['2025-03-01', 2, 'day', '2025-02-27'],
] as const)('the end %s moved back by %d %s is %s', (from, count, unit, to) => {
  expect(dayText(moveDay(day(from), shiftOf(count, unit), true))).toBe(to)
})

test('a period moved back is a period, and its present is the one it came from', () => {
  for (const unit of PERIOD_UNITS)
    for (const by of PERIOD_UNITS)
      for (let d = dayOf(2019, 12, 20); d < dayOf(2029, 1, 10); d += unit === 'day' ? 13 : 5) {
        const shift = shiftOf(1, by)
        const past = periodOf(unit, d)
        const present = presentPeriod(unit, past, shift)
        // A shift of ISO weeks by years keeps the week number, any other the span.
        if (present === undefined || (unit === 'week' && by === 'year')) continue
        if (unit === 'day' && isPeriodUnit(by) && by !== 'week' && by !== 'day') {
          expect(moveDay(present, shift, false)).toBe(past)
          continue
        }
        expect(moveSpan(spanOf(unit, present), shift), `${unit} ${by} ${periodText(unit, past)}`).toEqual(
          spanOf(unit, past),
        )
      }
})

test('law 6: weeks move by years by their number; week 53 and 29 February without a counterpart have none', () => {
  const week = (text: string): string | undefined => {
    const present = presentPeriod('week', parsePeriod(text)?.period ?? 0, shiftOf(1, 'year'))
    return present === undefined ? undefined : periodText('week', present)
  }
  expect([week('2024-W10'), week('2020-W53'), week('2019-W01')]).toEqual(['2025-W10', undefined, '2020-W01'])
  expect(presentPeriod('day', day('2024-02-29'), shiftOf(1, 'year'))).toBeUndefined()
  expect(presentPeriod('quarter', 8100, shiftOf(1, 'month'))).toBeUndefined()
})
