import { expect, test } from 'vitest'
import { dayText } from '../time/day.js'
import { parseReadAs, plainNumber, readAsText, writtenDay, writtenNumber } from './parse-values.js'

test.each([
  ['1,234.50', 1234.5, Number.NaN],
  ['1.234,50', Number.NaN, 1234.5],
  ['1,234', 1234, 1.234],
  ['1.234', 1.234, 1234],
  ['1 234 567', 1234567, 1234567],
  ['1\u202f234,5', Number.NaN, 1234.5],
  ["1'234.5", 1234.5, Number.NaN],
  ['€ 5', 5, 5],
  ['-€5.00', -5, Number.NaN],
  ['€-5.00', -5, Number.NaN],
  ['5,00 €', Number.NaN, 5],
  ['EUR 12', 12, 12],
  ['12 GBP', 12, 12],
  ['−3', -3, -3],
  ['(1,200)', -1200, -1.2],
  ['1200-', -1200, -1200],
  ['12,5 %', Number.NaN, 0.125],
  ['.5', 0.5, Number.NaN],
  ['12,34,567', Number.NaN, Number.NaN],
  ['1,23,4', Number.NaN, Number.NaN],
  ['--5', Number.NaN, Number.NaN],
  ['-€-5', Number.NaN, Number.NaN],
  ['5 apples', Number.NaN, Number.NaN],
  ['€', Number.NaN, Number.NaN],
  ['', Number.NaN, Number.NaN],
  ['1.2.3', Number.NaN, Number.NaN],
])('%s is %d with a decimal point and %d with a decimal comma', (word, point, comma) => {
  expect([writtenNumber(word, '.'), writtenNumber(word, ',')]).toEqual([point, comma])
})

test('what programs write plainly stays as it is: 007 is a name, 1e3 a number', () => {
  expect(['007', '1e3', '-0.5', '0', '.5', '12%', '0x1F', 'Infinity', '1_000'].map(plainNumber)).toEqual([
    Number.NaN,
    1000,
    -0.5,
    0,
    0.5,
    0.12,
    Number.NaN,
    Number.NaN,
    Number.NaN,
  ])
})

test('dates of three numbers, each order its own; 30 February is none', () => {
  const day = (word: string, order: 'dmy' | 'mdy' | 'ymd'): string => {
    const d = writtenDay(word, order)
    return Number.isNaN(d) ? '' : dayText(d)
  }
  expect([day('30/06/2025', 'dmy'), day('30/06/2025', 'mdy')]).toEqual(['2025-06-30', ''])
  expect([day('6/3/25', 'mdy'), day('6/3/25', 'dmy')]).toEqual(['2025-06-03', '2025-03-06'])
  expect([day('2025.06.30', 'ymd'), day('2025.06.30', 'dmy')]).toEqual(['2025-06-30', ''])
  expect([day('30-02-2024', 'dmy'), day('29-02-2024', 'dmy'), day('1/1/125', 'dmy')]).toEqual(['', '2024-02-29', ''])
})

test('ways to read are read and written back', () => {
  for (const text of [
    'text',
    'condition',
    'number',
    'number comma',
    'number point',
    'date',
    'date dd/mm/yyyy',
    'date mm/dd/yyyy',
    'date yyyy/mm/dd',
  ]) {
    const as = parseReadAs(text)
    expect(as && readAsText(as), text).toBe(text)
  }
  expect(parseReadAs('date d.m.yy')).toEqual({ kind: 'date', order: 'dmy' })
  for (const text of [
    '',
    'money',
    'number half',
    'date soon',
    'date dd/dd/yyyy',
    'date yyyy/dd/mm',
    'text comma',
    'number comma comma',
  ])
    expect(parseReadAs(text), text).toBeUndefined()
})
