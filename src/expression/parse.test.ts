import fc from 'fast-check'
import { expect, test } from 'vitest'
import { isTree, MAX_EXPRESSION_DEPTH, parseExpression } from './parse.js'
import { printExpression } from './print.js'
import type { Binary, Tree } from './tree.js'

const SPAN = { from: 0, to: 0 }
const name = fc.constantFrom('revenue', 'plan', 'región', 'net revenue', 'of', 'x1')

/** Random trees of the grammar. */
const { tree } = fc.letrec<{ tree: Tree }>((tie) => {
  const inner = tie('tree')
  const operators: Binary[] = ['+', '-', '*', '/', 'of', '=', '!=', '<', '<=', '>', '>=', 'contains', 'and', 'or']
  const leaf: fc.Arbitrary<Tree> = fc.oneof(
    fc
      .tuple(fc.nat(100_000), fc.constantFrom(1, 10, 1000))
      .map(([n, by]): Tree => ({ op: 'number', value: n / by, percent: false, ...SPAN })),
    fc.nat(3000).map((n): Tree => ({ op: 'number', value: Number(`${n}e-1`) / 100, percent: true, ...SPAN })),
    fc.string({ maxLength: 6 }).map((value): Tree => ({ op: 'text', value, ...SPAN })),
    fc.boolean().map((value): Tree => ({ op: 'truth', value, ...SPAN })),
    fc
      .constantFrom('2025-Q2', '2025-06', '2025-W23', '2025-06-01')
      .map((text): Tree => ({ op: 'period', text, ...SPAN })),
    name.map((n): Tree => ({ op: 'name', name: n, ...SPAN })),
    fc.constant<Tree>({ op: 'name', name: 'amount', source: 'budget', ...SPAN }),
    fc.integer({ min: 1, max: 24 }).map((count): Tree => ({ op: 'duration', count, unit: 'month', ...SPAN })),
  )
  const call = fc
    .tuple(
      fc.constantFrom('sum', 'abs'),
      fc.array(inner, { maxLength: 2 }),
      fc.option(inner),
      fc.constantFrom<string[] | undefined>([], ['region'], ['region', 'shop'], undefined),
    )
    .map(
      ([f, args, where, within]): Tree => ({
        op: 'call',
        name: f,
        args,
        ...(where && { where }),
        ...(within && { within }),
        ...SPAN,
      }),
    )
  return {
    tree: fc.oneof(
      { depthSize: 'small', withCrossShrink: true },
      leaf,
      fc
        .tuple(fc.constantFrom(...operators), inner, inner)
        .map(([op, left, right]): Tree => ({ op, left, right, ...SPAN })),
      fc
        .tuple(fc.constantFrom('negate' as const, 'not' as const), inner)
        .map(([op, of]): Tree => ({ op, of, ...SPAN })),
      fc
        .tuple(inner, fc.array(inner, { minLength: 1, maxLength: 3 }), fc.boolean())
        .map(([of, list, not]): Tree => ({ op: 'in', of, list, not, ...SPAN })),
      fc.tuple(inner, fc.boolean()).map(([of, not]): Tree => ({ op: 'missing', of, not, ...SPAN })),
      fc.tuple(inner, inner, inner).map(([test, yes, no]): Tree => ({ op: 'if', test, yes, no, ...SPAN })),
      call,
    ),
  }
})

function bare(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(bare)
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(
    Object.entries(value)
      .filter(([k, v]) => k !== 'from' && k !== 'to' && k !== 'withinAt' && v !== undefined)
      .map(([k, v]) => [k, bare(v)]),
  )
}

test('what is printed reads back as the same tree', () => {
  fc.assert(
    fc.property(tree, (t) => {
      const text = printExpression(t)
      const read = parseExpression(text)
      if (!isTree(read)) throw new Error(`${text}: ${read.message}`)
      expect(bare(read), text).toEqual(bare(t))
      expect(printExpression(read)).toBe(text)
    }),
    { seed: 7, numRuns: 2000 },
  )
})

test.each([
  ['a+b*c', 'a + b * c'],
  ['(a+b)*c', '(a + b) * c'],
  ['-(a of b)', '-(a of b)'],
  ['80% of target*2', '80% of target * 2'],
  ['a - (b - c)', 'a - (b - c)'],
  ["not (a = 1 and b != 'it''s')", "not (a = 1 and b != 'it''s')"],
  ["sum(amount) where channel = 'Trade'", "sum(amount) where channel = 'Trade'"],
  ['(count() where returned)/count()', '(count() where returned) / count()'],
  ['mean(revenue) within (region, team)', 'mean(revenue) within (region, team)'],
  ['if a > 1 then 2 else 3', 'if a > 1 then 2 else 3'],
  ["column('net revenue') - plan", "column('net revenue') - plan"],
  ['date >= 2025-06-01', 'date >= 2025-06-01'],
])('%s is written canonically', (written, printed) => {
  const read = parseExpression(written)
  expect(isTree(read) && printExpression(read)).toBe(printed)
})

test.each([
  ['a == b', 'expression-stray', 2, 4],
  ['a && b', 'expression-stray', 2, 4],
  ['"Trade"', 'expression-stray', 0, 1],
  ["channel = 'Trade", 'expression-unclosed-text', 10, 16],
  ['revenue 5', 'expression-stray', 8, 9],
  ['revenue plan', 'expression-stray', 8, 12],
  ['a +', 'expression-end', 3, 4],
  ['(a + b', 'expression-end', 6, 7],
  ['a)', 'expression-stray', 1, 2],
  ['1,200', 'expression-stray', 1, 2],
  ['5-3', 'minus-between-digits', 0, 3],
  ['2025-13', 'minus-between-digits', 0, 7],
  ['if a then b', 'expression-end', 11, 12],
  ['a in b', 'expression-expected', 5, 6],
  ['', 'expression-empty', 0, 1],
  ['a # b', 'expression-stray', 2, 3],
])('%s is refused with its place', (text, code, from, to) => {
  const read = parseExpression(text)
  expect(isTree(read)).toBe(false)
  if (!isTree(read)) expect([read.code, read.place.from, read.place.to]).toEqual([code, from, to])
})

test('depth and length are bounded, in their own words', () => {
  for (const [open, close] of [
    ['(', ')'],
    ['-', ''],
    ['not ', ''],
    ['if a then 1 else ', ''],
    ['abs(', ')'],
    ['1% of ', ''],
  ]) {
    const fine = `${open.repeat(MAX_EXPRESSION_DEPTH - 10)}1${close.repeat(MAX_EXPRESSION_DEPTH - 10)}`
    const deep = `${open.repeat(180)}1${close.repeat(180)}`
    expect(isTree(parseExpression(fine)), open).toBe(true)
    const read = parseExpression(deep)
    expect(!isTree(read) && read.code, open).toBe('expression-too-deep')
  }
  const long = parseExpression('('.repeat(5000))
  expect(!isTree(long) && long.code).toBe('expression-too-long')
})

test('no text makes the parser fall over', () => {
  const pieces = fc.constantFrom(
    '(',
    ')',
    'a',
    ' ',
    '1',
    '%',
    "'",
    'where',
    ' within ',
    'of ',
    'not ',
    'in',
    ',',
    '.',
    '-',
    '=',
    '2025-06',
    'if ',
    'é',
    '\u0000',
    '💧',
  )
  fc.assert(
    fc.property(
      fc.array(pieces, { maxLength: 40 }).map((p) => p.join('')),
      (text) => {
        const read = parseExpression(text)
        if (isTree(read)) expect(isTree(parseExpression(printExpression(read)))).toBe(true)
        else expect(read.message.length).toBeGreaterThan(10)
      },
    ),
    { seed: 11, numRuns: 20_000 },
  )
})
