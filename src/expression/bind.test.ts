import { expect, test } from 'vitest'
import { round14 } from '../column/round.js'
import { columnNames, rowScope } from '../table/fields.js'
import { fromColumns } from '../table/rows.js'
import { bindExpression, didBind, type Names, type Setting } from './bind.js'
import type { Type } from './bound.js'
import { evaluate, type Vector } from './evaluate.js'
import { printExpression } from './print.js'

const NOW = new Date(Date.UTC(2025, 5, 15))
const table = fromColumns(
  {
    a: [1, 2, null, 4],
    b: [2, 0, 3, null],
    channel: ['Trade', 'Shop', null, 'Trade'],
    returned: [true, false, null, false],
    date: [NOW, new Date(Date.UTC(2024, 0, 1)), null, NOW],
    ['__proto__']: [1, 1, 1, 1],
  },
  {},
)

const money = (currency: string): Type => ({ kind: 'number', unit: { is: 'money', currency } })
const KINDS: Record<string, Type> = {
  euros: money('EUR'),
  pounds: money('GBP'),
  share: { kind: 'number', unit: { is: 'percent' } },
  orders: { kind: 'number', unit: { is: 'count' } },
  plain: { kind: 'number', unit: { is: 'none' } },
  word: { kind: 'text' },
}
const units: Names = {
  find: (name) => (Object.hasOwn(KINDS, name) ? { ref: { kind: 'measure', name }, type: KINDS[name] } : undefined),
  all: () => Object.keys(KINDS),
}
const ROWS: Setting = { what: 'a field', names: columnNames(table, 'sales') }

function run(text: string): (number | string | null)[] {
  const result = bindExpression(text, ROWS)
  if (!didBind(result)) throw new Error(result.map((p) => p.message).join())
  return vectorValues(evaluate(result.bound, rowScope(table)))
}

function vectorValues(vector: Vector): (number | string | null)[] {
  const n = 4
  const at = (i: number): number => (vector.constant ? 0 : i)
  return Array.from({ length: n }, (_, i) => {
    if (vector.kind === 'text') return vector.codes[at(i)] < 0 ? null : vector.words[vector.codes[at(i)]]
    const x = vector.values[at(i)]
    return Number.isNaN(x) || (vector.kind === 'condition' && x < 0) ? null : x
  })
}

// Worked by hand: missing propagates through arithmetic, division by zero is missing, logic has
// three values.
test.each([
  ['a + b', [3, 2, null, null]],
  ['a / b', [0.5, null, null, null]],
  ['-a * 2', [-2, -4, null, -8]],
  ['50% of a', [0.5, 1, null, 2]],
  ["channel = 'Trade'", [1, 0, null, 1]],
  ["channel != 'Trade'", [0, 1, null, 0]],
  ["channel in ('Shop', 'Online')", [0, 1, null, 0]],
  ["channel not in ('Shop')", [1, 0, null, 1]],
  ["channel contains 'ra'", [1, 0, null, 1]],
  ['returned and a > 1', [0, 0, null, 0]],
  ['not returned or b = 3', [0, 1, 1, 1]],
  ['b is missing', [0, 0, 0, 1]],
  ['a is not missing', [1, 1, 0, 1]],
  ['if a > 1 then a else b', [2, 2, null, 4]],
  ["if returned then 'back' else channel", ['back', 'Shop', null, 'Trade']],
  ['coalesce(a, b, 0)', [1, 2, 3, 4]],
  ['least(a, 2)', [1, 2, null, 2]],
  ['greatest(a, b)', [2, 2, null, null]],
  ['round(a / 3, 2)', [0.33, 0.67, null, 1.33]],
  ['round(-2.5)', [-3, -3, -3, -3]],
  ['abs(a - 3)', [2, 1, null, 1]],
  ['date = 2025-Q2', [1, 0, null, 1]],
  ['date < 2025', [0, 1, null, 0]],
  ['2024-01 <= date', [1, 1, null, 1]],
  ['date > 2024-12-31', [1, 0, null, 1]],
  ['true', [1, 1, 1, 1]],
  ['sales.a', [1, 2, null, 4]],
  ["column('__proto__')", [1, 1, 1, 1]],
])('%s', (text, wanted) => {
  expect(run(text).map((x) => (typeof x === 'number' ? round14(x) : x))).toEqual(wanted)
})

test.each([
  ['revenu', 'unknown-name', 'revenu'],
  ["a = 'x'", 'unlike-types', "a = 'x'"],
  ['a + channel', 'wrong-type', 'channel'],
  ["channel < 'x'", 'wrong-type', "channel < 'x'"],
  ['a and returned', 'wrong-type', 'a'],
  ['abz(a)', 'unknown-function', 'abz(a)'],
  ['abs(a, b)', 'argument-count', 'abs(a, b)'],
  ['sum(a)', 'aggregate-here', 'sum(a)'],
  ['value + 1', 'value-outside-rule', 'value'],
  ['2025-Q2', 'wrong-type', '2025-Q2'],
  ['if a then 1 else 2', 'wrong-type', 'a'],
  ['abs(a) where returned', 'clause-here', 'abs(a) where returned'],
  ['constructor', 'unknown-name', 'constructor'],
  ['toString(a)', 'unknown-function', 'toString(a)'],
])('%s is a problem at its own place', (text, code, at) => {
  const result = bindExpression(text, ROWS)
  expect(didBind(result)).toBe(false)
  if (didBind(result)) return
  expect(result[0].code).toBe(code)
  expect(text.slice(result[0].place.from, result[0].place.to)).toBe(at)
})

test('all problems of one text come at once', () => {
  const result = bindExpression('revnue + plann * abz(a)', ROWS)
  expect(Array.isArray(result) && result.map((p) => p.code)).toEqual([
    'unknown-name',
    'unknown-name',
    'unknown-function',
  ])
})

// Law 1: unlike units are a problem; bare numbers go with money and counts.
test.each([
  ['euros + pounds', undefined],
  ['euros > orders', undefined],
  ['euros + share', undefined],
  ['share > 5', undefined],
  ['plain of euros', undefined],
  ['share > 0', 'condition'],
  ['euros - 1000', 'money EUR'],
  ['orders + 1', 'count'],
  ['share of euros', 'money EUR'],
  ['80% of euros - euros', 'money EUR'],
  ['euros / euros', 'none'],
  ['euros / euros > share', 'condition'],
  ['euros / orders', 'money EUR'],
  ['euros * share', 'money EUR'],
  ['plain / plain + share', 'percent'],
  ['least(euros, pounds)', undefined],
  ['if share > 5% then euros else 0', 'money EUR'],
])('units: %s', (text, wanted) => {
  const result = bindExpression(text, { names: units, what: 'a measure' })
  const type = didBind(result) ? result.bound.type : undefined
  const message =
    type?.kind === 'number' ? (type.unit.is === 'money' ? `money ${type.unit.currency}` : type.unit.is) : type?.kind
  expect(message).toBe(wanted)
})

test('in a measure an aggregate reads rows, and a measure outside it is distinguished', () => {
  const setting: Setting = {
    what: 'a measure',
    names: {
      find: (n) =>
        n === 'revenue' ? { ref: { kind: 'measure', name: n }, type: KINDS.euros, formula: 'sum(a)' } : undefined,
      all: () => ['revenue'],
    },
    inside: columnNames(table, 'sales'),
    rows: columnNames(table, 'sales'),
  }
  const codes = (text: string): string[] | string => {
    const result = bindExpression(text, setting)
    return didBind(result) ? printExpression(result.tree) : result.map((p) => p.code)
  }
  expect(codes('sum(a) where returned')).toBe('sum(a) where returned')
  expect(codes('mean(revenue)')).toEqual(['aggregate-of-measure'])
  expect(codes('a / revenue')).toEqual(['bare-field'])
  expect(codes('sum(mean(a))')).toEqual(['aggregate-in-aggregate'])
  expect(codes('percentile(a, 0.9)')).toEqual(['wrong-type'])
  expect(codes('sum()')).toEqual(['argument-count'])
  expect(codes('mean(a) within channel')).toEqual(['clause-here'])
})
