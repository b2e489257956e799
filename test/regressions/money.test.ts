import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fromRows, paint } from 'acuarela'
import { type Cell, openReport, type ReportData, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { duckdbTable, postgresTable, type Row, type Types } from '../support/engines.js'
import { hasPostgres, type Server, startPostgres } from '../support/postgres.js'

const TYPES: Types = {
  shop: 'text',
  line: 'text',
  sold: 'date',
  takings: 'numeric(12,2)',
  cost: 'float8',
  pieces: 'integer',
}

/** Amounts in cents, which are added as whole numbers: the independent calculation. */
interface Cents {
  shop: string
  line: string
  takings: number
  cost: number
  pieces: number
}

const row = fc.record({
  shop: fc.constantFrom('Larkmoor', 'Quay Lane', 'Saltmarsh', 'Old Mill'),
  line: fc.constantFrom('Roses', 'Shrubs', 'Meadow seed'),
  takings: fc.integer({ min: -9_999_999, max: 9_999_999 }),
  cost: fc.integer({ min: -9_999_999, max: 9_999_999 }),
  pieces: fc.integer({ min: -3, max: 12 }),
})

/** Rows of which every shop and line breaks even: one more row compensates the others. */
function balanced(rows: readonly Cents[]): Cents[] {
  const groups = new Map<string, Cents[]>()
  for (const row of rows) groups.set(`${row.shop} ${row.line}`, [...(groups.get(`${row.shop} ${row.line}`) ?? []), row])
  return [...groups.values()].flatMap((group) => {
    const gap = group.reduce((sum, { takings, cost }) => sum + takings - cost, 0)
    return [...group, { ...group[0], takings: 0, cost: gap, pieces: 1 }]
  })
}

const SAMPLES: Cents[] = fc.sample(row, { seed: 1_310, numRuns: 900 })
const asRows = (rows: readonly Cents[]): Row[] =>
  rows.map(({ takings, cost, ...row }) => ({ ...row, sold: '2025-03-01', takings: takings / 100, cost: cost / 100 }))
const EVEN = balanced(SAMPLES.slice(0, 300))
const MIXED = SAMPLES.slice(300)

function reportOf(): ReportSpec {
  return {
    title: 'Cents',
    sources: { lines: { file: 'lines.csv', date: 'sold' } },
    fields: { lines: { gain: 'takings - cost', unitPrice: 'takings * 0.125' } },
    parameters: { target: '0.1' },
    measures: {
      takings: 'sum(takings)',
      cost: 'sum(cost)',
      profit: 'sum(takings - cost)',
      byField: 'sum(gain)',
      between: 'takings - cost',
      twice: 'between + profit - between',
      weighed: 'sum(takings * pieces)',
      discounted: 'sum(unitPrice)',
      lost: 'sum(gain) where gain < 0',
      small: 'count() where takings - cost <= 0.1',
      negative: 'if takings - cost < 0 then 1 else 0',
    },
    exhibits: [
      {
        name: 'shops',
        table: {
          rows: ['shop', 'line'],
          show: ['profit', 'byField', 'between', 'twice', 'weighed', 'discounted', 'lost', 'small', 'negative'],
          totals: 'bottom',
        },
      },
    ],
  } as unknown as ReportSpec
}

async function cellsOf(data: ReportData[string], report = reportOf()): Promise<Map<string, number | null>> {
  const page = await openReport(report, { lines: data })
  const [exhibit] = page.exhibits
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  const cells = exhibit.rows.flatMap((r) => r.cells.filter((c): c is Cell => c !== null))
  return new Map(cells.map((c) => [`${c.row.map((k) => k.value).join('/')} ${c.measure}`, c.value]))
}

/** The same figures from whole cents, at every shop and line, shop and in total. */
function byHand(rows: readonly Cents[]): Map<string, number | null> {
  const out = new Map<string, number | null>()
  const groups = new Map<string, Cents[]>()
  for (const row of rows)
    for (const id of [`${row.shop}/${row.line}`, row.shop, '']) groups.set(id, [...(groups.get(id) ?? []), row])
  for (const [id, cents] of groups) {
    const total = (of: (r: Cents) => number): number => cents.reduce((sum, r) => sum + of(r), 0)
    const profit = total((r) => r.takings - r.cost)
    for (const name of ['profit', 'byField', 'between', 'twice']) out.set(`${id} ${name}`, profit / 100)
    out.set(`${id} weighed`, total((r) => r.takings * r.pieces) / 100)
    out.set(`${id} discounted`, total((r) => r.takings * 125) / 100_000)
    const losses = cents.filter((r) => r.takings < r.cost)
    out.set(`${id} lost`, losses.length === 0 ? null : losses.reduce((sum, r) => sum + r.takings - r.cost, 0) / 100)
    out.set(`${id} small`, cents.filter((r) => r.takings - r.cost <= 10).length)
    out.set(`${id} negative`, profit < 0 ? 1 : 0)
  }
  return out
}

let folder = ''
let server: Server | undefined
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'acuarela-money-'))
  if (hasPostgres()) server = await startPostgres()
})
afterAll(async () => {
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

type Source = (rows: readonly Row[], name: string) => Promise<ReportData[string] & { close?: () => Promise<void> }>
const SOURCES: readonly [string, Source][] = [
  ['memory', async (rows) => csvOf(rows) as string & { close?: () => Promise<void> }],
  ['duckdb', (rows, name) => duckdbTable(join(folder, `${name}.parquet`), rows, TYPES, 'sold')],
  ['postgres', (rows, name) => postgresTable(server?.url ?? '', name, rows, TYPES, 'sold')],
]

function csvOf(rows: readonly Row[]): string {
  const names = Object.keys(TYPES)
  return `${names.join()}\n${rows.map((row) => names.map((name) => row[name] ?? '').join()).join('\n')}\n`
}

describe.each(SOURCES)('%s', (engine, open) => {
  test.skipIf(engine === 'postgres' && !hasPostgres())(
    '1.1 random cents, made to cancel and as they come, add up to whole cents in every cell, subtotal and total',
    async () => {
      for (const [name, rows] of [
        ['even', EVEN],
        ['mixed', MIXED],
      ] as const) {
        const data = await open(asRows(rows), `cents_${name}`)
        const totals = await cellsOf(data)
        await data.close?.()
        const wanted = byHand(rows)
        expect(totals.size).toBe(wanted.size)
        for (const [id, value] of wanted) expect([id, totals.get(id)], engine).toEqual([id, value])
      }
    },
  )
})

test('1.1 shops that break even are not below 0, and 60000.10 − 60000.00 is not below 0.1', async () => {
  const csv =
    'sold,shop,line,takings,cost\n2025-03-01,Larkmoor,Roses,0.1,0.3\n2025-03-01,Larkmoor,Roses,0.2,0\n2025-03-01,Quay Lane,Roses,60000.10,60000.00\n'
  const report = {
    ...reportOf(),
    fields: {},
    measures: {
      profit: 'sum(takings - cost)',
      gap: 'sum(takings) - sum(cost)',
      takings: 'sum(takings)',
      cost: 'sum(cost)',
    },
    statuses: { bad: { wash: 'coral' }, good: { wash: 'aqua' } },
    rules: [
      { paint: 'profit', bands: [{ below: 0, status: 'bad' }, { otherwise: 'good' }] },
      { paint: 'gap', bands: [{ below: 0.1, status: 'bad' }, { otherwise: 'good' }] },
      { paint: 'takings', judge: 'takings - cost', bands: [{ below: 'target', status: 'bad' }, { otherwise: 'good' }] },
      { paint: 'cost', bands: [{ atMost: 'takings - target', status: 'good' }, { otherwise: 'bad' }] },
    ],
    exhibits: [{ name: 'shops', table: { rows: 'shop', show: ['profit', 'gap', 'takings', 'cost'] } }],
  } as unknown as ReportSpec
  const page = await openReport(report, { lines: csv })
  const [exhibit] = page.exhibits
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  const statuses = exhibit.rows.map((r) => r.cells.map((c) => c?.style.status))
  expect(exhibit.rows.map((r) => r.cells.map((c) => c?.value))).toEqual([
    [0, 0, 0.3, 0.3],
    [0.1, 0.1, 60000.1, 60000],
  ])
  expect(statuses).toEqual([
    ['good', 'bad', 'bad', 'bad'],
    ['good', 'good', 'good', 'good'],
  ])
})

test('1.1 a plain table: what is judged, counted and summed is rounded to its cents', () => {
  const sales = fromRows([
    { shop: 'Larkmoor', takings: 0.3, cost: 0.1, spent: 0.2 },
    { shop: 'Quay Lane', takings: 60000.1, cost: 60000, spent: 0.1 },
  ])
  const even = paint(sales, {
    statuses: { even: { wash: 'aqua' }, off: { wash: 'coral' } },
    rules: [
      {
        paint: 'takings',
        judge: 'takings - cost - spent',
        bands: [{ when: 'value = 0', status: 'even' }, { otherwise: 'off' }],
      },
      { paint: 'cost', where: 'takings - cost = spent', bands: [{ atLeast: 0, status: 'even' }] },
    ],
  })
  expect([0, 1].map((i) => even.cell(i, 'takings').status)).toEqual(['even', 'even'])
  expect([0, 1].map((i) => even.cell(i, 'cost').status)).toEqual(['even', 'even'])
})
