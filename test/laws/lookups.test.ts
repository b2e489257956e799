import { toData } from 'acuarela/data'
import { checkReportData, openReport, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'

const SALES = 'day,shop,amount\n2025-01-03,Dune,10\n2025-02-03,Larkmor,20\n'
const SHOPS = 'shop,manager,town\nDune,Ana,Leon\nLarkmoor,Ben,Leon\n'
const spec = (sources: object, more: object = {}): ReportSpec =>
  ({
    title: 'T',
    sources: { sales: { file: 'sales.csv', date: 'day' }, ...sources },
    measures: { revenue: 'sum(amount)' },
    exhibits: [{ name: 't', table: { rows: 'shop', show: 'revenue' } }],
    ...more,
  }) as unknown as ReportSpec
const shops = (more: object = {}): object => ({ shops: { file: 'shops.csv', lookup: true, match: 'shop', ...more } })

async function problems(report: ReportSpec, data: Record<string, string> = {}): Promise<string[]> {
  const found = await checkReportData(report, { sales: SALES, shops: SHOPS, ...data })
  return found.map(({ place, message }) => `${(place.path ?? []).join('.')}: ${message}`)
}

test('law 27: a declaration that cannot hold is a problem with its fix, each at its place', async () => {
  expect(await problems(spec(shops()))).toEqual([])
  const home = { ...spec({}), sources: { sales: { file: 'sales.csv', date: 'day', lookup: 'latest', match: 'shop' } } }
  const cases: [ReportSpec, Record<string, string>, string][] = [
    [home as ReportSpec, {}, 'sources.sales.lookup: sales is the first source'],
    [spec(shops({ lookup: 'exact' })), {}, 'sources.shops.lookup: lookup: exact finds rows by their date'],
    [
      spec(shops({ date: 'since' })),
      { shops: 'shop,since\nDune,2025-01-01\n' },
      'sources.shops.lookup: this lookup table has a date (since)',
    ],
    [spec(shops({ match: [] })), {}, 'sources.shops: shops needs match'],
    [spec(shops({ match: 'shp' })), {}, 'sources.shops.match: there is no column shops.shp; did you mean shop?'],
    [
      spec(shops({ match: [{ shp: 'shop' }] })),
      {},
      'sources.shops.match: there is no column sales.shp; did you mean shop?',
    ],
    [
      spec(shops({ lookup: false, match: [{ shop: 'manager' }] })),
      {},
      'sources.shops.match: shop and manager are two names of one key',
    ],
    [
      spec({
        ...shops({ match: [{ 'towns.shop': 'shop' }] }),
        towns: { file: 'towns.csv', lookup: true, match: [{ 'shops.town': 'town' }] },
      }),
      { towns: 'town,shop\nLeon,Dune\n' },
      'sources.shops.match: shops and towns are looked up by each other',
    ],
  ]
  for (const [report, data, wanted] of cases) expect((await problems(report, data)).join('\n')).toContain(wanted)
})

test('law 27: keys that stand twice are told with their rows; in a dated table only within a period', async () => {
  const twice = await problems(spec(shops()), { shops: `${SHOPS}Dune,Cy,Leon\nDune,Di,Leon\n` })
  expect(twice.join()).toContain("'Dune' stands in the rows 1, 3, 4 of shops")
  const rates = { rates: { file: 'rates.csv', date: 'month', lookup: 'exact', match: [] } }
  expect(await problems(spec(rates), { rates: 'month,rate\n2025-01,1\n2025-02,2\n' })).toEqual([])
  const months = await problems(spec(rates), { rates: 'month,rate\n2025-01,1\n2025-01,2\n' })
  expect(months.join()).toContain('each period once, and one stands in the rows 1, 2 of rates')
})

test('law 28: a key that the table lacks is a missing group, counted and told with the nearest key', async () => {
  const report = spec(shops({ labels: { manager: 'Account' } }), {
    exhibits: [{ name: 't', table: { rows: 'shops.manager', show: 'revenue' } }],
  })
  const data = toData(await openReport(report, { sales: SALES, shops: SHOPS })) as unknown as {
    exhibits: { cells: { row: object; value: number }[]; messages: string[] }[]
  }
  const [{ cells, messages }] = data.exhibits
  expect(cells.map(({ row, value }) => [row, value])).toEqual([
    [{ 'shops.manager': 'Ana' }, 10],
    [{ 'shops.manager': null }, 20],
  ])
  expect(messages).toEqual([
    'shops lacks 1 value of shop that sales has, so its columns are missing there: Larkmor (Larkmoor?)',
  ])
  // A key that is there, and lacks a month, is not taken for another.
  const rates = { rates: { file: 'rates.csv', date: 'month', lookup: 'exact', match: 'shop' } }
  const dated = spec(rates, { measures: { revenue: 'sum(amount * rates.rate)' } })
  const page = await openReport(dated, { sales: SALES, rates: 'month,shop,rate\n2025-02,Dune,1\n2025-02,Larkmor,2\n' })
  expect(page.exhibits[0].messages.join()).toContain('columns are missing there: Dune in Jan 2025')
  // Whether a measure reads it, or a field does, by itself or through another field.
  const fields = { sales: { euro: 'amount * rates.rate', twice: 'euro * 2' } }
  const ofField = spec(rates, { fields, measures: { revenue: 'sum(twice)', plain: 'sum(amount)' } })
  const filed = await openReport(
    {
      ...ofField,
      exhibits: [{ table: { rows: 'shop', show: 'revenue' } }, { table: { rows: 'shop', show: 'plain' } }],
    },
    { sales: SALES, rates: 'month,shop,rate\n2025-02,Dune,1\n2025-02,Larkmor,2\n' },
  )
  expect(filed.exhibits[0].messages.join()).toContain('columns are missing there: Dune in Jan 2025')
  expect(filed.exhibits[1].messages).toEqual([])
})

test('law 29: an aggregate that needs two tables which no row knows together is refused', async () => {
  const towns = { towns: { file: 'towns.csv', lookup: true, match: [{ day: 'town' }] } }
  const mixed = spec(
    { ...shops(), ...towns },
    { measures: { revenue: 'sum(amount)', odd: "count(shops.manager) where towns.land = 'x'" } },
  )
  expect((await problems(mixed, { towns: 'town,land\nDune,x\n' })).join()).toContain('reads the rows of one source')
})

const NAMES = ['Dune', 'Fell', 'Moss']
const iso = (day: number): string => new Date(Date.UTC(2024, 0, 1 + day)).toISOString().slice(0, 10)
/** 2024 and 2025, month by month. */
const MONTHS = Array.from(
  { length: 24 },
  (_, m) => `${2024 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`,
)

test('law 31: amounts that are for each month give what a table with a row for each month gives', async () => {
  const measures = {
    revenue: 'sum(amount)',
    target: 'sum(aims.target)',
    mean: 'mean(aims.target)',
    most: 'highest(aims.target)',
    count: 'count(aims.target)',
    kinds: 'countDistinct(aims.target)',
    so: 'sofar(target, year)',
    before: 'lag(target, 2 months)',
    three: 'rolling(target, 2 months)',
    part: 'prorated(target)',
    each: 'perPeriod(target, month)',
    ratio: 'revenue / target',
    share: 'share(target) within month',
  }
  const show = Object.keys(measures)
  const tables = [
    { rows: 'shop' },
    { rows: 'month' },
    { rows: ['quarter', 'shop'] },
    { rows: 'shop', columns: 'month' },
    { rows: ['year', 'monthOfYear'] },
    { rows: 'monthOfYear' },
    { rows: 'week' },
  ].map((table, i) => ({ name: `t${i}`, table: { ...table, show, totals: 'bottom' } }))
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(fc.integer({ min: 60, max: 690 }), fc.constantFrom(...NAMES), fc.integer({ min: 1, max: 9 })), {
        minLength: 3,
        maxLength: 25,
      }),
      fc.array(fc.integer({ min: 1, max: 99 }), { minLength: 3, maxLength: 3 }),
      fc.constantFrom('2025-06-17', '2025-06-30', '2025-01-01'),
      fc.constantFrom('2025', 'this quarter', 'last 5 months', '2024-11 to 2025-03'),
      async (rows, targets, asOf, period) => {
        // Rows in the first and the last month, so that windows are inside the data of both.
        const all = [[0, 'Dune', 1], [0, 'Fell', 1], [0, 'Moss', 1], ...rows, [720, 'Dune', 2]] as const
        const sales = `day,shop,amount\n${all.map(([day, shop, amount]) => `${iso(day)},${shop},${amount}\n`).join('')}`
        const once = `shop,target\n${NAMES.map((name, i) => `${name},${targets[i]}\n`).join('')}`
        const monthly = `month,shop,target\n${MONTHS.flatMap((month) => NAMES.map((name, i) => `${month},${name},${targets[i]}\n`)).join('')}`
        const cells = async (aims: object, text: string) => {
          const report = spec({ aims: { file: 'aims.csv', ...aims } }, { asOf, period, measures, exhibits: tables })
          const page = toData(await openReport(report, { sales, aims: text })) as unknown as {
            exhibits: { name: string; cells: { row: object; column: object; measure: string; value: number }[] }[]
          }
          return page.exhibits.flatMap(({ name, cells }) =>
            cells.map(({ row, column, measure, value }) => [name, { ...row, ...column }, measure, value]),
          )
        }
        const per = await cells({ lookup: true, match: 'shop', per: 'month' }, once)
        const dated = await cells({ date: 'month', match: 'shop' }, monthly)
        // A table by month has rows of its own in every month, and shows them.
        const known = new Map(
          dated.map(([name, keys, measure, value]) => [JSON.stringify([name, keys, measure]), value]),
        )
        expect(per.length).toBeGreaterThan(0)
        for (const [name, keys, measure, value] of per)
          expect([name, keys, measure, value]).toEqual([
            name,
            keys,
            measure,
            known.get(JSON.stringify([name, keys, measure])),
          ])
      },
    ),
    { numRuns: effort(60, 12), seed: 310 },
  )
})

test('law 31: per is for lookup tables without a date; what holds in every period is not prorated', async () => {
  expect((await problems(spec({ shops: { file: 'shops.csv', match: 'shop', per: 'month' } }))).join()).toContain(
    'sources.shops.per: per says that the amounts of a lookup table',
  )
  const undated = {
    ...spec(shops({ per: 'month' })),
    sources: { sales: { file: 'sales.csv' }, ...shops({ per: 'month' }) },
  }
  expect((await problems(undated as ReportSpec)).join()).toContain('sources.shops.per: per needs dates')
  const measures = { revenue: 'sum(amount)', aim: 'sum(shops.target)', part: 'prorated(aim)' }
  const aims = { shops: 'shop,target\nDune,1\nLarkmor,2\n' }
  expect((await problems(spec(shops(), { measures }), aims)).join()).toContain('as in per: month on the source')
  expect(await problems(spec(shops({ per: 'month' }), { measures }), aims)).toEqual([])
})
