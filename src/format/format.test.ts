import { expect, test } from 'vitest'
import { dayOf } from '../time/day.js'
import { parsePeriod, periodOf } from '../time/period.js'
import { numberPrinter } from './format.js'
import { parseFormat } from './parse.js'
import { periodPrinter } from './period.js'
import { spanText } from './span.js'

function printed(format: string, value: number, locale = 'en-GB'): string {
  const read = parseFormat(format)
  if ('code' in read) throw new Error(read.message)
  return numberPrinter(read, locale)(value)
}

test.each([
  ['money EUR 0', 48_210.5, '€48,211'],
  ['money EUR 2', -3, '−€3.00'],
  ['money EUR 0 signed', 12_300, '+€12,300'],
  ['money EUR 0 signed', 0, '€0'],
  ['money EUR 1 compact', 1_284_910, '€1.3m'],
  ['percent 1', 0.3725, '37.3%'],
  ['percent 1 signed', -0.05, '−5.0%'],
  ['percent', 0.5, '50%'],
  ['number', 1234.567, '1,234.57'],
  ['number 0', 0.5, '1'],
  ['number 2 signed compact', 1500, '+1.50k'],
  ['number 1 unit kg', 1234.56, '1,234.6\u00a0kg'],
  ['number 0 signed unit €/m²', -3, '−3\u00a0€/m²'],
  ['number 0 unit kg', Number.NaN, ''],
  ['money EUR', Number.NaN, ''],
])('%s prints %d as %s', (format, value, text) => {
  expect(printed(format, value)).toBe(text)
})

test('the locale decides marks and places', () => {
  expect(printed('money EUR 2', 1234.5, 'de-DE').replace(/\s/g, ' ')).toBe('1.234,50 €')
  expect(printed('percent 1', 0.25, 'es-ES').replace(/\s/g, ' ')).toBe('25,0 %')
})

test('what is no format is refused', () => {
  for (const text of [
    '',
    'euros',
    'money',
    'money eur',
    'money EUR two',
    'number 10',
    'percent 1 signed signed',
    'number loud',
    'number unit',
    'number unit 3',
    'number 1 unit <b>',
    'number 1 unit kg unit g',
    'money EUR unit kg',
  ])
    expect(parseFormat(text), text).toMatchObject({ code: 'bad-format' })
})

test('periods are long where they stand alone and short below their year', () => {
  const print = periodPrinter('en-GB')
  const at = (text: string): [string, string] => {
    const period = parsePeriod(text)
    if (period === undefined) throw new Error(text)
    return [print.long(period.unit, period.period), print.short(period.unit, period.period)]
  }
  expect(at('2025')).toEqual(['2025', '2025'])
  expect(at('2025-Q2')).toEqual(['Q2 2025', 'Q2'])
  expect(at('2025-05')).toEqual(['May 2025', 'May'])
  expect(at('2025-W23')).toEqual(['W23', 'W23'])
  expect(at('2025-06-30')).toEqual(['30 Jun 2025', '30 Jun'])
  expect(print.short('weekday', periodOf('weekday', dayOf(2025, 6, 30)))).toBe('Mon')
  expect(print.short('monthOfYear', periodOf('monthOfYear', dayOf(2025, 6, 30)))).toBe('Jun')
})

test.each([
  [[2025, 1, 1], [2025, 12, 31], '2025'],
  [[2025, 6, 1], [2025, 6, 30], 'Jun 2025'],
  [[2024, 7, 1], [2025, 6, 30], 'Jul 2024 to Jun 2025'],
  [[2025, 6, 3], [2025, 6, 30], '3 June 2025 to 30 June 2025'],
  [[2025, 6, 30], [2025, 6, 30], '30 June 2025'],
  [[2024, 2, 1], [2024, 2, 29], 'Feb 2024'],
] as const)('a span from %j to %j reads %s', (from, to, text) => {
  expect(spanText({ from: dayOf(from[0], from[1], from[2]), to: dayOf(to[0], to[1], to[2]) }, 'en-GB')).toBe(text)
})
