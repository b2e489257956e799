import { expect, test } from 'vitest'
import { dayOf, dayText } from './day.js'
import { PERIOD_UNITS, parsePeriod, parseSpan, periodOf, periodText, spanOf } from './period.js'

const FIRST = dayOf(1999, 12, 25)
const LAST = dayOf(2032, 1, 8)

test('every day lies in the span of its period, spans join without gap, and texts read back', () => {
  for (const unit of PERIOD_UNITS) {
    let before = Number.NaN
    for (let day = FIRST; day <= LAST; day++) {
      const period = periodOf(unit, day)
      const span = spanOf(unit, period)
      expect(day >= span.from && day <= span.to).toBe(true)
      if (!Number.isNaN(before) && period !== before) expect([period, span.from]).toEqual([before + 1, day])
      before = period
      if (day % 5 === 0) expect(parsePeriod(periodText(unit, period))).toEqual({ unit, period })
    }
  }
})

// Worked by hand from ISO 8601: week 1 holds the first Thursday.
test.each([
  ['2024-12-30', '2025-W01'],
  ['2021-01-03', '2020-W53'],
  ['2023-01-01', '2022-W52'],
  ['2025-06-30', '2025-W27'],
])('%s lies in %s', (date, week) => {
  expect(periodText('week', periodOf('week', dayFrom(date)))).toBe(week)
})

test('what is no real date is no period', () => {
  for (const text of ['2025-13', '2025-02-29', '2025-Q5', '2025-W53', '2021-W54', '25', '2025-6', '2025-06-31', ''])
    expect(parsePeriod(text), text).toBeUndefined()
  expect(parsePeriod('2024-02-29')).toBeDefined()
  expect(parsePeriod('2020-W53')).toBeDefined()
})

test.each([
  ['this quarter', '2025-04-01', '2025-05-20'],
  ['this year', '2025-01-01', '2025-05-20'],
  ['last 3 months', '2025-03-01', '2025-05-20'],
  ['last month', '2025-04-01', '2025-04-30'],
  ['previous month', '2025-04-01', '2025-04-30'],
  ['last year', '2024-01-01', '2024-12-31'],
  ['previous quarter', '2025-01-01', '2025-03-31'],
  ['last 1 month', '2025-05-01', '2025-05-20'],
  ['year to date', '2025-01-01', '2025-05-20'],
  ['month to date', '2025-05-01', '2025-05-20'],
  ['last 2 weeks', '2025-05-12', '2025-05-20'],
  ['2025', '2025-01-01', '2025-12-31'],
  ['2024-Q4 to 2025-02', '2024-10-01', '2025-02-28'],
  ['2024-W01', '2024-01-01', '2024-01-07'],
])('the period %s, seen on 20 May 2025', (text, from, to) => {
  const span = parseSpan(text, dayFrom('2025-05-20'))
  expect(span && [dayText(span.from), dayText(span.to)]).toEqual([from, to])
})

test('words that are no period are refused', () => {
  for (const text of [
    'next month',
    'last 0 months',
    'this shop',
    '2025-03 to 2025-01',
    'last n months',
    'last months',
    'previous 2 months',
    'last 2 month',
    'last 1 months',
    'years to date',
    '2025 -',
  ])
    expect(parseSpan(text, 0), text).toBeUndefined()
})

function dayFrom(text: string): number {
  const [year, month, day] = text.split('-').map(Number)
  return dayOf(year, month, day)
}
