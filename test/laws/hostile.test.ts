import { createPainter, fromColumns, ProblemError, paint } from 'acuarela'
import { checkReportData } from 'acuarela/report'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'

/** A small generator with a fixed seed: a hundred thousand inputs are too many to shrink. */
function random(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return state / 4294967296
  }
}

const PIECES = [
  ...'( ) , . + - * / = != < <= > >= % # @ $ { } [ ] ; : \\ \' " ` ~ ^ & | ! ?'.split(' '),
  ...'of and or not in is missing if then else where within true false contains everything'.split(' '),
  ...'sum mean median lowest highest count countDistinct percentile stdev first last abs round share rank lag'.split(
    ' ',
  ),
  ...'value revenue plan target region shop 0 1 2.5 80% 1e9 1e999 2025 2025-Q2 2025-06-01 -0'.split(' '),
  ...'constructor __proto__ prototype toString hasOwnProperty __defineGetter__ valueOf process globalThis this'.split(
    ' ',
  ),
  "'text'",
  "''",
  "'a''b'",
  '\u0000',
  '\u202e',
  '\ud800',
  '👩‍🌾',
  '\n',
  '\t',
  ' ',
  'é',
  '＋',
  '1 year',
  "column('x')",
]

const table = fromColumns({
  revenue: [1, 2, 3, null],
  plan: [2, 2, 2, 2],
  region: ['Coast', 'Coast', null, 'Valley'],
  shop: ['a', 'b', 'c', 'd'],
})

test('hostile expressions are bound or refused, and nothing else happens', {
  timeout: 300_000,
}, () => {
  const next = random(1)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]
  const seen = { bound: 0, refused: 0 }
  for (let i = 0; i < effort(100_000, 8000); i++) {
    const text = Array.from({ length: 1 + Math.floor(next() * 12) }, () => pick(PIECES)).join(next() < 0.7 ? ' ' : '')
    const rule = pick([
      { bands: [{ atLeast: text, style: { weight: 'bold' as const } }] },
      { bands: [{ when: text, style: { weight: 'bold' as const } }] },
      { where: text, rank: { top: 1, style: { weight: 'bold' as const } } },
      { gradient: { ramp: ['coral', 'aqua'], from: text }, judge: text },
    ])
    const spec = { parameters: { target: 2 }, rules: [{ paint: 'revenue', ...rule }] }
    try {
      const painter = createPainter(table, spec)
      seen.bound++
      // A bound expression must also be evaluated, explained and printed.
      const painting = painter.paint(table)
      painting.why(0, 'revenue')
      painting.rules()
    } catch (error) {
      if (!(error instanceof ProblemError))
        throw new Error(`${JSON.stringify(text)}: ${String(error)}`, { cause: error })
      seen.refused++
    }
  }
  expect(seen.bound).toBeGreaterThan(effort(300, 20))
  expect(seen.refused).toBeGreaterThan(effort(50_000, 4000))
})

test('prototypes are out of reach: their names are unknown, as names, columns, statuses, pigments, icons and parameters', () => {
  for (const name of ['constructor', '__proto__', 'toString', 'hasOwnProperty']) {
    const refused = (spec: object): string[] => {
      try {
        paint(table, spec as Parameters<typeof paint>[1])
      } catch (error) {
        if (error instanceof ProblemError) return error.problems.map(({ code }) => code)
        throw error
      }
      return []
    }
    const band = (more: object): object => ({ rules: [{ paint: 'revenue', bands: [{ above: 0, ...more }] }] })
    expect(refused({ rules: [{ paint: 'revenue', bands: [{ above: name, style: { weight: 'bold' } }] }] })).toEqual([
      'unknown-name',
    ])
    expect(refused({ rules: [{ paint: name, bands: [{ above: 0, style: { weight: 'bold' } }] }] })).toEqual([
      'unknown-measure',
    ])
    expect(refused(band({ status: name }))).toEqual(['unknown-status'])
    expect(refused(band({ style: { wash: name } }))).toEqual(['unknown-pigment'])
    expect(refused(band({ style: { icon: name } }))).toEqual(['unknown-icon'])
    expect(refused(band({ style: { flag: `{${name}}` } }))).toEqual(['unknown-name'])
    expect(refused({ rules: [{ paint: 'revenue', fromColumn: { status: name } }] })).toEqual(['unknown-name'])
    expect(refused({ rules: [{ paint: 'revenue', gradient: { icons: name } }] })).toEqual(['unknown-family'])
    expect(refused({ rules: [{ paint: 'revenue', gradient: { ramp: name } }] })).toEqual(['unknown-pigment'])
    expect(() => paint(table, { rules: [] }).repaint({ [name]: 1 })).toThrow(ProblemError)
  }
})

test('very long and very deep expressions are refused or answered at once', { timeout: 20_000 }, () => {
  const long = [
    '('.repeat(50_000),
    `${'('.repeat(5000)}1${')'.repeat(5000)}`,
    '-'.repeat(50_000),
    'not '.repeat(20_000),
    Array(20_000).fill('1').join(' + '),
    Array(20_000).fill('revenue').join(' of '),
    `'${'a'.repeat(100_000)}`,
    `revenue in (${Array(20_000).fill("'x'").join(', ')})`,
    'if true then '.repeat(10_000),
    '1'.repeat(100_000),
    `${'a'.repeat(50_000)}(`,
    ' '.repeat(100_000),
  ]
  for (const text of long)
    expect(
      () =>
        createPainter(table, { rules: [{ paint: 'revenue', bands: [{ above: text, style: { weight: 'bold' } }] }] }),
      text.slice(0, 20),
    ).toThrow(ProblemError)
})

test('trees that are no report are refused with problems', async () => {
  const next = random(2)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]
  const keys = [
    'title',
    'sources',
    'measures',
    'rules',
    'exhibits',
    'statuses',
    'parameters',
    'pigments',
    'icons',
    'proof',
    'paint',
    'bands',
    'gradient',
    'bar',
    'rank',
    'borrow',
    'file',
    'table',
    'rows',
    'show',
    '__proto__',
    'constructor',
  ]
  const tree = (depth: number): unknown => {
    const kind = depth <= 0 ? pick([0, 1, 2]) : pick([0, 1, 2, 3, 4, 4, 4])
    if (kind === 0) return pick([null, true, 0, -1, 1e308, Number.NaN])
    if (kind === 1) return pick(PIECES)
    if (kind === 2) return pick(keys)
    if (kind === 3) return Array.from({ length: Math.floor(next() * 4) }, () => tree(depth - 1))
    const made: Record<string, unknown> = {}
    for (let k = 0; k < next() * 6; k++)
      Object.defineProperty(made, pick(keys), { value: tree(depth - 1), enumerable: true, configurable: true })
    return made
  }
  for (let i = 0; i < 3000; i++) {
    const problems = await checkReportData({
      title: 't',
      sources: { s: { file: 'x' } },
      measures: {},
      exhibits: [],
      ...(tree(4) as object),
    } as never)
    for (const { message } of problems) expect(message).not.toMatch(/undefined|\[object/)
  }
})
