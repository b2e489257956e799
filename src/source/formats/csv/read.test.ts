import { expect, test } from 'vitest'
import { ProblemError } from '../../../problem/problem.js'
import type { ReadOptions } from '../../typed.js'
import { readCsv } from './read.js'

function kinds(text: string, options: ReadOptions = {}): Record<string, string> {
  return Object.fromEntries([...readCsv(text, options).table.columns].map(([name, c]) => [name, c.column.kind]))
}

function refused(text: string, options: ReadOptions = {}): [string, number | undefined][] {
  try {
    readCsv(text, { file: 's.csv', ...options })
  } catch (error) {
    if (error instanceof ProblemError) return error.problems.map((p) => [p.code, p.place.line])
    throw error
  }
  return []
}

test('law 3: columns get the type that all their values agree on', () => {
  const text =
    'n,code,truth,p,day,month,word,blank\n1.5,007,yes,12%,2025-06-01,2025-06,a,\n-2e3,10,No,0.5%,2024-02-29,2024-01,2025-06,\n'
  expect(kinds(text)).toEqual({
    n: 'number',
    code: 'text',
    truth: 'condition',
    p: 'number',
    day: 'date',
    month: 'date',
    word: 'text',
    blank: 'text',
  })
  const { table } = readCsv(text)
  // Without values it takes any expected kind.
  expect(table.columns.get('blank')?.type.kind).toBe('blank')
  const p = table.columns.get('p')
  expect(p?.type).toEqual({ kind: 'number', unit: { is: 'percent' } })
  expect(p?.column.kind === 'number' && [...p.column.values]).toEqual([0.12, 0.005])
})

test('a byte-order mark, blank lines and quoted line ends are read as meant', () => {
  const { table } = readCsv('\uFEFFa,b\n\n1,"x\ny"\n\n2,"q""q"\n')
  expect(table.length).toBe(2)
  const b = table.columns.get('b')?.column
  expect(b?.kind === 'text' && b.words).toEqual(['x\ny', 'q"q'])
})

test('what is wrong with the text is reported with its line', () => {
  expect(refused('')).toEqual([['file-empty', undefined]])
  expect(refused('a,,a\n1,2,3\n')).toEqual([
    ['header-empty', 1],
    ['header-twice', 1],
  ])
  expect(refused('a,b\n1,2\n\n"x\ny",2,3\n4\n')).toEqual([['ragged-row', 4]])
  expect(refused('a,b\n1,"2\n')).toContainEqual(['csv-broken', 2])
  expect(refused('a\n1\n', { read: { amont: 'number' } })).toEqual([['unknown-column', undefined]])
  expect(refused('d\n2025-01-01\nsoon\n', { date: 'd' })).toEqual([['not-dates', undefined]])
})

test('a column of numbers with some texts stays text, and says which; read as numbers, the texts are missing and counted', () => {
  const text = 'amount\n1\n2\nn/a\n3\nn/a\n'
  expect(readCsv(text).nearly.get('amount')).toEqual({ count: 2, of: 5, sample: 'n/a', where: 'line 4' })
  const read = readCsv(text, { read: { amount: 'number' } })
  expect(read.notes.map((n) => n.message)).toEqual([
    "2 values of amount could not be read and count as missing; the first is 'n/a' in line 4",
  ])
})

test('a header without rows is an empty table', () => {
  expect(readCsv('a,b\n').table.length).toBe(0)
})

test('a column may be called anything', () => {
  const { table } = readCsv('__proto__,constructor\n1,2\n')
  expect([...table.columns.keys()]).toEqual(['__proto__', 'constructor'])
})

test.each(['\n', '\r\n', '\r'])(
  'a long file is read in pieces: no row is lost, and lines are counted on (line end %j)',
  (end) => {
    const lines = ['shop,amount', ...Array.from({ length: 20_000 }, (_, i) => `shop ${i % 7},${i}`)]
    const { table } = readCsv(lines.join(end) + end)
    expect(table.length).toBe(20_000)
    const amount = table.columns.get('amount')?.column
    expect(amount?.kind === 'number' && Array.from(amount.values).every((value, i) => value === i)).toBe(true)
    lines[15_000] = 'a shop alone'
    expect(refused(lines.join(end))).toEqual([['ragged-row', 15_001]])
  },
)
