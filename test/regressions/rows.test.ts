import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { type Row, statement, type Types, writeParquet } from '../support/engines.js'
import { hasPostgres, type Server, startPostgres } from '../support/postgres.js'
import { acuarela, folder } from '../support/tool.js'

const TYPES: Types = { sold: 'date', region: 'text', shop: 'text', amount: 'numeric(12,2)', returned: 'boolean' }
const SHOPS = [
  ['Coast', 'Larkmoor'],
  ['Coast', 'Quay Lane'],
  ['Valley', 'Old Mill'],
]

/** Two years of sales, a row for each shop on some days; amounts tell rows apart. */
const SALES: Row[] = Array.from({ length: 240 }, (_, i): Row => {
  const [region, shop] = SHOPS[i % 3]
  const day = new Date(Date.UTC(2024, 0, 3 + 3 * i)).toISOString().slice(0, 10)
  const amount = i % 17 === 0 ? null : (i * 37) % 901
  return { sold: day, region, shop, amount, returned: i % 5 === 0 }
})
const PLAN = Array.from({ length: 24 }, (_, m) =>
  SHOPS.map(
    ([, shop], s) => `${2024 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')},${shop},${100 * s + m}`,
  ),
).flat()
const CSV = `sold,region,shop,amount,returned\n${SALES.map((r) => `${r.sold},${r.region},${r.shop},${r.amount ?? ''},${r.returned}`).join('\n')}\n`

const reportText = (source: string): string => `title: Rows
asOf: '2025-11-20'
sources:
  sales: ${source}
  plan: { file: plan.csv, date: month, match: [shop] }
period: 2025-Q3 to 2025-11
measures:
  amount: { formula: sum(amount), format: money EUR 0 }
  returns: { formula: sum(amount) where returned, format: money EUR 0 }
  plan: { formula: sum(plan.planned), format: money EUR 0 }
  gap: { formula: amount - plan, format: money EUR 0 }
  before: { formula: 'lag(amount, 1 year)', format: money EUR 0 }
  year: { formula: 'sofar(amount, year)', format: money EUR 0 }
  start: { formula: 'opening(last(amount), year)', format: money EUR 0 }
exhibits:
  - { name: shops, table: { rows: [region, shop], columns: month, show: [amount, returns, plan, gap, before, year, start], totals: { rows: bottom, columns: right } } }
`

interface Behind {
  why: { value: number | null }
  rows: {
    source: string
    when: string
    count: number
    records: { amount?: number; planned?: number; sold?: string }[]
  }[]
}

let server: Server | undefined
beforeAll(async () => {
  if (hasPostgres()) server = await startPostgres()
})
afterAll(async () => {
  await server?.stop()
})

async function behind(cwd: string, measure: string, ...keys: string[]): Promise<Behind> {
  const { out, err, code } = await acuarela(
    ['why', 'r.acuarela.yaml', `shops.${measure}`, ...keys, '--rows', '5000', '--json', '--quiet'],
    cwd,
  )
  expect([code, err]).toEqual([0, ''])
  return JSON.parse(out) as Behind
}

const sum = (rows: Behind['rows'][number]): number =>
  rows.records.reduce((total, { amount, planned }) => total + (amount ?? planned ?? 0), 0)

async function checkAll(
  source: string,
  measures: readonly string[],
  places: readonly string[][],
  files: (cwd: string) => Promise<void> = async () => undefined,
): Promise<void> {
  const cwd = await folder({ 'r.acuarela.yaml': reportText(source), 'sales.csv': CSV })
  await writeFile(join(cwd, 'plan.csv'), `month,shop,planned\n${PLAN.join('\n')}\n`)
  await files(cwd)
  for (const keys of places) {
    const place = keys.join(' ')
    for (const measure of measures) {
      const { why, rows } = await behind(cwd, measure, ...keys)
      const source = measure === 'plan' ? 'plan' : 'sales'
      expect([measure, place, rows.length, rows[0].source]).toEqual([measure, place, 1, source])
      expect([measure, place, rows[0].count]).toEqual([measure, place, rows[0].records.length])
      expect([measure, place, sum(rows[0])]).toEqual([measure, place, why.value ?? 0])
    }
    const { why, rows } = await behind(cwd, 'gap', ...keys)
    expect(rows.map((row) => row.source)).toEqual(['sales', 'plan'])
    expect([place, sum(rows[0]) - sum(rows[1])]).toEqual([place, why.value])
  }
  const last = await behind(cwd, 'before', 'region=Coast', 'shop=Larkmoor')
  expect(last.rows[0].records.every(({ sold }) => sold?.startsWith('2024') === true)).toBe(true)
  expect(last.rows[0].when).toBe('July 1, 2024 to November 20, 2024')
  // The year opens with the last day on which the shop had an amount.
  const start = await behind(cwd, 'start', 'region=Coast', 'shop=Larkmoor', 'month=2025-09')
  const opens = SALES.filter((r) => r.shop === 'Larkmoor' && r.amount !== null && String(r.sold) <= '2025-01-01').at(-1)
  expect(start.rows[0].records.map(({ sold, amount }) => [sold, amount])).toEqual([[opens?.sold, opens?.amount]])
  expect(start.why.value).toBe(opens?.amount)
}

test('1.10 why --rows lists the rows that were added: of each source, of each time, of what aggregates read', async () => {
  await checkAll(
    '{ file: sales.csv, date: sold }',
    ['returns', 'plan', 'before', 'year'],
    [['region=Coast'], ['region=Valley', 'shop=Old Mill', 'month=2025-08']],
  )
})

test('1.10 why --rows lists the rows of a Parquet file that DuckDB holds', async () => {
  await checkAll(
    '{ file: sales.parquet, date: sold, engine: duckdb }',
    ['before'],
    [['region=Coast', 'month=2025-11']],
    (cwd) => writeParquet(join(cwd, 'sales.parquet'), SALES, TYPES),
  )
})

test.skipIf(!hasPostgres())('1.10 why --rows lists the rows of a PostgreSQL table', async () => {
  const url = server?.url ?? ''
  const values = SALES.map((r) => `('${r.sold}','${r.region}','${r.shop}',${r.amount ?? 'NULL'},${r.returned})`)
  await statement(
    url,
    'CREATE TABLE listed (sold date, region text, shop text, amount numeric(12,2), returned boolean)',
    `INSERT INTO listed VALUES ${values.join(',')}`,
  )
  process.env.ACUARELA_TEST_LISTED = url
  await checkAll('{ postgres: env:ACUARELA_TEST_LISTED, table: listed, date: sold }', ['year'], [['month=2025-11']])
})

test('1.10 a raw column is listed as it stands, whatever a measure of its name is called or looks like', async () => {
  const cwd = await folder({ 'r.acuarela.yaml': reportText('{ file: sales.csv, date: sold }'), 'sales.csv': CSV })
  await writeFile(join(cwd, 'plan.csv'), `month,shop,planned\n${PLAN.join('\n')}\n`)
  const { out } = await acuarela(['why', 'r.acuarela.yaml', 'shops.amount', 'month=2025-08', '--rows', '3'], cwd)
  const listed = out.slice(out.indexOf('Rows behind it'))
  expect(listed).toContain('of sales, Aug 2025')
  expect(listed).not.toContain('€')
  expect(listed).toMatch(/Amount/)
})
