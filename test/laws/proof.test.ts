import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { FINDINGS, fromColumns, type PaintSpec, paint, proof, type RuleSpec } from 'acuarela'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { type KeyedSpec, STATUSES } from '../support/rules.js'
import { acuarela, folder, ROOT } from '../support/tool.js'

const RUNS = { seed: 20261123, numRuns: effort(400, 150) }
const table = fromColumns({ x: Float64Array.from([-5, -3, -1, 0, 0.5, 1, 2, 4, 6, 9]) })
const codes = (spec: PaintSpec, own = table): string[] => proof(paint(own, spec)).map(({ code }) => code)
const withBands = (bands: NonNullable<RuleSpec['bands']>): KeyedSpec => ({
  statuses: STATUSES,
  rules: [{ name: 'r', paint: 'x', bands }],
})

test('a ladder without a hole, an open end or a lost band takes every value that is tried', () => {
  const limit = fc.integer({ min: -4, max: 8 })
  const band = fc.tuple(limit, limit).map(([a, b]) => ({ atLeast: Math.min(a, b), below: Math.max(a, b) + 1 }))
  fc.assert(
    fc.property(fc.array(band, { minLength: 2, maxLength: 4 }), (bands) => {
      const spec = withBands(bands.map((band, i) => ({ ...band, status: ['ahead', 'close', 'behind', 'gone'][i] })))
      const found = codes(spec)
      const painting = paint(table, spec)
      const [low, high] = [Math.min(...bands.map((b) => b.atLeast)), Math.max(...bands.map((b) => b.below))]
      const tried = Array.from({ length: 64 }, (_, k) => low + ((high - low) * k) / 64)
      const taken = painting
        .rehearse('r', tried)[0]
        .trials.filter(({ value }) => value !== null && tried.includes(Number(value)))
      expect(taken.length).toBe(64)
      // Without a finding no tried value is in a gap, and a reported gap is one.
      expect(taken.some(({ gave }) => gave === null)).toBe(found.includes('hole'))
      expect(found.filter((code) => code === 'open-end').length).toBe(2)
      const swallowed = bands.some((band, k) => {
        const inside = tried.filter((v) => v >= band.atLeast && v < band.below)
        return inside.every((v) => bands.slice(0, k).some((b) => v >= b.atLeast && v < b.below))
      })
      if (found.includes('unreachable-band')) expect(swallowed).toBe(true)
    }),
    RUNS,
  )
})

test('a quiet middle is no hole, and a step of one unit is', () => {
  expect(
    codes(
      withBands([
        { above: 3, status: 'ahead' },
        { below: -3, status: 'behind' },
      ]),
    ),
  ).not.toContain('hole')
  expect(
    codes(
      withBands([
        { atLeast: 4, status: 'ahead' },
        { atMost: 3, status: 'close' },
      ]),
    ),
  ).toContain('hole')
  expect(
    codes(
      withBands([
        { atLeast: 4, status: 'ahead' },
        { below: 4, status: 'close' },
      ]),
    ),
  ).not.toContain('hole')
})

test('each finding is found where it is, and not where it is mended', () => {
  const good = withBands([{ atLeast: 1, status: 'ahead' }, { atLeast: -2, status: 'close' }, { otherwise: 'behind' }])
  expect(codes(good)).toEqual([])
  const [rule] = good.rules
  const changed = (more: object): PaintSpec => ({ ...good, rules: [{ ...rule, ...more }] })
  expect(codes(changed({ bands: [{ above: 1, status: 'ahead' }, { otherwise: 'behind' }] }))).toContain('equal-in-bad')
  expect(codes(changed({ bands: [...(rule.bands ?? []), { missing: 'behind' }] }))).toContain('missing-in-bad')
  expect(codes(changed({ bands: [{ atLeast: 900, status: 'ahead' }] }))).toEqual(
    expect.arrayContaining(['hundredfold', 'paints-nothing']),
  )
  expect(codes({ ...changed({}), parameters: { target: 1 } })).toContain('typed-limit')
  expect(codes({ ...good, rules: [rule, { paint: 'x', rank: { top: 2, status: 'gone' } }] })).toContain('dispute')
  expect(codes({ ...good, rules: [rule, { ...rule, name: 's' }] })).toEqual(
    expect.arrayContaining(['twin-rules', 'unreachable-rule']),
  )
  const centred = { ramp: ['coral', 'paper', 'aqua'], middle: 3 }
  expect(codes({ rules: [{ paint: 'x', gradient: centred }] })).toContain('against-sign')
  expect(codes({ rules: [{ paint: 'x', gradient: { ...centred, middle: 0 } }] })).toEqual([])
  const far = fromColumns({ x: Float64Array.from([1, 2, 3, 4, 5, 6, 7, 8, 9, 900]) })
  expect(codes({ rules: [{ paint: 'x', gradient: { ramp: 'indigo' } }] }, far)).toContain('scale-squeezed')
  expect(codes({ rules: [{ paint: 'x', gradient: { ramp: 'indigo', to: 'median(value)' } }] }, far)).toEqual([])
  const lower = fromColumns({ x: Float64Array.from([1, 2, 3, 4, 5]) }, { columns: { x: { better: 'lower' } } })
  expect(codes(good, lower)).toContain('upside-down')
})

test('a finding is ignored with a reason, where it is and nowhere else', () => {
  const spec = withBands([{ above: 1, status: 'ahead' }, { otherwise: 'behind' }])
  const ignore = [{ code: 'equal-in-bad', at: 'r', because: 'one is not enough' }]
  const [finding] = proof(paint(table, spec), { ignore }).filter(({ code }) => code === 'equal-in-bad')
  expect(finding.ignored).toBe('one is not enough')
  const elsewhere = proof(paint(table, spec), { ignore: [{ ...ignore[0], at: 'other' }] })
  expect(elsewhere.find(({ code }) => code === 'equal-in-bad')?.ignored).toBeNull()
})

test('the demo’s report is clean, and the careless one holds each finding there is', async () => {
  const clean = await acuarela(['proof', 'examples/brezal/spring.acuarela.yaml'])
  expect([clean.code, clean.out, clean.err]).toEqual([0, 'nothing found, 3 ignored\n', ''])
  const careless = 'examples/brezal/careless.acuarela.yaml'
  const run = await acuarela(['proof', careless, '--json'])
  expect(run.code).toBe(1)
  const findings = JSON.parse(run.out) as { code: string; at: string; line?: number; message: string; fix: string }[]
  expect([...new Set(findings.map(({ code }) => code))].sort()).toEqual(Object.keys(FINDINGS).sort())
  const lines = readFileSync(join(ROOT, careless), 'utf8').split('\n')
  for (const { code, at, line, message, fix } of findings) {
    expect(message, code).not.toMatch(/NaN|undefined|Infinity/)
    expect(fix.length).toBeGreaterThan(10)
    // The line of a finding is that of its subject: the entry begins with one of the names.
    if (line === undefined) continue
    const entry = lines.slice(0, line).findLast((text) => /^ {2}(?:- name: )?\w+/.test(text)) ?? ''
    expect(at.split(/[.,\s]+/), `${code} ${at} ${line}`).toContain(/^ {2}(?:- name: )?(\w+)/.exec(entry)?.[1])
  }
  const first = findings.find(({ code }) => code === 'hole')
  expect(lines[(first?.line ?? 0) - 1]).toContain('atLeast: 101')
})

test('lookup tables: keys that no row has are found where amounts are added up, and rows that are long out of date', async () => {
  const sales = ['2025-01-10,a', '2025-04-10,a', '2025-05-10,a', '2025-02-10,b'].map((row) => `${row},5`)
  const files = (rates: string, measure: string, shops = 'a\nb\nc\n'): Record<string, string> => ({
    's.csv': `day,shop,amount\n${sales.join('\n')}\n`,
    'shops.csv': `shop,target\n${shops.replaceAll('\n', ',7\n')}`,
    'rates.csv': `month,shop,rate\n${rates}`,
    'r.acuarela.yaml': `title: T
asOf: 2025-05-31
sources:
  s: { file: s.csv, date: day }
  shops: { file: shops.csv, match: shop, lookup: true }
  rates: { file: rates.csv, date: month, match: shop, lookup: latest }
measures: { m: "${measure}", n: sum(amount * rates.rate) }
exhibits:
  - { name: t, table: { rows: shop, show: [m, n] } }
`,
  })
  const found = async (content: Record<string, string>): Promise<string[]> => {
    const { out } = await acuarela(['proof', 'r.acuarela.yaml', '--json'], await folder(content))
    const list = JSON.parse(out) as { code: string; message: string }[]
    return list.filter(({ code }) => code.startsWith('lookup-')).map(({ message }) => message)
  }
  const fresh = '2025-01,a,2\n2025-02,a,2\n2025-02,b,2\n'
  const unused = '1 of 3 keys of shops is in no row of s: c'
  expect(await found(files(fresh, 'sum(shops.target)'))).toEqual([unused])
  // A table whose columns alone are looked up may have more rows than are asked for.
  expect(await found(files(fresh, 'sum(amount)'))).toEqual([])
  // But not where a row finds none.
  expect(await found(files(fresh, 'sum(amount)', 'a\nc\n'))).toEqual(['1 of 2 keys of shops is in no row of s: c'])
  expect(await found(files('2025-01,a,2\n2025-02,b,2\n', 'sum(amount)'))).toEqual([
    'rows of rates are in force for more than 3 months: a, that of Jan 2025 in May 2025',
  ])
  // Rates of a year are not old after four months.
  expect(await found(files('2024-01,a,2\n2025-01,a,2\n2025-02,b,2\n', 'sum(amount)'))).toEqual([])
})
