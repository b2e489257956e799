import { readFileSync } from 'node:fs'
import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import Papa from 'papaparse'
import { beforeAll, expect, test } from 'vitest'
import { exhibitOf, nameOf, type Painted, type PaintedCell } from '../support/painted.js'
import { acuarela, folder, ROOT } from '../support/tool.js'

const BREZAL = join(ROOT, 'examples/brezal')
const REPORT = join(BREZAL, 'spring.acuarela.yaml')

interface Order {
  date: string
  region: string
  shop: string
  line: string
  amount: number | null
  cost: number | null
  returned: boolean
}

/** The order lines straight from the file, without the engine. */
const ORDERS: Order[] = Papa.parse<Record<string, string>>(readFileSync(join(BREZAL, 'sales.csv'), 'utf8').trim(), {
  header: true,
}).data.map((r) => ({
  date: r.date,
  region: r.region,
  shop: r.shop,
  line: r.line,
  amount: r.amount === '' ? null : Number(r.amount),
  cost: r.cost === '' ? null : Number(r.cost),
  returned: r.returned === 'yes',
}))

function total(orders: readonly Order[], of: (o: Order) => number | null = (o) => o.amount): number {
  // In whole cents, so that the check has no rounding of its own.
  return orders.reduce((sum, o) => sum + Math.round((of(o) ?? 0) * 100), 0) / 100
}

async function painted(...args: string[]): Promise<Painted> {
  const { code, out, err } = await acuarela(['paint', REPORT, '--to', 'json', ...args])
  expect([code, err]).toEqual([0, ''])
  return JSON.parse(out) as Painted
}

let demo: Painted
beforeAll(async () => {
  demo = await painted()
})

const QUARTER = ORDERS.filter((o) => o.date >= '2025-04-01')
const matches =
  (cell: PaintedCell) =>
  (o: Order): boolean =>
    (cell.row.region === undefined || o.region === cell.row.region) &&
    (cell.row.shop === undefined || o.shop === cell.row.shop)

/** The budget of the quarter; the region of a shop is that of its order lines. */
const REGION = new Map(ORDERS.map((o) => [o.shop, o.region]))
const PLAN = Papa.parse<Record<string, string>>(readFileSync(join(BREZAL, 'budget.csv'), 'utf8').trim(), {
  header: true,
})
  .data.filter((r) => r.month >= '2025-04')
  .map((r) => ({ shop: r.shop, amount: Number(r.amount) }))
const matchesPlan =
  (cell: PaintedCell) =>
  (p: { shop: string }): boolean =>
    (cell.row.region === undefined || REGION.get(p.shop) === cell.row.region) &&
    (cell.row.shop === undefined || p.shop === cell.row.shop)

/** What each shop is to sell in a quarter. */
const TARGETS = new Map(
  Papa.parse<Record<string, string>>(readFileSync(join(BREZAL, 'shops.csv'), 'utf8').trim(), { header: true }).data.map(
    (r) => [r.shop, Number(r.target)],
  ),
)
/** The status of a shop's revenue at a level of its target, in whole cents. */
function statusOf(shop: string, revenue: number, level = 100): string {
  const [cents, target] = [Math.round(revenue * 10_000), (TARGETS.get(shop) ?? Number.NaN) * 100 * level]
  return cents >= target ? 'ahead' : cents * 100 >= target * 80 ? 'close' : 'behind'
}

test('every figure of the shops table, totals and ratios too, is that of the order lines', () => {
  const { cells } = exhibitOf(demo, 'shops')
  // 9 shops, 3 regions and the total, by 4 measures.
  expect(cells).toHaveLength(52)
  for (const cell of cells) {
    const orders = QUARTER.filter(matches(cell))
    const priced = orders.filter((o) => o.cost !== null)
    const plan = PLAN.filter(matchesPlan(cell)).reduce((sum, p) => sum + p.amount, 0)
    const wanted = {
      revenue: total(orders),
      plan,
      gap: total(orders) - plan,
      margin:
        total(
          priced.filter((o) => o.amount !== null),
          (o) => (o.amount ?? 0) - (o.cost ?? 0),
        ) / total(priced),
    }[cell.measure]
    expect(cell.value, nameOf(cell)).toBeCloseTo(wanted ?? Number.NaN, 9)
  }
})

test('statuses and ranks are those that the rules say in words', () => {
  const { cells } = exhibitOf(demo, 'shops')
  const revenue = new Map<string, number>()
  const margin = new Map<string, number>()
  for (const c of cells) {
    if (c.level.row !== 'detail') continue
    if (c.measure === 'revenue') revenue.set(c.row.shop ?? '', c.value ?? 0)
    if (c.measure === 'margin') margin.set(c.row.shop ?? '', c.value ?? 0)
  }
  expect(revenue.size).toBe(9)
  for (const cell of cells) {
    const { shop = '', region } = cell.row
    let wanted: string | null = null
    if (cell.level.row === 'detail') {
      const v = revenue.get(shop ?? '') ?? 0
      const rivals = ORDERS.filter((o) => o.region === region).map((o) => margin.get(o.shop) ?? 0)
      if (cell.measure === 'revenue') wanted = statusOf(shop ?? '', v)
      if (cell.measure === 'margin' && cell.value === Math.max(...rivals)) wanted = 'leading'
      if (cell.measure === 'gap') {
        const plan = PLAN.filter(matchesPlan(cell)).reduce((sum, p) => sum + p.amount, 0)
        if ((cell.value ?? 0) > 0.15 * plan) wanted = 'overPlan'
        if ((cell.value ?? 0) < -0.15 * plan) wanted = 'shortOfPlan'
      }
    }
    expect(cell.style.status, nameOf(cell)).toBe(wanted)
  }
})

test('the heatmap holds every month of every line, and nothing where nothing was sold', () => {
  const { cells } = exhibitOf(demo, 'seasons')
  expect(cells).toHaveLength(8 * 36)
  let empty = 0
  for (const cell of cells) {
    const orders = ORDERS.filter((o) => o.line === cell.row.line && o.date.startsWith(cell.column.month ?? '?'))
    if (orders.length === 0) {
      empty++
      expect([cell.value, cell.text, cell.style.fill]).toEqual([null, '', null])
    } else expect(cell.value).toBeCloseTo(total(orders), 9)
  }
  expect(empty).toBeGreaterThan(5)
  // Each line has its own scale: its best month has the end of the ramp, a month of nearly nothing
  // its beginning.
  const herbs = cells
    .filter((c) => c.row.line === 'Meadow seed' && c.value !== null)
    .sort((a, b) => (b.value ?? 0) - (a.value ?? 0))
  const roses = cells
    .filter((c) => c.row.line === 'Roses' && c.value !== null)
    .sort((a, b) => (b.value ?? 0) - (a.value ?? 0))
  expect(herbs[0].style.fill).toBe(roses[0].style.fill)
})

test('the chart has the last twelve months with their statuses', () => {
  const { cells } = exhibitOf(demo, 'months')
  expect(cells.map((c) => c.row.month)).toEqual([
    '2024-07',
    '2024-08',
    '2024-09',
    '2024-10',
    '2024-11',
    '2024-12',
    '2025-01',
    '2025-02',
    '2025-03',
    '2025-04',
    '2025-05',
    '2025-06',
  ])
  for (const cell of cells) {
    const v = total(ORDERS.filter((o) => o.date.startsWith(cell.row.month ?? '?')))
    expect(cell.value).toBeCloseTo(v, 9)
    expect(cell.style.status).toBe(v >= 140_000 ? 'ahead' : v >= 112_000 ? 'close' : 'behind')
  }
})

test('setting the level of the targets changes exactly the cells between the old limits and the new', async () => {
  const after = await painted('--set', 'targetLevel=125%')
  expect(after.parameters).toEqual({ ...demo.parameters, targetLevel: 1.25 })
  const shops = exhibitOf(demo, 'shops').cells.filter((c) => c.measure === 'revenue' && c.level.row === 'detail')
  const listed = (page: Painted): (number | null)[] =>
    exhibitOf(page, 'toActOn').cells.flatMap((c) => (c.measure === 'revenue' ? [c.value] : []))
  const behind = (level: number): number[] =>
    shops
      .filter((c) => statusOf(c.row.shop ?? '', c.value ?? 0, level) === 'behind')
      .map((c) => c.value ?? 0)
      .sort((a, b) => a - b)
  expect(listed(demo)).toEqual(behind(100))
  expect(listed(after)).toEqual(behind(125))
  expect(behind(125).length).toBeGreaterThan(behind(100).length)
  for (const [e, exhibit] of demo.exhibits.entries())
    for (const [c, cell] of exhibit.name === 'toActOn' ? [] : exhibit.cells.entries()) {
      const [shop, v] = [cell.row.shop ?? '', cell.value ?? 0]
      const shopCell =
        ['shops', 'inWords'].includes(exhibit.name) && cell.measure === 'revenue' && cell.level.row === 'detail'
      const between = shopCell && statusOf(shop, v) !== statusOf(shop, v, 125)
      const other = after.exhibits[e].cells[c]
      expect([other.value, other.text]).toEqual([cell.value, cell.text])
      expect(JSON.stringify(other.style) !== JSON.stringify(cell.style), nameOf(cell)).toBe(between)
    }
})

test('--where, --period and --as-of narrow every exhibit alike', async () => {
  const coast = await painted('--where', "region = 'Coast'", '--as-of', '2024-12-31', '--period', '2024')
  expect([coast.asOf, coast.where]).toEqual(['2024-12-31', "region = 'Coast'"])
  const cells = exhibitOf(coast, 'shops').cells
  const year = ORDERS.filter((o) => o.region === 'Coast' && o.date.startsWith('2024'))
  expect(cells.find((c) => c.level.row === 'total' && c.measure === 'revenue')?.value).toBeCloseTo(total(year), 9)
  expect(new Set(cells.map((c) => c.row.shop).filter(Boolean))).toEqual(new Set(['Larkmoor', 'Quay Lane', 'Saltmarsh']))
  expect(exhibitOf(coast, 'seasons').cells.at(-1)?.column.month).toBe('2024-12')
})

test('every cell lists every channel, and each channel set names its rule', () => {
  const channels = ['status', 'fill', 'ink', 'weight', 'icon', 'iconAfter', 'bar', 'flag', 'picture', 'hide']
  for (const { name, cells } of demo.exhibits)
    for (const { style: look, paintedBy } of cells) {
      expect(Object.keys(look)).toEqual(channels)
      // The heatmap's numbers are hidden by the exhibit, not by a rule.
      const byRules = channels.filter((c) => look[c] !== null && !(name === 'seasons' && c === 'hide'))
      expect(Object.keys(paintedBy).sort()).toEqual(byRules.sort())
      for (const key of ['fill', 'ink']) if (look[key] !== null) expect(look[key]).toMatch(/^#[0-9a-f]{6}$/)
    }
})

/** Rows of a file of the world, as texts. */
const rowsOf = (name: string): Record<string, string>[] =>
  Papa.parse<Record<string, string>>(readFileSync(join(BREZAL, name), 'utf8').trim(), { header: true }).data

test('orders at the border are worth what their currency was in their month', async () => {
  const { code, out, err } = await acuarela(['paint', 'border.acuarela.yaml', '--to', 'json'], BREZAL)
  expect([code, err]).toEqual([0, ''])
  const page = JSON.parse(out) as Painted
  const rates = new Map(rowsOf('rates.csv').map((r) => [`${r.month} ${r.currency}`, Number(r.rate)]))
  const orders = rowsOf('border.csv').filter(({ date }) => date >= '2024-07')
  const worth = (r: Record<string, string>): number =>
    Number(r.amount) * (rates.get(`${r.date.slice(0, 7)} ${r.currency}`) ?? Number.NaN)
  const sum = (list: readonly Record<string, string>[]): number => list.reduce((all, r) => all + worth(r), 0)
  const shown = exhibitOf(page, 'plants').cells.filter((c) => c.measure === 'revenue' && c.level.row === 'detail')
  for (const cell of shown)
    expect(cell.value, nameOf(cell)).toBeCloseTo(sum(orders.filter((r) => r.plant === cell.row.plant)), 6)
  // The plants that are shown make 80 % of the sales, and without the last of them less.
  const values = shown.map(({ value }) => value ?? 0).sort((a, b) => b - a)
  const all = sum(orders)
  expect(values.reduce((a, b) => a + b, 0)).toBeGreaterThanOrEqual(0.8 * all)
  expect(values.slice(0, -1).reduce((a, b) => a + b, 0)).toBeLessThan(0.8 * all)
  const largest = exhibitOf(page, 'orders').cells.filter((c) => c.measure === 'euro')
  for (const line of new Set(orders.map((r) => r.line))) {
    const best = orders.filter((r) => r.line === line).sort((a, b) => worth(b) - worth(a))
    for (const order of best.slice(0, 2))
      expect(largest.some(({ value }) => Math.abs((value ?? 0) - worth(order)) < 1e-6)).toBe(true)
  }
  expect(largest).toHaveLength(16)
})

test('in the middle of June shops are judged by the days that are over, and what moved in a month is listed', async () => {
  const course = (shop: string, day: string, share: number): string => {
    const revenue = total(QUARTER.filter((o) => o.shop === shop && o.date <= day))
    const expected = (TARGETS.get(shop) ?? Number.NaN) * share
    return revenue >= expected ? 'ahead' : revenue >= 0.85 * expected ? 'close' : 'behind'
  }
  const shops = [...new Set(QUARTER.map((o) => o.shop))]
  // 78 and 47 of the 91 days of the quarter.
  const moves = shops.flatMap((shop) => {
    const [from, to] = [course(shop, '2025-05-17', 47 / 91), course(shop, '2025-06-17', 78 / 91)]
    return from === to ? [] : [[shop, from, to]]
  })
  expect(moves.length).toBeGreaterThan(2)
  const { code, out } = await acuarela(
    ['tally', 'june.acuarela.yaml', '--since', '1 month', '--json', '--expect', 'shops.fell <= 2'],
    BREZAL,
  )
  expect(code).toBe(0)
  const { moved } = JSON.parse(out) as {
    moved: { exhibit: string; row: { shop: string }; from: { status: string }; to: { status: string } }[]
  }
  const told = moved
    .filter(({ exhibit }) => exhibit === 'shops')
    .map(({ row, from, to }) => [row.shop, from.status, to.status])
  expect(told.sort()).toEqual(moves.sort())
  const page = JSON.parse((await acuarela(['paint', 'june.acuarela.yaml', '--to', 'json'], BREZAL)).out) as Painted
  const months = exhibitOf(page, 'months').cells.filter((c) => c.measure === 'revenue' && c.level.row === 'detail')
  expect(months.map(({ row, style }) => [row.month, style.status !== null])).toEqual([
    ['2025-01', true],
    ['2025-02', true],
    ['2025-03', true],
    ['2025-04', true],
    ['2025-05', true],
    ['2025-06', false],
  ])
})

test('the demo writes its files, tells what it found, and gives the same bytes again', async () => {
  const cwd = await folder()
  const first = await acuarela(['demo'], cwd)
  expect([first.code, first.err]).toEqual([0, ''])
  for (const text of ['out/spring.html', 'On target', 'Tansy Green €29,046']) expect(first.out).toContain(text)
  const names = (await readdir(join(cwd, 'out'))).sort()
  const data = ['budget.csv', 'sales.csv', 'shops.csv']
  expect(names).toEqual([...data, 'spring.acuarela.yaml', 'spring.html', 'spring.json', 'spring.ods'])
  const second = await acuarela(['demo', '--out', 'again'], cwd)
  expect(second.code).toBe(0)
  for (const name of names) expect(await same(join(cwd, 'again', name), join(cwd, 'out', name)), name).toBe(true)
  // The committed files equal those of the generator.
  for (const name of ['sales.csv', 'budget.csv'])
    expect(await same(join(BREZAL, name), join(cwd, 'out', name)), name).toBe(true)
})

/** Byte by byte; matchers walk megabytes like lists, which takes half a minute. */
async function same(one: string, other: string): Promise<boolean> {
  return (await readFile(one)).equals(await readFile(other))
}

test('the data hold what real sales hold', () => {
  const text = readFileSync(join(BREZAL, 'sales.csv'), 'utf8')
  expect(text.length + readFileSync(join(BREZAL, 'budget.csv')).length).toBeLessThan(3_500_000)
  expect(ORDERS.length).toBeGreaterThan(27_000)
  expect(ORDERS.length).toBeLessThan(29_000)
  expect(ORDERS.at(-1)?.date).toBe('2025-06-30')
  for (const sign of ['""', '<', 'é', ', ']) expect(text).toContain(sign)
  expect(ORDERS.some((o) => o.returned && (o.amount ?? 0) < 0)).toBe(true)
  expect(ORDERS.some((o) => o.amount === null)).toBe(true)
  const sizes = ORDERS.map((o) => o.amount ?? 0).sort((a, b) => b - a)
  expect(sizes[0]).toBeGreaterThan(10 * sizes[1])
  const first = ORDERS.find((o) => o.shop === 'Heatherby')
  expect(first?.date.slice(0, 7)).toBe('2023-10')
  const year = (shop: string, y: string): number =>
    total(ORDERS.filter((o) => o.shop === shop && o.date >= `${y}-07` && o.date < `${Number(y) + 1}-07`))
  expect(year('Tansy Green', '2024')).toBeLessThan(0.75 * year('Tansy Green', '2022'))
  expect(year('Quay Lane', '2024')).toBeGreaterThan(1.5 * year('Quay Lane', '2022'))
})

test('the second example: every shop, region and the total beside the same days of last year', async () => {
  const args = ['paint', join(BREZAL, 'last-year.acuarela.yaml'), '--to', 'json', '--as-of', '2025-05-15']
  const { code, out, err } = await acuarela(args)
  expect([code, err]).toEqual([0, ''])
  const { cells, messages: notes } = exhibitOf(JSON.parse(out) as Painted, 'shops')
  expect(notes).toEqual([])
  const between = (cell: PaintedCell, from: string, to: string): number =>
    total(ORDERS.filter((o) => o.date >= from && o.date <= to).filter(matches(cell)))
  for (const cell of cells) {
    const now = between(cell, '2025-01-01', '2025-05-15')
    const then = between(cell, '2024-01-01', '2024-05-15')
    const wanted = { revenue: now, lastYear: then, growth: (now - then) / then }[cell.measure] ?? Number.NaN
    expect(cell.value, nameOf(cell)).toBeCloseTo(wanted, 9)
    if (cell.measure === 'growth' && cell.level.row === 'detail')
      expect(cell.style.status).toBe(wanted > 0.05 ? 'up' : wanted < -0.05 ? 'down' : null)
  }
  expect(cells).toHaveLength(39)
})
