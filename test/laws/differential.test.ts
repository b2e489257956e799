import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Cell, cellsOf, type Exhibit, openReport, type Page, type RecordCell } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { duckdbTable } from '../support/engines.js'
import {
  amountOf,
  cents,
  fallsOf,
  groupsOf,
  type Line,
  netOf,
  type Planned,
  placesOf,
  sumOf,
} from '../support/oracle.js'
import { ROOT } from '../support/tool.js'

const MONTHS = Array.from({ length: 6 }, (_, i) => `2025-0${i + 1}`)
const REGIONS = ['Coast', 'Hills', 'Valley']
const SHOPS = ['Larkmoor', 'Old Mill', 'Quay Lane', 'Saltmarsh', 'Wren Hollow']

const money = fc
  .tuple(fc.integer({ min: -9_000_000, max: 9_000_000 }), fc.constantFrom(1, 10, 100))
  .map(([whole, step]) => {
    const start = whole - (whole % step)
    return `${start < 0 ? '-' : ''}${Math.floor(Math.abs(start) / 100)}.${String(Math.abs(start) % 100).padStart(2, '0')}`
  })
const line = fc
  .record({
    month: fc.constantFrom(...MONTHS),
    day: fc.integer({ min: 1, max: 28 }),
    region: fc.constantFrom(...REGIONS),
    shop: fc.constantFrom(...SHOPS),
    amount: fc.option(money, { freq: 9 }),
    cost: money,
    // Amounts that cancel show binary rounding errors.
    cancels: fc.integer({ min: 0, max: 3 }),
  })
  .map(({ day, cancels, cost, ...line }): Line => {
    return {
      ...line,
      day: `${line.month}-${String(day).padStart(2, '0')}`,
      cost: cancels === 0 ? (line.amount ?? cost) : cost,
    }
  })
const world = fc.record({
  lines: fc.array(line, { minLength: 1, maxLength: 60 }),
  planned: fc.array(
    fc.record({ month: fc.constantFrom(...MONTHS), region: fc.constantFrom(...REGIONS), planned: money }),
    { maxLength: 20 },
  ),
})

const REPORT = `title: Differential
sources:
  sales: { file: sales.csv, date: day }
  plan: { file: plan.csv, date: month, match: region }
period: '2025'
asOf: 2025-06-30
measures:
  revenue: sum(amount)
  net: sum(amount - cost)
  plan: sum(plan.planned)
  gap: revenue - plan
  place: rank(revenue)
  falls: 'streak(revenue < lag(revenue, 1 month), month)'
statuses: { low: { label: Low, wash: coral } }
rules: [{ paint: net, bands: [{ below: 0, status: low }, { otherwise: { weight: normal } }] }]
exhibits:
  - { name: regions, table: { rows: region, show: [revenue, net, plan, gap, place], totals: bottom, sort: -revenue } }
  - { name: months, table: { rows: month, show: [revenue, falls] } }
  - { name: grid, table: { rows: shop, columns: region, show: net, totals: { rows: bottom, columns: right } } }
  - { name: bars, chart: { along: month, show: revenue } }
  - { name: rows, records: { show: [shop, amount, cost], sort: -amount, first: 5 } }
  - { name: lows, list: { status: low, of: net, by: shop } }
`

const csvOf = (head: readonly string[], rows: readonly object[]): string =>
  `${head.join(',')}\n${rows.map((row) => head.map((name) => (row as Record<string, string | null>)[name] ?? '').join(',')).join('\n')}\n`

async function pageOf(lines: readonly Line[], planned: readonly Planned[]): Promise<Page> {
  return openReport(REPORT, {
    sales: csvOf(['day', 'region', 'shop', 'amount', 'cost'], lines),
    plan: csvOf(['month', 'region', 'planned'], [...planned, { month: '2025-01', region: 'Nowhere', planned: '0.00' }]),
  })
}

function exhibitOf(page: Page, name: string): Exhibit {
  const exhibit = page.exhibits.find((exhibit) => exhibit.name === name)
  if (exhibit === undefined) throw new Error(name)
  return exhibit
}

const keyIn = (keys: Cell['row'], name: string): string | null => keys.find((key) => key.name === name)?.value ?? null

/** The value at a row key, or the total's under ''. */
function valueAt(exhibit: Exhibit, measure: string, key: string): number | null {
  const own = (cellsOf(exhibit) as Cell[]).find(
    (cell) =>
      cell.measure === measure &&
      (key === '' ? cell.level.row !== 'detail' : cell.row.map(({ value }) => value).join() === key),
  )
  // A row without values need not be shown.
  return own?.value ?? null
}

const shown = (whole: bigint | null | undefined): number | null => (whole == null ? null : amountOf(whole))

test('the oracle is independent: it imports nothing', () => {
  expect(readFileSync(join(ROOT, 'test/support/oracle.ts'), 'utf8')).not.toMatch(/\b(import|require)\b[\s(]*['"{*\w]/)
})

test('sums of cents, a second source, places, the order of rows and totals are those of the oracle', async () => {
  await fc.assert(
    fc.asyncProperty(world, async ({ lines, planned }) => {
      const page = await pageOf(lines, planned)
      const regions = exhibitOf(page, 'regions')
      const byRegion = groupsOf(lines, ({ region }) => region)
      const revenue = new Map([...byRegion].map(([key, lines]) => [key, sumOf(lines, ({ amount }) => amount)]))
      const plans = groupsOf(planned, ({ region }) => region)
      const places = placesOf(revenue)
      for (const [key, lines] of byRegion) {
        const plan = sumOf(plans.get(key) ?? [], (p) => p.planned)
        const sum = revenue.get(key) ?? null
        expect(valueAt(regions, 'revenue', key)).toBe(shown(sum))
        expect(valueAt(regions, 'net', key)).toBe(shown(netOf(lines)))
        expect(valueAt(regions, 'plan', key)).toBe(shown(plan))
        expect(valueAt(regions, 'gap', key)).toBe(sum === null || plan === null ? null : amountOf(sum - plan))
        expect(valueAt(regions, 'place', key)).toBe(places.get(key))
      }
      expect(valueAt(regions, 'revenue', '')).toBe(shown(sumOf(lines, ({ amount }) => amount)))
      expect(valueAt(regions, 'net', '')).toBe(shown(netOf(lines)))
      if (!('rows' in regions)) throw new Error('a table was expected')
      const order = regions.rows.flatMap(({ cells: [cell] }) => (cell?.level.row === 'detail' ? [cell.value] : []))
      const sorted = [...revenue.values()].sort((a, b) =>
        a === null ? 1 : b === null ? -1 : a < b ? 1 : a > b ? -1 : 0,
      )
      // Rows without revenue are last, in any number: the plan has a region of its own.
      const values = sorted.flatMap((own) => (own === null ? [] : [amountOf(own)]))
      expect(order.slice(0, values.length)).toEqual(values)
      expect(order.slice(values.length).every((value) => value === null)).toBe(true)
    }),
    { numRuns: effort(60, 30), seed: 20261129 },
  )
})

test('crossed sums and their totals, runs of falling months, chart values, records and lists are those of the oracle', async () => {
  await fc.assert(
    fc.asyncProperty(world, async ({ lines, planned }) => {
      const page = await pageOf(lines, planned)
      const byMonth = groupsOf(lines, ({ month }) => month)
      const sums = MONTHS.map((month) => sumOf(byMonth.get(month) ?? [], ({ amount }) => amount))
      const falls = fallsOf(sums)
      const months = exhibitOf(page, 'months')
      MONTHS.forEach((month, i) => {
        const values = [valueAt(months, 'revenue', month), valueAt(months, 'falls', month)]
        expect([month, ...values]).toEqual([month, shown(sums[i]), falls[i]])
      })
      const bars = exhibitOf(page, 'bars')
      if (bars.kind !== 'chart') throw new Error('a chart was expected')
      for (const [month, lines] of byMonth) {
        const point = (cellsOf(bars) as Cell[]).find(({ row }) => keyIn(row, 'month') === month)
        expect(point?.value ?? null).toBe(shown(sumOf(lines, ({ amount }) => amount)))
      }
      const grid = cellsOf(exhibitOf(page, 'grid')) as Cell[]
      for (const cell of grid) {
        const own = lines.filter(
          ({ shop, region }) =>
            (cell.level.row !== 'detail' || keyIn(cell.row, 'shop') === shop) &&
            (cell.level.column !== 'detail' || keyIn(cell.column, 'region') === region),
        )
        expect([cell.row, cell.column, cell.value]).toEqual([cell.row, cell.column, shown(netOf(own))])
      }
      const rows = exhibitOf(page, 'rows')
      if (rows.kind !== 'records') throw new Error('records were expected')
      const amounts = (cellsOf(rows) as RecordCell[])
        .filter(({ measure }) => measure === 'amount')
        .map(({ value }) => value)
      const highest = lines
        .flatMap(({ amount }) => (amount === null ? [] : [cents(amount)]))
        .sort((a, b) => (a < b ? 1 : a > b ? -1 : 0))
      const wanted = [...highest.map(shown), ...lines.map(() => null)].slice(0, Math.min(5, lines.length))
      expect(amounts).toEqual(wanted)
      const lows = [...groupsOf(lines, ({ shop }) => shop)]
        .filter(([, lines]) => (netOf(lines) ?? 0n) < 0n)
        .map(([shop]) => shop)
      const listed = (cellsOf(exhibitOf(page, 'lows')) as Cell[])
        .filter(({ measure }) => measure === 'net')
        .map(({ row }) => keyIn(row, 'shop'))
      expect([...listed].sort()).toEqual(lows.sort())
    }),
    { numRuns: effort(60, 30), seed: 20261130 },
  )
})

test('a database answers the same worlds as memory: cents, joins, places, runs and orders', {
  timeout: 120_000,
}, async () => {
  const at = mkdtempSync(join(tmpdir(), 'acuarela-worlds-'))
  try {
    // Rows stay in the database, so none are listed.
    const report = REPORT.replace(/\n {2}- \{ name: rows.*/, '')
    const worlds = fc.sample(world, { numRuns: 6, seed: 20261201 })
    for (const [n, { lines, planned }] of worlds.entries()) {
      const plan = csvOf(
        ['month', 'region', 'planned'],
        [...planned, { month: '2025-01', region: 'Nowhere', planned: '0.00' }],
      )
      const head = ['day', 'region', 'shop', 'amount', 'cost']
      const memory = await openReport(report, { sales: csvOf(head, lines), plan })
      const rows = lines.map(({ day, region, shop, amount, cost }) => ({
        day,
        region,
        shop,
        amount: amount === null ? null : Number(amount),
        cost: Number(cost),
      }))
      const types = {
        day: 'date',
        region: 'text',
        shop: 'text',
        amount: 'numeric(12,2)',
        cost: 'numeric(12,2)',
      } as const
      const table = await duckdbTable(join(at, `world-${n}.parquet`), rows, types, 'day')
      const other = await openReport(report, { sales: table, plan })
      await table.close()
      expect(other.exhibits.map((exhibit) => cellsOf(exhibit))).toEqual(
        memory.exhibits.map((exhibit) => cellsOf(exhibit)),
      )
    }
  } finally {
    rmSync(at, { recursive: true, force: true })
  }
})
