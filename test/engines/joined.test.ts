import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fromRows } from 'acuarela'
import { toData } from 'acuarela/data'
import { openReport, type ReportData, type ReportSpec } from 'acuarela/report'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { duckdbTable, postgresTable, type Row, type Types } from '../support/engines.js'
import { hasPostgres, type Server, startPostgres } from '../support/postgres.js'

const SALES: Types = {
  date: 'date',
  region: 'text',
  shop: 'text',
  open: 'boolean',
  size: 'integer',
  since: 'date',
  amount: 'numeric(12,2)',
}
const BUDGET: Types = { month: 'text', shop: 'text', amount: 'float8' }
const SHOPS = ['a', "b'b", 'c "c"', 'd']

const sales: Row[] = Array.from({ length: 240 }, (_, i) => {
  const s = i % SHOPS.length
  return {
    date: `202${4 + (i % 2)}-0${1 + (i % 6)}-1${i % 9}`,
    region: s < 2 ? 'North' : 'South',
    shop: SHOPS[s],
    open: s === 3 ? null : s % 2 === 0,
    size: s === 2 ? null : s * 10,
    since: s === 1 ? null : `201${s}-05-01`,
    amount: i % 17 === 0 ? null : (i * 7) / 4 - 20,
  }
})
const budget: Row[] = [...SHOPS, 'elsewhere'].flatMap((shop, s) =>
  [1, 2, 3, 4, 5, 6].map((m) => ({ month: `2025-0${m}`, shop, amount: 100 + s * 10 + m / 3 })),
)

const report = (more: object = {}): ReportSpec => ({
  title: 'two sources',
  period: '2025',
  sources: {
    sales: { file: 'sales', date: 'date' },
    budget: { file: 'budget', date: 'month', match: 'shop' },
  },
  measures: {
    revenue: 'sum(amount)',
    plan: 'sum(budget.amount)',
    gap: 'revenue - plan',
    middle: 'median(budget.amount)',
  },
  statuses: { ahead: { wash: 'aqua' } },
  rules: [
    // Uniform values of a shop's rows can be read; others are reported.
    { paint: 'revenue', where: "region = 'North' and open", bands: [{ above: 0, status: 'ahead' }] },
    { paint: 'gap', where: 'size > 5', bands: [{ below: 0, style: { weight: 'bold' } }] },
    { paint: 'plan', where: 'amount > 5', bands: [{ above: 0, style: { weight: 'bold' } }] },
  ],
  exhibits: [
    {
      name: 'regions',
      table: {
        rows: ['region', 'shop'],
        columns: 'month',
        show: ['revenue', 'plan', 'gap', 'middle'],
        totals: { rows: 'bottom', columns: 'right' },
      },
    },
    { name: 'open', table: { rows: 'open', show: ['plan', 'middle'], totals: 'bottom' } },
    { name: 'size', where: 'size > 5 or size is missing', table: { rows: 'size', show: 'plan', totals: 'bottom' } },
    { name: 'since', where: 'since > 2010', table: { rows: 'since', show: 'plan' } },
    { name: 'north', where: "region = 'North'", table: { rows: 'shop', show: ['plan', 'gap'] } },
  ],
  ...more,
})

const dated = (rows: readonly Row[]): Row[] => rows.map((row) => ({ ...row }))
const memory = {
  sales: () =>
    fromRows(
      dated(sales).map((r) => ({
        ...r,
        date: new Date(String(r.date)),
        since: r.since === null ? null : new Date(String(r.since)),
      })),
    ),
}

let folder: string
let server: Server | undefined
const closing: (() => Promise<void>)[] = []
const inputs: Record<string, ReportData[string]> = {}
const withServer = hasPostgres()
const CSV = `month,shop,amount\n${budget.map((r) => `${r.month},"${String(r.shop).replaceAll('"', '""')}",${r.amount}`).join('\n')}\n`

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'acuarela-joined-'))
  inputs.memorySales = memory.sales()
  inputs.memoryBudget = CSV
  const duckdbs = [
    await duckdbTable(join(folder, 'sales.parquet'), sales, SALES, 'date'),
    await duckdbTable(join(folder, 'budget.parquet'), budget, BUDGET, 'month'),
  ]
  ;[inputs.duckdbSales, inputs.duckdbBudget] = duckdbs
  closing.push(...duckdbs.map((source) => () => source.close()))
  if (!withServer) return
  server = await startPostgres()
  const tables = [
    await postgresTable(server.url, 'sales', sales, SALES, 'date'),
    await postgresTable(server.url, 'budget', budget, BUDGET, 'month'),
  ]
  ;[inputs.postgresSales, inputs.postgresBudget] = tables
  closing.push(...tables.map((source) => () => source.close()))
})

afterAll(async () => {
  for (const close of closing) await close()
  server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const ENGINES = ['memory', 'duckdb', ...(withServer ? ['postgres'] : [])]
const PAIRS = ENGINES.flatMap((home) => ENGINES.map((other) => [home, other] as const))

test.each(PAIRS)(
  'sales by %s beside a budget by %s: the same cells, looks, notes and control totals',
  async (home, other) => {
    const answer = async (a: string, b: string, spec: ReportSpec): Promise<unknown> =>
      rounded(toData(await openReport(spec, { sales: inputs[`${a}Sales`], budget: inputs[`${b}Budget`] })))
    const expected = (await answer('memory', 'memory', report())) as {
      exhibits: { cells: { value: number | null; style: object }[]; messages: string[] }[]
      messages: string[]
    }
    expect(await answer(home, other, report())).toEqual(expected)
    // The compared results contain looked-up values, paint, a skipped level, and a shop that home
    // does not have.
    expect(expected.messages.join()).toContain('elsewhere')
    for (const exhibit of expected.exhibits) expect(exhibit.cells.some((cell) => cell.value !== null)).toBe(true)
    expect(JSON.stringify(expected)).toContain('"status":"ahead"')
    expect(JSON.stringify(expected)).toContain('"weight":"bold"')
    expect(expected.exhibits[0].messages.join()).toContain('is not applied')
  },
)

/** Numbers up to rounding of a sum in another order. */
function rounded(value: unknown): unknown {
  return JSON.parse(JSON.stringify(value, (_, v: unknown) => (typeof v === 'number' ? Number(v.toPrecision(11)) : v)))
}
