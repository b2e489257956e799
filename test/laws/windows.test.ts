import { type Cell, checkReportData, openReport, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'

interface Sale {
  day: string
  shop: string
  x: number
}

const csvOf = (sales: readonly Sale[]): string =>
  `date,shop,x\n${sales.map((s) => `${s.day},${s.shop},${s.x}`).join('\n')}\n`

function reportOf(measures: Record<string, unknown>, table: object, more: object = {}): ReportSpec {
  return {
    title: 'T',
    sources: { s: { file: 's.csv', date: 'date' } },
    measures,
    exhibits: [{ name: 't', table: { show: Object.keys(measures), ...table } }],
    ...more,
  } as unknown as ReportSpec
}

async function cells(report: ReportSpec, csv: string): Promise<{ cells: Cell[]; messages: readonly string[] }> {
  const [exhibit] = (await openReport(report, { s: csv })).exhibits
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  return { cells: exhibit.rows.flatMap((r) => r.cells.filter((c) => c !== null)), messages: exhibit.messages }
}

/** `shop column measure value` of each cell, missing as `–`. */
async function printed(report: ReportSpec, csv: string): Promise<string[]> {
  const name = (c: Cell): string => [...c.row, ...c.column].map((k) => k.value).join(' ') || 'Total'
  return (await cells(report, csv)).cells.map((c) => `${name(c)} ${c.measure} ${c.value ?? '–'}`)
}

const SALES: Sale[] = [
  { day: '2024-11-05', shop: 'a', x: 1 },
  { day: '2025-01-10', shop: 'a', x: 2 },
  { day: '2025-02-10', shop: 'b', x: 4 },
  { day: '2025-03-10', shop: 'a', x: 8 },
  { day: '2025-03-20', shop: 'b', x: 16 },
]

test('law 7: so far runs from the start of the year to the last day, in cells without rows and in totals too', async () => {
  const report = reportOf(
    { now: 'sum(x)', soFar: 'sofar(now, year)', ever: 'sofar(now, all)' },
    { rows: 'shop', columns: 'month', totals: { rows: 'bottom', columns: 'right' } },
    { period: '2025-02 to 2025-04' },
  )
  expect(await printed(report, csvOf(SALES))).toEqual([
    ...['a 2025-02 now –', 'a 2025-02 soFar 2', 'a 2025-02 ever 3'],
    ...['a 2025-03 now 8', 'a 2025-03 soFar 10', 'a 2025-03 ever 11'],
    // After the report's date nothing is known yet.
    ...['a 2025-04 now –', 'a 2025-04 soFar –', 'a 2025-04 ever –'],
    ...['a now 8', 'a soFar 10', 'a ever 11'],
    ...['b 2025-02 now 4', 'b 2025-02 soFar 4', 'b 2025-02 ever 4'],
    ...['b 2025-03 now 16', 'b 2025-03 soFar 20', 'b 2025-03 ever 20'],
    ...['b 2025-04 now –', 'b 2025-04 soFar –', 'b 2025-04 ever –'],
    ...['b now 20', 'b soFar 20', 'b ever 20'],
    ...['2025-02 now 4', '2025-02 soFar 6', '2025-02 ever 7'],
    ...['2025-03 now 24', '2025-03 soFar 30', '2025-03 ever 31'],
    ...['2025-04 now –', '2025-04 soFar –', '2025-04 ever –'],
    ...['Total now 28', 'Total soFar 30', 'Total ever 31'],
  ])
})

test('law 7, against a plain calculation: any split, what does not merge, and last year so far', async () => {
  const sale = fc.record({
    day: fc
      .integer({ min: Date.UTC(2023, 0, 1) / 864e5, max: Date.UTC(2025, 5, 30) / 864e5 })
      .map((d) => new Date(d * 864e5).toISOString().slice(0, 10)),
    shop: fc.constantFrom('a', 'b', 'c'),
    x: fc.integer({ min: -20, max: 50 }),
  })
  const columns = fc.constantFrom('month', 'quarter', 'week', 'year', 'monthOfYear')
  let compared = 0
  await fc.assert(
    fc.asyncProperty(fc.array(sale, { minLength: 5, maxLength: 60 }), columns, async (sales, column) => {
      const all: Sale[] = [...sales, { day: '2023-01-01', shop: 'a', x: 0 }, { day: '2025-06-30', shop: 'a', x: 0 }]
      const report = reportOf(
        {
          soFar: 'sofar(sum(x), year)',
          middle: 'sofar(median(x), year)',
          lastYear: 'lag(sofar(sum(x), year), 1 year)',
        },
        // A month of the year needs its year to be a time.
        { rows: column === 'monthOfYear' ? ['shop', 'year'] : 'shop', columns: column, totals: 'bottom' },
        { period: '2024 to 2025' },
      )
      for (const cell of (await cells(report, csvOf(all))).cells) {
        const keys = new Map([...cell.row, ...cell.column].map((k) => [k.name, k.value]))
        const span = spanOf(keys)
        if (span === undefined) continue
        const shop = keys.get('shop')
        const between = (from: number, to: number): number[] =>
          all
            .filter((s) => (shop === undefined || s.shop === shop) && day(s.day) >= from && day(s.day) <= to)
            .map((s) => s.x)
        const last = new Date(span.to * 864e5)
        const start = Date.UTC(last.getUTCFullYear(), 0, 1) / 864e5
        // Split by week, the past is the same weekday of the week of the same number.
        const then = column === 'week' ? aYearBackByWeek(span.to) : aYearBack(span.to)
        const back = Date.UTC(new Date(then * 864e5).getUTCFullYear(), 0, 1) / 864e5
        const xs = cell.measure === 'lastYear' ? between(back, then) : between(start, span.to)
        const expected = xs.length === 0 ? null : cell.measure === 'middle' ? middle(xs) : xs.reduce((a, b) => a + b, 0)
        expect([cell.measure, ...keys, cell.value]).toEqual([cell.measure, ...keys, expected])
        compared++
      }
    }),
    { seed: 20_250_630, numRuns: 40 },
  )
  expect(compared).toBeGreaterThan(2000)
})

test('law 6: so far last year is missing where it lies before the data, and is reported', async () => {
  const report = reportOf(
    { back: 'lag(sofar(sum(x), year), 1 year)' },
    { rows: 'month' },
    { period: '2024-12 to 2025-02' },
  )
  const { cells: own, messages: notes } = await cells(report, csvOf(SALES))
  // The data begin in November 2024: the year before is unknown, and January 2024 is not in them
  // either.
  expect(own.map((c) => c.value)).toEqual([null, null, null])
  expect(notes.join()).toContain('wholly before the data')
})

const day = (text: string): number => Date.parse(text) / 864e5
const LAST = day('2025-06-30')

function middle(xs: readonly number[]): number {
  const sorted = [...xs].sort((a, b) => a - b)
  return (sorted[Math.floor((sorted.length - 1) / 2)] + sorted[Math.ceil((sorted.length - 1) / 2)]) / 2
}

/** The first day of an ISO week: 4 January always lies in the first. */
function mondayOf(year: number, week: number): number {
  const fourth = Date.UTC(year, 0, 4) / 864e5
  return fourth - ((new Date(fourth * 864e5).getUTCDay() + 6) % 7) + (week - 1) * 7
}

/**
 * The same weekday of the week of the same number a year earlier; a week 53 that the year before
 * lacks becomes week 52.
 */
function aYearBackByWeek(on: number): number {
  const weekday = (new Date(on * 864e5).getUTCDay() + 6) % 7
  // The year of a week is that of its Thursday.
  const year = new Date((on - weekday + 3) * 864e5).getUTCFullYear()
  const week = (on - weekday - mondayOf(year, 1)) / 7 + 1
  const weeks = (mondayOf(year, 1) - mondayOf(year - 1, 1)) / 7
  return mondayOf(year - 1, Math.min(week, weeks)) + weekday
}

/** The same day a year earlier; the end of a month stays the end of a month. */
function aYearBack(on: number): number {
  const date = new Date(on * 864e5)
  const [y, m, d] = [date.getUTCFullYear(), date.getUTCMonth(), date.getUTCDate()]
  const end = (year: number): number => new Date(Date.UTC(year, m + 1, 0)).getUTCDate()
  return Date.UTC(y - 1, m, d === end(y) ? end(y - 1) : Math.min(d, end(y - 1))) / 864e5
}

/** The span of a cell between 2024 and June 2025; undefined after that. */
function spanOf(keys: ReadonlyMap<string, string | null>): { from: number; to: number } | undefined {
  let from = day('2024-01-01')
  let to = LAST
  const cut = (a: number, b: number): void => {
    from = Math.max(from, a)
    to = Math.min(to, b)
  }
  const year = keys.get('year')
  if (year !== undefined && year !== null) cut(day(`${year}-01-01`), day(`${year}-12-31`))
  const month =
    keys.get('month')?.split('-') ??
    (year && keys.get('monthOfYear') ? [year, keys.get('monthOfYear') ?? ''] : undefined)
  if (month !== undefined)
    cut(
      Date.UTC(Number(month[0]), Number(month[1]) - 1, 1) / 864e5,
      Date.UTC(Number(month[0]), Number(month[1]), 0) / 864e5,
    )
  // A condition by itself is tested elsewhere.
  else if (keys.has('monthOfYear')) return undefined
  const quarter = keys.get('quarter')?.split('-Q')
  if (quarter !== undefined)
    cut(
      Date.UTC(Number(quarter[0]), Number(quarter[1]) * 3 - 3, 1) / 864e5,
      Date.UTC(Number(quarter[0]), Number(quarter[1]) * 3, 0) / 864e5,
    )
  const week = keys.get('week')?.split('-W')
  if (week !== undefined) {
    const fourth = Date.UTC(Number(week[0]), 0, 4) / 864e5
    const monday = fourth - ((fourth + 3) % 7) + (Number(week[1]) - 1) * 7
    cut(monday, monday + 6)
  }
  return from > to ? undefined : { from, to }
}

test('the opening is the level at the start of the year: the last day with rows by then, else the first after', async () => {
  const prices: Sale[] = [
    { day: '2024-03-01', shop: 'a', x: 10 },
    { day: '2024-11-05', shop: 'a', x: 12 },
    { day: '2025-02-10', shop: 'a', x: 15 },
    { day: '2025-02-10', shop: 'b', x: 30 },
    { day: '2025-03-01', shop: 'b', x: 33 },
  ]
  const report = reportOf(
    { price: 'last(x)', start: 'opening(price, year)', move: 'percentChange(price, start)' },
    { rows: 'shop', columns: 'month' },
    { period: '2025-02 to 2025-03' },
  )
  expect(await printed(report, csvOf(prices))).toEqual([
    ...['a 2025-02 price 15', 'a 2025-02 start 12', 'a 2025-02 move 0.25'],
    // Without sales in March there is no price of March; the level at its start is known all the
    // same.
    ...['a 2025-03 price –', 'a 2025-03 start 12', 'a 2025-03 move –'],
    ...['b 2025-02 price 30', 'b 2025-02 start 30', 'b 2025-02 move 0'],
    ...['b 2025-03 price 33', 'b 2025-03 start 30', 'b 2025-03 move 0.1'],
  ])
})

test('law 25: first and last go by the date; on one date the lowest is first and the highest last', async () => {
  const sales: Sale[] = [
    { day: '2025-01-02', shop: 'a', x: 7 },
    { day: '2025-01-02', shop: 'a', x: 5 },
    { day: '2025-03-02', shop: 'a', x: 4 },
    { day: '2025-03-02', shop: 'a', x: 9 },
    { day: '2025-02-01', shop: 'b', x: 1 },
  ]
  const report = reportOf(
    { one: 'first(x)', end: 'last(x)', late: 'last(x) where x < 6' },
    { rows: 'shop', totals: 'bottom' },
  )
  expect(await printed(report, csvOf(sales))).toEqual([
    ...[
      'a one 5',
      'a end 9',
      'a late 4',
      'b one 1',
      'b end 1',
      'b late 1',
      'Total one 5',
      'Total end 9',
      'Total late 4',
    ],
  ])
})

test('law 25: a share is of the whole, computed again at the keys it is within; a place counts from 1, ties share it', async () => {
  const sales: Sale[] = [
    { day: '2025-01-02', shop: 'a', x: 10 },
    { day: '2025-01-02', shop: 'b', x: 30 },
    { day: '2025-02-02', shop: 'a', x: 30 },
    { day: '2025-02-02', shop: 'b', x: 30 },
  ]
  const report = reportOf(
    {
      whole: 'share(sum(x))',
      ofMonth: { formula: 'share(sum(x)) within month', format: 'percent 0' },
      place: 'rank(sum(x)) within month',
    },
    { rows: 'shop', columns: 'month', totals: { rows: 'bottom', columns: 'right' } },
    { period: '2025-01 to 2025-02' },
  )
  expect(await printed(report, csvOf(sales))).toEqual([
    ...['a 2025-01 whole 0.1', 'a 2025-01 ofMonth 0.25', 'a 2025-01 place 2'],
    ...['a 2025-02 whole 0.3', 'a 2025-02 ofMonth 0.5', 'a 2025-02 place 1'],
    ...['a whole 0.4', 'a ofMonth 0.4', 'a place 2'],
    ...['b 2025-01 whole 0.3', 'b 2025-01 ofMonth 0.75', 'b 2025-01 place 1'],
    ...['b 2025-02 whole 0.3', 'b 2025-02 ofMonth 0.5', 'b 2025-02 place 1'],
    ...['b whole 0.6', 'b ofMonth 0.6', 'b place 1'],
    ...['2025-01 whole 0.4', '2025-01 ofMonth 1', '2025-01 place 1'],
    ...['2025-02 whole 0.6', '2025-02 ofMonth 1', '2025-02 place 1'],
    ...['Total whole 1', 'Total ofMonth 1', 'Total place 1'],
  ])
})

test('a share of a ratio is worked out at the whole, never added up', async () => {
  const csv = 'date,shop,x,n\n2025-01-01,a,10,1\n2025-01-01,b,30,9\n'
  const report = reportOf({ price: 'sum(x) / sum(n)', part: 'share(price)' }, { rows: 'shop' })
  expect(await printed(report, csv)).toEqual([
    'a price 10',
    'a part 2.5',
    'b price 3.3333333333333',
    'b part 0.83333333333333',
  ])
})

test('a streak counts the periods running that a condition has held, from before what is shown', async () => {
  const months = [9, 8, 7, 9, 6, 5, 4]
  const sales = months.map((x, i): Sale => ({ day: `2025-0${i + 1}-15`, shop: 'a', x }))
  sales.push({ day: '2025-07-20', shop: 'b', x: 1 })
  const falling = 'streak(sum(x) < lag(sum(x), 1 month))'
  const report = reportOf(
    { weak: falling },
    { rows: 'shop', columns: 'month', totals: 'bottom' },
    { period: '2025-06 to 2025-07' },
  )
  expect(await printed(report, csvOf(sales))).toEqual([
    ...['a 2025-06 weak 2', 'a 2025-07 weak 3', 'b 2025-06 weak –', 'b 2025-07 weak –'],
    // With the other shop July is as good as June: 5 and then 5.
    ...['2025-06 weak 2', '2025-07 weak 0'],
  ])
  const byShop = reportOf({ weak: falling.replace(')) ', ')').replace(/\)$/, ', month)') }, { rows: 'shop' })
  expect(await printed(byShop, csvOf(sales))).toEqual(['a weak 3', 'b weak –'])
  const undecided = await cells(reportOf({ weak: falling }, { rows: 'shop' }), csvOf(sales))
  expect(undecided.messages.join()).toContain('say which period')
})

test('law 9: fiscal years are named by the year they begin in, printed 2025/26, and are written so too', async () => {
  const sales: Sale[] = [
    { day: '2025-03-31', shop: 'a', x: 1 },
    { day: '2025-04-01', shop: 'a', x: 2 },
    { day: '2026-01-15', shop: 'a', x: 4 },
    { day: '2026-03-31', shop: 'a', x: 8 },
  ]
  const calendar = { calendar: { yearStarts: 'April' } }
  const table = { rows: ['year', 'quarter'], totals: 'bottom' }
  const all = reportOf({ now: 'sum(x)', soFar: 'sofar(now, year)' }, table, calendar)
  expect((await printed(all, csvOf(sales))).filter((line) => !line.includes('–'))).toEqual([
    ...['2024/25 2024/25-Q4 now 1', '2024/25 2024/25-Q4 soFar 1', '2024/25 now 1', '2024/25 soFar 1'],
    ...['2025/26 2025/26-Q1 now 2', '2025/26 2025/26-Q1 soFar 2', '2025/26 2025/26-Q2 soFar 2'],
    ...['2025/26 2025/26-Q3 soFar 2', '2025/26 2025/26-Q4 now 12', '2025/26 2025/26-Q4 soFar 14'],
    ...['2025/26 now 14', '2025/26 soFar 14', 'Total now 15', 'Total soFar 14'],
  ])
  for (const period of ['this year', '2025/26', 2025, '2025/26-Q1 to 2025/26-Q4'])
    expect(await printed(reportOf({ now: 'sum(x)' }, { rows: 'shop' }, { ...calendar, period }), csvOf(sales))).toEqual(
      ['a now 14'],
    )
  const literal = reportOf(
    { now: 'sum(x) where date = 2025/26-Q4', before: 'sum(x) where year(date) = 2024/25' },
    { rows: 'shop' },
    calendar,
  )
  expect(await printed(literal, csvOf(sales))).toEqual(['a now 12', 'a before 1'])
})

test('law 9: moments move to the zone before their day is taken; plain dates never', async () => {
  const csv =
    'date,shop,x\n2025-01-31T23:30:00Z,a,1\n2025-02-01 00:30:00+02:00,a,2\n2025-01-31,a,4\n2025-01-31T23:30:00,a,8\n'
  const table = { rows: 'month' }
  const plain = await printed(reportOf({ now: 'sum(x)' }, table), csv)
  expect(plain).toEqual(['2025-01 now 13', '2025-02 now 2'])
  const zoned = await printed(reportOf({ now: 'sum(x)' }, table, { calendar: { zone: 'Europe/Madrid' } }), csv)
  expect(zoned).toEqual(['2025-01 now 14', '2025-02 now 1'])
})

test('law 8: only the period is looked past; other conditions hold on both sides', async () => {
  const sales: Sale[] = [
    { day: '2024-02-10', shop: 'a', x: 5 },
    { day: '2024-02-10', shop: 'b', x: 50 },
    { day: '2025-02-10', shop: 'a', x: 7 },
    { day: '2025-02-10', shop: 'b', x: 70 },
  ]
  const report = reportOf(
    { now: 'sum(x)', back: 'lag(now, 1 year)', soFar: 'sofar(now, all)' },
    { rows: 'month' },
    { period: '2025-02', where: "shop = 'a'" },
  )
  expect(await printed(report, csvOf(sales))).toEqual(['2025-02 now 7', '2025-02 back 5', '2025-02 soFar 12'])
})

test('a shift whose values equal the present ones everywhere is reported', async () => {
  const sales: Sale[] = ['2023', '2024', '2025'].flatMap((year) => [
    { day: `${year}-01-10`, shop: 'a', x: 5 },
    { day: `${year}-02-10`, shop: 'b', x: 6 },
  ])
  const report = reportOf(
    { now: 'sum(x)', back: 'lag(now, 1 year)' },
    { rows: 'shop' },
    { period: 'this year', asOf: '2025-12-31' },
  )
  expect((await cells(report, csvOf(sales))).messages.join()).toContain(
    'has the same values as the present one everywhere',
  )
  const other = await cells(report, csvOf([...sales, { day: '2025-03-01', shop: 'a', x: 1 }]))
  expect(other.messages.join()).not.toContain('the same values as the present')
})

test('what is written wrongly of other times and other cells is reported with the fix', async () => {
  const said = async (formula: string): Promise<string> =>
    (await checkReportData(reportOf({ m: formula }, { rows: 'shop' }), { s: csvOf(SALES) }))
      .map((p) => p.message)
      .join()
  expect(await said('sofar(sum(x), yaer)')).toContain('and this is yaer; did you mean year?')
  expect(await said('opening(sum(x), all)')).toContain('opening() needs a period here')
  expect(await said('opening(sum(x))')).toContain('as in opening(price, year), and 1 is given')
  expect(await said('streak(sum(x))')).toContain('needs a condition')
  expect(await said('share(sum(x)) within shpo')).toContain('did you mean shop?')
  expect(await said('rank(sum(x)) where x > 1')).toContain('write it at the aggregates inside rank()')
  expect(await said('sofar(sum(x), year) within shop')).toContain('only share() and rank() are divided')
  expect(await said('sum(sofar(x, year))')).toContain('sofar() belongs in a measure')
  expect(await said('last(shop)')).toContain('needs a number')
})
