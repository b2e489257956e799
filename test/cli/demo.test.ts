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
      if (cell.measure === 'revenue') wanted = v >= 60_000 ? 'ahead' : v >= 48_000 ? 'close' : 'behind'
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

test('setting the target changes exactly the cells between the old limits and the new', async () => {
  const after = await painted('--set', 'target=70000')
  expect(after.parameters).toEqual({ ...demo.parameters, target: 70_000 })
  const behind = exhibitOf(demo, 'shops').cells.filter((c) => c.measure === 'revenue' && c.level.row === 'detail')
  const listed = (page: Painted): (number | null)[] =>
    exhibitOf(page, 'toActOn').cells.flatMap((c) => (c.measure === 'revenue' ? [c.value] : []))
  const values = behind.map((c) => c.value ?? 0).sort((a, b) => a - b)
  expect(listed(demo)).toEqual(values.filter((v) => v < 48_000))
  expect(listed(after)).toEqual(values.filter((v) => v < 56_000))
  for (const [e, exhibit] of demo.exhibits.entries())
    for (const [c, cell] of exhibit.name === 'toActOn' ? [] : exhibit.cells.entries()) {
      const v = cell.value ?? 0
      const shopCell =
        ['shops', 'inWords'].includes(exhibit.name) && cell.measure === 'revenue' && cell.level.row === 'detail'
      const between = shopCell && ((v >= 60_000 && v < 70_000) || (v >= 48_000 && v < 56_000))
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
  const channels = ['status', 'fill', 'ink', 'weight', 'icon', 'bar', 'flag', 'picture', 'hide']
  for (const { name, cells } of demo.exhibits)
    for (const { style: look, paintedBy } of cells) {
      expect(Object.keys(look)).toEqual(channels)
      // The heatmap's numbers are hidden by the exhibit, not by a rule.
      const byRules = channels.filter((c) => look[c] !== null && !(name === 'seasons' && c === 'hide'))
      expect(Object.keys(paintedBy).sort()).toEqual(byRules.sort())
      for (const key of ['fill', 'ink']) if (look[key] !== null) expect(look[key]).toMatch(/^#[0-9a-f]{6}$/)
    }
})

test('the demo writes its files, tells what it found, and gives the same bytes again', async () => {
  const cwd = await folder()
  const first = await acuarela(['demo'], cwd)
  expect([first.code, first.err]).toEqual([0, ''])
  for (const text of ['out/spring.html', 'On target', 'Tansy Green €29,046']) expect(first.out).toContain(text)
  const names = (await readdir(join(cwd, 'out'))).sort()
  expect(names).toEqual(['budget.csv', 'sales.csv', 'spring.acuarela.yaml', 'spring.html', 'spring.json'])
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
