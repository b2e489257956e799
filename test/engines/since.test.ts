import { cellsOf, openReport, type ReportData, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import type { Row, Types } from '../support/engines.js'
import { useWorlds } from '../support/worlds.js'

const SALES: Types = { day: 'date', shop: 'text', amount: 'numeric(12,2)' }
const SHOPS: Types = { shop: 'text', town: 'text' }

interface World {
  sales: Row[]
  /** Shop c is in no town. */
  shops: Row[]
  asOf: string
  since: string
  period: 'all' | 'this quarter'
}

const two = (n: number): string => String(n).padStart(2, '0')
const day = fc
  .tuple(fc.integer({ min: 1, max: 6 }), fc.constantFrom(1, 2, 15, 28, 30))
  .map(([month, date]) => `2025-${two(month)}-${two(month === 2 ? Math.min(date, 28) : date)}`)
const WORLD: fc.Arbitrary<World> = fc
  .record({
    sales: fc.array(
      fc.record({
        day,
        shop: fc.constantFrom('a', 'b', 'c'),
        amount: fc.option(fc.integer({ min: 1, max: 40 }), { freq: 9 }),
      }),
      { minLength: 4, maxLength: 40 },
    ),
    towns: fc.tuple(fc.constantFrom('North', 'South'), fc.constantFrom('North', 'South')),
    dates: fc.tuple(day, day).filter(([a, b]) => a < b),
    period: fc.constantFrom('all', 'this quarter'),
  })
  .map(({ towns, dates, sales, period }) => ({
    // The first day has a row, so that the earlier date is inside the data.
    sales: [{ day: '2025-01-01', shop: 'a', amount: 1 }, ...sales],
    shops: [
      { shop: 'a', town: towns[0] },
      { shop: 'b', town: towns[1] },
    ],
    since: dates[0],
    asOf: dates[1],
    period,
  }))

const report = ({ asOf, since, period }: World): ReportSpec => ({
  title: 'Two states',
  asOf,
  since,
  period,
  sources: { sales: { file: 'sales', date: 'day' }, shops: { file: 'shops', lookup: true, match: 'shop' } },
  measures: { revenue: { formula: 'sum(amount)', better: 'higher' } },
  statuses: { good: { verdict: 'good', wash: 'aqua' }, bad: { verdict: 'bad', wash: 'coral' } },
  rules: [
    {
      paint: 'revenue',
      bands: [
        { atLeast: 40, status: 'good' },
        { below: 15, status: 'bad' },
      ],
    },
  ],
  exhibits: [
    { name: 'shops', table: { rows: 'shop', show: 'revenue' } },
    { name: 'towns', table: { rows: ['shops.town', 'shop'], columns: 'month', show: 'revenue' } },
  ],
})

type Value = number | null
const statusOf = (value: Value): string | null =>
  value === null ? null : value >= 40 ? 'good' : value < 15 ? 'bad' : null

/** The value of each cell at a date, by exhibit and keys; nothing of the library is used. */
function stateAt({ sales, shops, period }: World, date: string): Map<string, Value> {
  const month = Number(date.slice(5, 7))
  const begins = period === 'all' ? '' : `${date.slice(0, 5)}${two(month - ((month - 1) % 3))}-01`
  const cells = new Map<string, Value>()
  const rows = sales.filter((row) => String(row.day) <= date && String(row.day) >= begins)
  const add = (key: string, amount: Value): void => {
    const before = cells.get(key) ?? null
    cells.set(key, amount === null ? before : (before ?? 0) + amount)
  }
  for (const { day, shop, amount } of rows) {
    const town = shops.find((one) => one.shop === shop)?.town ?? null
    add(JSON.stringify(['shops', shop]), amount as Value)
    add(JSON.stringify(['towns', town, shop, String(day).slice(0, 7)]), amount as Value)
  }
  return cells
}

async function check(world: World, data: ReportData): Promise<number> {
  const page = await openReport(report(world), data)
  const [now, then] = [stateAt(world, world.asOf), stateAt(world, world.since)]
  let moves = 0
  for (const exhibit of page.exhibits)
    for (const { row, column, level, value, style, was } of cellsOf(exhibit)) {
      if (level.row !== 'detail' || level.column !== 'detail') continue
      const key = JSON.stringify([exhibit.name, ...[...row, ...column].map((one) => one.value)])
      const [is, past] = [now.get(key) ?? null, then.get(key) ?? null]
      expect([key, value, style.status]).toEqual([key, is, statusOf(is)])
      // A cell whose keys the earlier state does not have has appeared: it has not moved.
      const moved = then.has(key) && statusOf(past) !== statusOf(is)
      if (moved) {
        expect([key, was?.status, was?.value]).toEqual([key, statusOf(past), past])
        moves++
      } else if (was !== undefined) {
        // All months of the axis are keys of the earlier state, with or without rows.
        expect([key, then.has(key), was.value]).toEqual([key, false, null])
      }
    }
  return moves
}

const worlds = useWorlds({ sales: SALES, shops: SHOPS }, { sales: 'day' })

test('law 39: each cell is compared with the sums of the rows up to the earlier date', async () => {
  let moves = 0
  await fc.assert(
    fc.asyncProperty(WORLD, async (world) => {
      moves += await check(world, worlds.csv({ sales: world.sales, shops: world.shops }))
    }) as fc.IAsyncProperty<unknown>,
    { seed: 39, numRuns: effort(200, 50) },
  )
  expect(moves).toBeGreaterThan(30)
})

test('law 39: every engine gives the same', async () => {
  for (const world of fc.sample(WORLD, { seed: 40, numRuns: effort(8, 1) })) {
    const { duckdb, postgres, close } = await worlds.open({ sales: world.sales, shops: world.shops })
    for (const data of [duckdb, postgres]) if (data !== undefined) await check(world, data)
    await close()
  }
})
