import { toData } from 'acuarela/data'
import { openReport, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import type { Row, Types } from '../support/engines.js'
import { useWorlds } from '../support/worlds.js'

const SALES: Types = { day: 'date', shop: 'text', amount: 'numeric(12,2)' }
const PLAN: Types = { month: 'text', shop: 'text', amount: 'float8' }

interface World {
  sales: Row[]
  plan: Row[]
  asOf: string
  from: string
  to: string
}

const two = (n: number): string => String(n).padStart(2, '0')
const day = fc.tuple(fc.integer({ min: 0, max: 14 }), fc.constantFrom(1, 2, 15, 28, 29, 30, 31)).map(([m, d]) => {
  const year = 2023 + Math.floor((m + 10) / 12)
  const month = ((m + 10) % 12) + 1
  return `${year}-${two(month)}-${two(Math.min(d, daysIn(year, month)))}`
})
const WORLD: fc.Arbitrary<World> = fc
  .record({
    sales: fc.array(
      fc.record({
        day,
        shop: fc.constantFrom('a', 'b'),
        amount: fc.option(fc.integer({ min: -90, max: 900 }), { freq: 9 }),
      }),
      { minLength: 1, maxLength: 40 },
    ),
    plan: fc.uniqueArray(
      fc.record({
        month: day.map((text) => text.slice(0, 7)),
        shop: fc.constantFrom('a', 'b'),
        amount: fc.integer({ min: 1, max: 500 }),
      }),
      { selector: (row) => `${row.month} ${row.shop}`, maxLength: 20 },
    ),
    asOf: day,
    span: fc.tuple(day, day).map(([a, b]) => [a, b].map((text) => text.slice(0, 7)).sort()),
  })
  .map(({ span: [from, to], ...rest }) => ({ ...rest, from, to }))

const report = ({ asOf, from, to }: World): ReportSpec => ({
  title: 'Spans',
  asOf,
  period: `${from} to ${to}`,
  sources: {
    sales: { file: 'sales', date: 'day' },
    plan: { file: 'plan', date: 'month', grain: 'month', match: 'shop' },
  },
  measures: {
    revenue: 'sum(amount)',
    half: 'prorated(sum(plan.amount))',
    gone: 'elapsed()',
    smooth: 'rolling(revenue, 3 months)',
    weekly: 'rolling(revenue, 2 weeks)',
    monthly: 'perPeriod(revenue, month)',
    year: 'projected(revenue, year)',
    quarter: 'projected(revenue, quarter)',
    same: 'sameKeys(revenue - lag(revenue, 1 year), shop, 1 year)',
    middle: 'sameKeys(median(amount), shop, 1 year)',
    planned: 'sameKeys(sum(plan.amount), shop, 1 year)',
  },
  exhibits: [
    {
      name: 'months',
      table: { rows: 'shop', columns: 'month', show: SHOWN, totals: { rows: 'bottom', columns: 'right' } },
    },
    { name: 'quarters', table: { rows: 'quarter', show: SHOWN, totals: 'bottom' } },
  ],
})
const SHOWN = ['revenue', 'half', 'gone', 'smooth', 'weekly', 'monthly', 'year', 'quarter', 'same', 'middle', 'planned']

// Days as numbers since 1970-01-01; nothing of the library is used.
const DAY = 86_400_000
const number = (text: string): number => Date.parse(`${text}T00:00:00Z`) / DAY
function daysIn(year: number, month: number): number {
  return new Date(Date.UTC(year, month, 0)).getUTCDate()
}
const partsOf = (n: number): { year: number; month: number } => {
  const date = new Date(n * DAY)
  return { year: date.getUTCFullYear(), month: date.getUTCMonth() + 1 }
}
const monthStart = (year: number, month: number): number => Date.UTC(year, month - 1, 1) / DAY
/** First and last day of the month that holds a day. */
const monthOf = (n: number): [number, number] => {
  const { year, month } = partsOf(n)
  return [monthStart(year, month), monthStart(year, month + 1) - 1]
}
type Value = number | null

/** What a measure is in a cell of one shop (or all) whose whole periods are `from` to `to`. */
function worked(
  world: World,
  shop: string | undefined,
  [from, to]: [number, number],
  outer: [number, number],
): Record<string, Value> {
  const asOf = number(world.asOf)
  const own = (row: Row): boolean => shop === undefined || row.shop === shop
  const end = Math.min(to, outer[1], asOf)
  const start = Math.max(from, outer[0])
  const empty = start > end
  const between = (a: number, b: number): Value => {
    const rows = world.sales.filter((row) => own(row) && number(String(row.day)) >= a && number(String(row.day)) <= b)
    const values = rows.flatMap(({ amount }) => (amount === null ? [] : [amount as number]))
    return values.length === 0 ? null : values.reduce((x, y) => x + y, 0)
  }
  const days = world.sales.map((row) => number(String(row.day)))
  const [first] = monthOf(Math.min(...days))
  const [, last] = monthOf(Math.max(...days))
  // Outside the whole months of the data a window is missing.
  const rolled = (a: number): Value => (empty || a < first || end > last ? null : between(a, end))
  const { year, month } = partsOf(end)
  let half: Value = null
  for (const row of world.plan) {
    const [first, last] = monthOf(number(`${row.month}-01`))
    if (!own(row) || empty || first < start || first > end) continue
    const share = last <= asOf ? 1 : (asOf - first + 1) / (last - first + 1)
    half = (half ?? 0) + Number(row.amount) * share
  }
  let months = 0
  for (let n = start; n <= end; n++) {
    const [first, last] = monthOf(n)
    months += 1 / (last - first + 1)
  }
  // So far, by the course of last year, else by days; the last day of a month stays one.
  const projected = (unit: 12 | 3): Value => {
    if (empty) return null
    const around = (n: number): [number, number] => {
      const at = partsOf(n)
      const first = at.month - ((at.month - 1) % unit)
      return [monthStart(at.year, first), monthStart(at.year, first + unit) - 1]
    }
    const [from, to] = around(end)
    if (to <= asOf) return between(from, to)
    const soFar = between(from, end)
    if (soFar === null) return null
    const { year, month } = partsOf(end)
    const day = end - monthStart(year, month) + 1
    const isLast = day === daysIn(year, month)
    const before =
      monthStart(year - 1, month) + (isLast ? daysIn(year - 1, month) : Math.min(day, daysIn(year - 1, month))) - 1
    const [began, over] = around(before)
    const within = began >= first && over <= last
    const [part, all] = within ? [between(began, before), between(began, over)] : [null, null]
    return part !== null && all !== null && part > 0
      ? soFar * (all / part)
      : soFar / ((end - from + 1) / (to - from + 1))
  }
  // Shops with rows in the span and in the one a year before.
  const yearBefore = (n: number, isEnd: boolean): number => {
    const { year, month } = partsOf(n)
    const day = n - monthStart(year, month) + 1
    const most = daysIn(year - 1, month)
    return monthStart(year - 1, month) + (isEnd && day === daysIn(year, month) ? most : Math.min(day, most)) - 1
  }
  const [past, over] = empty ? [0, -1] : [yearBefore(start, false), yearBefore(end, true)]
  const rowsIn = (a: number, b: number): Row[] =>
    world.sales.filter((row) => own(row) && number(String(row.day)) >= a && number(String(row.day)) <= b)
  const shopsIn = (a: number, b: number): Set<unknown> => new Set(rowsIn(a, b).map((row) => row.shop))
  const both =
    past >= first && over <= last ? [...shopsIn(start, end)].filter((name) => shopsIn(past, over).has(name)) : []
  const amounts = (a: number, b: number): number[] =>
    rowsIn(a, b).flatMap(({ shop, amount }) => (amount === null || !both.includes(shop) ? [] : [amount as number]))
  const total = (list: readonly number[]): Value => (list.length === 0 ? null : list.reduce((x, y) => x + y, 0))
  const [now, before] = [amounts(start, end), amounts(past, over)]
  const sorted = [...now].sort((a, b) => a - b)
  const [low, high] = [sorted[(sorted.length - 1) >> 1], sorted[sorted.length >> 1]]
  const plans = empty
    ? []
    : world.plan.flatMap((row) => {
        const [begins] = monthOf(number(`${row.month}-01`))
        return own(row) && both.includes(row.shop) && begins >= start && begins <= end ? [Number(row.amount)] : []
      })
  const revenue = empty ? null : between(start, end)
  const whole = to - from + 1
  return {
    revenue,
    half,
    gone: empty ? 0 : (end - start + 1) / whole,
    smooth: rolled(monthStart(year, month - 2)),
    // ISO weeks begin on Monday; day 4 was one.
    weekly: rolled(end - ((((end - 4) % 7) + 7) % 7) - 7),
    monthly: revenue === null ? null : revenue / months,
    year: projected(12),
    quarter: projected(3),
    same: total(now) === null || total(before) === null ? null : Number(total(now)) - Number(total(before)),
    middle: now.length === 0 ? null : (low + high) / 2,
    planned: total(plans),
  }
}

/** All cells of both exhibits, by exhibit, measure and keys. */
function oracle(world: World): Map<string, Value> {
  const cells = new Map<string, Value>()
  const outer: [number, number] = [number(`${world.from}-01`), monthOf(number(`${world.to}-01`))[1]]
  const put = (exhibit: string, keys: readonly string[], shop: string | undefined, span: [number, number]): void => {
    for (const [measure, value] of Object.entries(worked(world, shop, span, outer)))
      cells.set(JSON.stringify([exhibit, measure, ...keys]), value)
  }
  for (const shop of ['a', 'b', undefined]) {
    const names = shop === undefined ? [] : [shop]
    put('months', names, shop, outer)
    for (let n = outer[0]; n <= outer[1]; n = monthOf(n)[1] + 1) {
      const { year, month } = partsOf(n)
      put('months', [...names, `${year}-${two(month)}`], shop, monthOf(n))
    }
  }
  put('quarters', [], undefined, outer)
  for (let n = outer[0]; n <= outer[1]; n = monthOf(n)[1] + 1) {
    const { year, month } = partsOf(n)
    const first = month - ((month - 1) % 3)
    put('quarters', [`${year}-Q${(first + 2) / 3}`], undefined, [
      monthStart(year, first),
      monthStart(year, first + 3) - 1,
    ])
  }
  return cells
}

interface Data {
  exhibits: {
    name: string
    cells: { measure: string; row: Record<string, string>; column: Record<string, string>; value: Value }[]
  }[]
}

/** Every cell of a report is that of the oracle; returns how many have a value. */
function check(data: Data, wanted: Map<string, Value>): number {
  let valued = 0
  for (const { name, cells } of data.exhibits)
    for (const { measure, row, column, value } of cells) {
      const key = JSON.stringify([name, measure, ...Object.values(row), ...Object.values(column)])
      expect(wanted.has(key), key).toBe(true)
      const expected = wanted.get(key) ?? null
      if (expected === null) expect(value, key).toBeNull()
      else expect(value, key).toBeCloseTo(expected, 6)
      if (value !== null) valued++
    }
  return valued
}

const worlds = useWorlds({ sales: SALES, plan: PLAN }, { sales: 'day', plan: 'month' })

test('laws 32 to 35: prorated, elapsed, rolling and perPeriod are what a count of days gives, in every cell', async () => {
  let valued = 0
  await fc.assert(
    fc.asyncProperty(WORLD, async (world) => {
      const data = worlds.csv({ sales: world.sales, plan: world.plan })
      valued += check(toData(await openReport(report(world), data)) as unknown as Data, oracle(world))
    }) as fc.IAsyncProperty<unknown>,
    { seed: 35, numRuns: effort(300, 60) },
  )
  expect(valued).toBeGreaterThan(500)
})

test('laws 32 to 35: every engine gives the same', async () => {
  for (const world of fc.sample(WORLD, { seed: 37, numRuns: effort(8, 1) })) {
    const { duckdb, postgres, close } = await worlds.open({ sales: world.sales, plan: world.plan })
    for (const data of [duckdb, postgres])
      if (data !== undefined) check(toData(await openReport(report(world), data)) as unknown as Data, oracle(world))
    await close()
  }
})
