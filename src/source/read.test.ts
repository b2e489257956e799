import { expect, test } from 'vitest'
import { ProblemError } from '../problem/problem.js'
import { readTexts } from './read.js'
import type { SourceFile } from './source-file.js'
import type { ReadOptions } from './typed.js'

/** Each column with its kind and values as plain data. */
function read(files: SourceFile[], options: ReadOptions = {}): { columns: Record<string, unknown[]>; notes: string[] } {
  const { table, notes } = readTexts(files, options)
  const columns = Object.fromEntries(
    [...table.columns].map(([name, { column }]) => {
      const value = (i: number): unknown => {
        if (column.kind === 'text') return column.codes[i] < 0 ? null : column.words[column.codes[i]]
        const x = column.values[i]
        return Number.isNaN(x) || (column.kind === 'condition' && x < 0) ? null : x
      }
      return [name, [column.kind, ...Array.from({ length: table.length }, (_, i) => value(i))]]
    }),
  )
  return { columns, notes: notes.map((n) => n.message) }
}

const csv = (content: string, options: ReadOptions = {}) => read([{ name: 'a.csv', content }], options)

function refused(files: SourceFile[], options: ReadOptions = {}): string[] {
  try {
    readTexts(files, options)
  } catch (error) {
    if (error instanceof ProblemError)
      return error.problems.map((p) => `${p.code} ${p.place.file ?? ''} ${p.place.line ?? ''}`.trim())
    throw error
  }
  return []
}

test('numbers formatted for people are read where comma and point are unambiguous, with a message', () => {
  const { columns, notes } = csv('a;b;c\n"1.234,50 €";1,234;x\n"7,00 €";5,678;y\n')
  expect(columns).toEqual({ a: ['number', 1234.5, 7], b: ['text', '1,234', '5,678'], c: ['text', 'x', 'y'] })
  expect(notes).toEqual([
    "a is read as number comma, as in '1.234,50 €'; write read: { a: number comma } to confirm it",
  ])
  // With a declaration nothing is inferred and there are no messages.
  expect(csv('a;b\n"1.234,50 €";1,234\n', { read: { a: 'number comma', b: 'number comma' } })).toEqual({
    columns: { a: ['number', 1234.5], b: ['number', 1.234] },
    notes: [],
  })
  expect(csv('a;b\n"1.5";1,234\n', { read: { b: 'number point' } }).columns).toEqual({
    a: ['number', 1.5],
    b: ['number', 1234],
  })
})

test('day-first dates are found out where a day is over 12; where all could be either they stay text', () => {
  expect(csv('d\n03/04/2025\n30/06/2025\n').columns.d.slice(0, 1)).toEqual(['date'])
  expect(csv('d\n03/04/2025\n30/06/2025\n').notes[0]).toContain('date dd/mm/yyyy')
  expect(csv('d\n03/04/2025\n05/06/2025\n').columns.d).toEqual(['text', '03/04/2025', '05/06/2025'])
  expect(csv('d\n2025/06/30\n').columns.d).toEqual(['date', 20269])
  expect(csv('d\n05/06/2025\n', { read: { d: 'date mm/dd/yyyy' } }).columns.d).toEqual(['date', 20214])
})

test('codes stay text: postal codes, article numbers with zeros, mixed signs', () => {
  expect(csv('a,b,c\n08001,0012.5,1.234\n28001,0007.0,"5,6"\n28002,,7.8\n').columns).toEqual({
    a: ['text', '08001', '28001', '28002'],
    b: ['text', '0012.5', '0007.0', null],
    c: ['text', '1.234', '5,6', '7.8'],
  })
})

test('the delimiter is found out, and a TSV has tabs whatever stands in it', () => {
  expect(csv('a;b\n1;2\n').columns).toEqual({ a: ['number', 1], b: ['number', 2] })
  expect(csv('a|b\n1|2\n').columns).toEqual({ a: ['number', 1], b: ['number', 2] })
  expect(read([{ name: 'a.tsv', content: 'a,b\tc;d\n1,2\t3;4\n' }]).columns).toEqual({
    'a,b': ['number', 1.2],
    'c;d': ['text', '3;4'],
  })
})

test('JSON and NDJSON: quoted numbers stay text, absent keys are missing, nested values are refused', () => {
  const list = '[{"a":1,"b":"28001","c":true,"d":"2025-06-30"},{"a":null,"b":"x"}]'
  const wanted = {
    a: ['number', 1, null],
    b: ['text', '28001', 'x'],
    c: ['condition', 1, null],
    d: ['date', 20269, null],
  }
  expect(read([{ name: 'a.json', content: list }]).columns).toEqual(wanted)
  expect(
    read([{ name: 'a.ndjson', content: '{"a":1,"b":"28001","c":true,"d":"2025-06-30"}\n\n{"a":null,"b":"x"}\n' }])
      .columns,
  ).toEqual(wanted)
  expect(read([{ name: 'rows', content: list }]).columns).toEqual(wanted)
  expect(read([{ name: 'a.json', content: '[{"b":"1"},{"b":"2"}]' }]).columns).toEqual({ b: ['text', '1', '2'] })
  expect(refused([{ name: 'a.json', content: '[{"a":[1]}, 5]' }])).toEqual(['json-nested a.json', 'json-record a.json'])
  expect(refused([{ name: 'a.json', content: '[{"a":1},' }])).toEqual(['json-broken a.json'])
  expect(refused([{ name: 'a.ndjson', content: '{"a":1}\n{"a":\n' }])).toEqual(['json-broken a.ndjson 2'])
  expect(read([{ name: 'a.json', content: '[{"__proto__x":1,"a":2}]' }]).columns).toEqual({
    __proto__x: ['number', 1],
    a: ['number', 2],
  })
})

test('several files of the same columns, in any order, are one source; places name the file', () => {
  const files = [
    { name: 'a.csv', content: 'x,y\n1,a\n' },
    { name: 'b.csv', content: 'y,x\nb,2\nc,n/a\n' },
  ]
  expect(read(files).columns).toEqual({ x: ['text', '1', '2', 'n/a'], y: ['text', 'a', 'b', 'c'] })
  expect(read(files, { read: { x: 'number' } }).notes).toEqual([
    "1 value of x could not be read and counts as missing; the first is 'n/a' in line 3 of b.csv",
  ])
  expect(refused([...files, { name: 'c.csv', content: 'x,z\n1,2\n' }, { name: 'd.csv', content: '' }])).toEqual([
    'files-differ c.csv 1',
    'file-empty d.csv',
  ])
})

test('bytes: UTF-8 with and without its mark, UTF-16, Windows-1252 said, no text refused', () => {
  const bytes = (content: Uint8Array) => read([{ name: 'a.csv', content }])
  const text = 'plant\nRosier étoilé\n'
  const wanted = { plant: ['text', 'Rosier étoilé'] }
  expect(bytes(new TextEncoder().encode(text))).toEqual({ columns: wanted, notes: [] })
  expect(bytes(new TextEncoder().encode(`\uFEFF${text}`)).columns).toEqual(wanted)
  expect(bytes(Buffer.from(`\uFEFF${text}`, 'utf16le')).columns).toEqual(wanted)
  expect(bytes(Buffer.from(text, 'latin1'))).toEqual({
    columns: wanted,
    notes: ['a.csv is not UTF-8 and is read as Windows-1252'],
  })
  expect(refused([{ name: 'a.csv', content: Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 13) }])).toEqual([
    'not-text a.csv',
  ])
})

test('strict refuses what cannot be read; an unknown way to read is reported; a date column says how it is written', () => {
  const file = [{ name: 'a.csv', content: 'd,x\n2025-01-01,1\n2025-01-02,one\n' }]
  expect(refused(file, { file: 'a.csv', read: { x: 'number' }, strict: true })).toEqual(['unread a.csv'])
  expect(refused(file, { read: { x: 'money', z: 'text' } })).toEqual(['unknown-column a.csv', 'bad-read a.csv'])
  expect(refused([{ name: 'a.csv', content: 'd\n01/02/2025\n' }], { date: 'd' })).toEqual(['not-a-date-column a.csv'])
  expect(read([{ name: 'a.csv', content: 'd\n13/02/2025\n' }], { date: 'd' }).columns.d).toEqual(['date', 20132])
  expect(read([{ name: 'a.csv', content: 'd\n2024\n2025\n' }], { date: 'd' }).columns.d[0]).toBe('date')
})
