import { toData } from 'acuarela/data'
import { openReport, type ReportSpec, type SourceTable } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { overHttp, type Row, type Types } from '../support/engines.js'
import { useWorlds } from '../support/worlds.js'

const SALES: Types = { day: 'date', shop: 'text', coin: 'text', amount: 'numeric(12,2)' }
const SHOPS: Types = { name: 'text', manager: 'text', town: 'text', target: 'numeric(12,2)' }
const TOWNS: Types = { town: 'text', land: 'text' }
const RATES: Types = { month: 'text', coin: 'text', rate: 'float8' }
const FEES: Types = { since: 'date', shop: 'text', fee: 'float8' }

interface World {
  sales: Row[]
  shops: Row[]
  towns: Row[]
  rates: Row[]
  fees: Row[]
}

const pick = <T>(...values: T[]): fc.Arbitrary<T> => fc.constantFrom(...values)
const NAMES = ['a', "b'b", 'c', 'd', 'e']

const WORLD: fc.Arbitrary<World> = fc.record({
  sales: fc.array(
    fc.record({
      day: fc.tuple(pick('01', '02', '03', '04'), pick('05', '17', '28')).map(([m, d]) => `2025-${m}-${d}`),
      // One that the table lacks, and none at all.
      shop: pick<string | null>('a', "b'b", 'c', 'lost', null),
      coin: pick<string | null>('EUR', 'USD', null),
      amount: fc.option(
        fc.integer({ min: -500, max: 5000 }).map((n) => n / 100),
        { freq: 8 },
      ),
    }),
    { minLength: 1, maxLength: 40 },
  ),
  shops: fc.uniqueArray(
    fc.record({
      name: pick<string | null>(...NAMES, null),
      manager: pick<string | null>('Ana', 'Ben', null),
      town: pick<string | null>('t', 'u', 'v', null),
      target: fc.option(fc.integer({ min: 0, max: 900 }), { freq: 8 }),
    }),
    { selector: (row) => row.name, minLength: 1, maxLength: 6 },
  ),
  towns: fc.constantFrom<Row[]>(
    [
      { town: 't', land: 'Spain' },
      { town: 'u', land: 'Italy' },
    ],
    [{ town: 't', land: null }],
  ),
  rates: fc.uniqueArray(
    fc.record({
      month: pick('2025-01', '2025-02', '2025-03'),
      coin: pick('EUR', 'USD'),
      rate: fc.integer({ min: 1, max: 8 }).map((n) => n / 4),
    }),
    { selector: (row) => `${row.month} ${row.coin}`, minLength: 1, maxLength: 6 },
  ),
  fees: fc.uniqueArray(
    fc.record({
      since: pick('2025-01-05', '2025-02-17', '2025-03-17'),
      shop: pick('a', "b'b"),
      fee: fc.integer({ min: 1, max: 9 }),
    }),
    { selector: (row) => `${row.since} ${row.shop}`, minLength: 1, maxLength: 6 },
  ),
})

const REPORT: ReportSpec = {
  title: 'Looked up',
  asOf: '2025-12-31',
  sources: {
    sales: { file: 'sales', date: 'day' },
    shops: { file: 'shops', lookup: true, match: [{ shop: 'name' }] },
    towns: { file: 'towns', lookup: true, match: 'town' },
    rates: { file: 'rates', date: 'month', lookup: 'exact', match: 'coin' },
    fees: { file: 'fees', date: 'since', lookup: 'latest', match: 'shop' },
  },
  fields: { sales: { euro: 'amount * rates.rate' } },
  measures: {
    revenue: 'sum(amount)',
    euros: 'sum(euro)',
    direct: 'sum(amount * rates.rate)',
    charged: 'sum(fees.fee) where amount > 0',
    paid: "sum(amount + fees.fee) where shops.manager = 'Ana'",
    target: 'sum(shops.target)',
    tables: 'count(shops.target)',
    before: 'lag(target, 1 month)',
    part: 'share(target) within shops.manager',
  },
  statuses: { good: { wash: 'aqua' }, bad: { wash: 'coral' } },
  rules: [{ paint: 'revenue', only: ['plain'], bands: [{ atLeast: 'target', status: 'good' }, { otherwise: 'bad' }] }],
  exhibits: [
    { name: 'plain', table: { rows: 'shop', show: ['revenue', 'euros', 'direct', 'paid'], totals: 'bottom' } },
    { name: 'limit', table: { rows: 'shop', show: ['revenue', 'target', 'tables', 'before'], totals: 'bottom' } },
    {
      name: 'nested',
      table: { rows: ['towns.land', 'shops.manager'], show: ['revenue', 'target', 'part'], totals: 'bottom' },
    },
    {
      name: 'time',
      heatmap: {
        rows: 'shops.manager',
        columns: 'month',
        show: 'target',
        totals: { rows: 'bottom', columns: 'right' },
      },
    },
    {
      name: 'ana',
      where: "shops.manager = 'Ana'",
      table: { rows: 'shop', show: ['revenue', 'target'], totals: 'bottom' },
    },
    { name: 'coins', where: "coin = 'EUR'", table: { rows: 'shop', show: ['revenue', 'target'] } },
  ],
}

type Value = number | null
const sum = (list: readonly (number | null | undefined)[]): Value => {
  const numbers = list.filter((x) => x !== null && x !== undefined)
  return numbers.length === 0 ? null : Math.round(numbers.reduce((a, b) => a + b, 0) * 1e6) / 1e6
}
type Text = string | null
const text = (x: Row[string] | undefined): Text => (x === undefined || x === null ? null : String(x))

/** The cells by the laws, worked out row by row; a cell by exhibit, measure and keys. */
function oracle({ sales, shops, towns, rates, fees }: World): Map<string, Value> {
  const shopOf = (name: Row[string]): Row | undefined =>
    name === null ? undefined : shops.find((shop) => shop.name === name)
  const landOf = (shop: Row | undefined): Text =>
    text(shop === undefined || shop.town === null ? null : towns.find(({ town }) => town === shop.town)?.land)
  const rows = sales.map((sale) => {
    const shop = shopOf(sale.shop)
    const rate = rates.find(({ month, coin }) => coin === sale.coin && month === String(sale.day).slice(0, 7))?.rate
    const fee = fees
      .filter((one) => one.shop === sale.shop && String(one.since) <= String(sale.day))
      .sort((a, b) => String(b.since).localeCompare(String(a.since)))[0]?.fee
    return {
      shop: text(sale.shop),
      coin: text(sale.coin),
      manager: text(shop?.manager),
      land: landOf(shop),
      amount: sale.amount as Value,
      euro: sale.amount === null || rate === undefined ? null : (sale.amount as number) * Number(rate),
      fee: fee === undefined ? null : Number(fee),
    }
  })
  const tables = shops.map((shop) => ({
    shop: text(shop.name),
    manager: text(shop.manager),
    land: landOf(shop),
    target: shop.target as Value,
  }))
  const cells = new Map<string, Value>()
  const put = (exhibit: string, measure: string, keys: readonly Text[], value: Value): void => {
    cells.set(JSON.stringify([exhibit, measure, ...keys]), value)
  }
  const distinct = (list: readonly Text[]): Text[] => [...new Set(list)]
  const revenue = (list: typeof rows): Value => sum(list.map(({ amount }) => amount))
  const targets = (list: typeof tables): Value => sum(list.map(({ target }) => target))
  const count = (list: typeof tables): Value =>
    list.length === 0 ? null : list.filter(({ target }) => target !== null).length
  const paid = (list: typeof rows): Value =>
    sum(
      list.flatMap(({ manager, amount, fee }) =>
        manager === 'Ana' && fee !== null && amount !== null ? [amount + fee] : [],
      ),
    )
  const group = <T extends { shop: Text }>(list: readonly T[], shop: Text): T[] =>
    list.filter((one) => one.shop === shop)
  for (const shop of distinct(rows.map((row) => row.shop))) {
    const own = group(rows, shop)
    put('plain', 'revenue', [shop], revenue(own))
    put('plain', 'euros', [shop], sum(own.map(({ euro }) => euro)))
    put('plain', 'direct', [shop], sum(own.map(({ euro }) => euro)))
    put('plain', 'paid', [shop], paid(own))
  }
  put('plain', 'revenue', [], revenue(rows))
  put('plain', 'euros', [], sum(rows.map(({ euro }) => euro)))
  put('plain', 'direct', [], sum(rows.map(({ euro }) => euro)))
  put('plain', 'paid', [], paid(rows))
  const inTable = (exhibit: string, sold: typeof rows, listed: typeof tables): void => {
    for (const shop of [...distinct([...sold, ...listed].map((row) => row.shop))]) {
      put(exhibit, 'revenue', [shop], revenue(group(sold, shop)))
      put(exhibit, 'target', [shop], targets(group(listed, shop)))
    }
    put(exhibit, 'revenue', [], revenue(sold))
    put(exhibit, 'target', [], targets(listed))
  }
  inTable('limit', rows, tables)
  for (const shop of distinct([...rows, ...tables].map((row) => row.shop))) {
    put('limit', 'tables', [shop], count(group(tables, shop)))
    put('limit', 'before', [shop], targets(group(tables, shop)))
  }
  put('limit', 'tables', [], count(tables))
  put('limit', 'before', [], targets(tables))
  inTable(
    'ana',
    rows.filter(({ manager }) => manager === 'Ana'),
    tables.filter(({ manager }) => manager === 'Ana'),
  )
  for (const land of distinct([...rows, ...tables].map((row) => row.land))) {
    const [sold, listed] = [rows.filter((row) => row.land === land), tables.filter((row) => row.land === land)]
    put('nested', 'revenue', [land], revenue(sold))
    put('nested', 'target', [land], targets(listed))
    for (const manager of distinct([...sold, ...listed].map((row) => row.manager))) {
      const mine = listed.filter((row) => row.manager === manager)
      put('nested', 'revenue', [land, manager], revenue(sold.filter((row) => row.manager === manager)))
      put('nested', 'target', [land, manager], targets(mine))
      const whole = targets(tables.filter((row) => row.manager === manager))
      const own = targets(mine)
      put('nested', 'part', [land, manager], own === null || whole === null || whole === 0 ? null : own / whole)
    }
  }
  put('nested', 'revenue', [], revenue(rows))
  put('nested', 'target', [], targets(tables))
  for (const manager of distinct([...rows, ...tables].map((row) => row.manager)))
    put('time', 'target', [manager], targets(tables.filter((row) => row.manager === manager)))
  put('time', 'target', [], targets(tables))
  // A column of home narrows a lookup table only where each key has one value of it.
  const determined = new Map<Text, Text>()
  let isDetermined = true
  for (const { shop, coin } of rows) {
    if (shop === null) continue
    if (determined.has(shop) && determined.get(shop) !== coin) isDetermined = false
    determined.set(shop, coin)
  }
  const euro = rows.filter(({ coin }) => coin === 'EUR')
  const inEuro = isDetermined ? tables.filter(({ shop }) => determined.get(shop) === 'EUR') : []
  for (const shop of distinct(euro.map((row) => row.shop))) {
    put('coins', 'revenue', [shop], revenue(group(euro, shop)))
    put('coins', 'target', [shop], targets(group(inEuro, shop)))
  }
  return cells
}

interface Data {
  exhibits: {
    name: string
    messages: string[]
    cells: {
      measure: string
      row: Record<string, Text>
      column: Record<string, Text>
      value: Value
      style?: { status: string | null }
    }[]
  }[]
}

const TYPES: Record<keyof World, Types> = { sales: SALES, shops: SHOPS, towns: TOWNS, rates: RATES, fees: FEES }
const DATES: Partial<Record<keyof World, string>> = { sales: 'day', rates: 'month', fees: 'since' }
const worlds = useWorlds(TYPES, DATES)

/** Checks every cell against the oracle, both ways; in time the same in each month. */
function check({ exhibits }: Data, wanted: Map<string, Value>): void {
  const met = new Set<string>()
  for (const { name, cells } of exhibits)
    for (const { measure, row, value } of cells) {
      const key = JSON.stringify([name, measure, ...Object.values(row)])
      // A share has no total of its own here.
      if (measure === 'part' && !wanted.has(key)) continue
      expect(wanted.has(key), `${key} is a cell`).toBe(true)
      met.add(key)
      const expected = wanted.get(key) ?? null
      if (expected === null) expect(value, key).toBeNull()
      else expect(value, key).toBeCloseTo(expected, 6)
    }
  for (const key of wanted.keys()) expect(met.has(key), `${key} is shown`).toBe(true)
}

test('laws 27 to 31: columns, fields and amounts of lookup tables are those of a plain search, row by row', async () => {
  await fc.assert(
    fc.asyncProperty(WORLD, async (world) => {
      check(toData(await openReport(REPORT, worlds.csv(world))) as unknown as Data, oracle(world))
    }) as fc.IAsyncProperty<unknown>,
    { seed: 29, numRuns: effort(300, 60) },
  )
})

test('laws 27 to 31: every engine looks up the same, whichever holds the lookup tables', async () => {
  for (const world of fc.sample(WORLD, { seed: 31, numRuns: effort(8, 1) })) {
    const inMemory = worlds.csv(world)
    const wanted = toData(await openReport(REPORT, inMemory))
    const { duckdb, postgres, close } = await worlds.open(world)
    const mixed = [duckdb, { ...inMemory, sales: duckdb.sales }, { ...duckdb, sales: inMemory.sales }]
    mixed.push({ ...inMemory, sales: await overHttp(duckdb.sales as SourceTable) })
    if (postgres !== undefined) mixed.push(postgres, { ...postgres, shops: inMemory.shops, rates: duckdb.rates })
    for (const data of mixed) expect(rounded(toData(await openReport(REPORT, data)))).toEqual(rounded(wanted))
    check(wanted as unknown as Data, oracle(world))
    await close()
  }
})

/** Numbers up to rounding of a sum in another order. */
function rounded(value: unknown): unknown {
  return JSON.parse(JSON.stringify(value, (_, v: unknown) => (typeof v === 'number' ? Number(v.toPrecision(11)) : v)))
}
