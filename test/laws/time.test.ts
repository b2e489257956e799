import { type Cell, openReport, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'

interface Sale {
  day: string
  shop: string
  x: number
}

function reportOf(table: object, more: object = {}): ReportSpec {
  return {
    title: 'T',
    sources: { s: { file: 's.csv', date: 'date' } },
    measures: {
      now: { formula: 'sum(x)', better: 'higher' },
      year: 'lag(now, 1 year)',
      quarter: 'lag(sum(x), 1 quarter)',
      month: 'lag(now, 1 month)',
      two: 'lag(lag(now, 1 year), 1 month)',
      middle: 'lag(median(x), 1 year)',
      growth: { formula: 'percentChange(now, year)', format: 'percent 1 signed' },
      diff: 'change(now, year)',
    },
    exhibits: [{ name: 't', table: { rows: 'shop', show: ['now', 'year'], totals: 'top', ...table } }],
    ...more,
  } as ReportSpec
}

const csvOf = (sales: readonly Sale[]): string =>
  `date,shop,x\n${sales.map((s) => `${s.day},${s.shop},${s.x}`).join('\n')}\n`

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
  { day: '2023-12-05', shop: 'a', x: 100 },
  { day: '2024-01-10', shop: 'a', x: 1 },
  { day: '2024-02-29', shop: 'a', x: 2 },
  { day: '2024-03-10', shop: 'b', x: 4 },
  { day: '2024-03-25', shop: 'b', x: 8 },
  { day: '2025-01-20', shop: 'a', x: 16 },
  { day: '2025-02-28', shop: 'c', x: 32 },
  { day: '2025-03-15', shop: 'b', x: 64 },
]

test('law 6: last year stands beside this year, cut at the same day where the present is unfinished', async () => {
  // As of 15 March 2025: last year counts to 15 March 2024, so the 8 of 25 March is not in it.
  expect(await printed(reportOf({}, { period: 'this year' }), csvOf(SALES))).toEqual([
    'Total now 112',
    'Total year 7',
    'a now 16',
    'a year 3',
    'b now 64',
    'b year 4',
    'c now 32',
    'c year –',
  ])
  // The end of a month shifts to the end of a month: 28 February 2025 to 29 February 2024.
  expect(
    await printed(
      reportOf({ rows: 'shop', show: 'year' }, { period: '2025-01 to 2025-02', asOf: '2025-02-28' }),
      csvOf(SALES),
    ),
  ).toContain('Total year 3')
  expect(await printed(reportOf({ show: 'year' }, { period: '2025' }), csvOf(SALES))).toContain('b year 4')
})

test('law 11: who sold last year alone has a row of their own', async () => {
  expect(
    await printed(reportOf({ show: ['now', 'year'], totals: 'none' }, { period: 'this month' }), csvOf(SALES)),
  ).toEqual(['b now 64', 'b year 4'])
  const only = SALES.filter((s) => s.day < '2025-03' || s.shop !== 'b').concat({ day: '2025-03-20', shop: 'a', x: 5 })
  expect(
    await printed(reportOf({ show: ['now', 'year'], totals: 'none' }, { period: 'this month' }), csvOf(only)),
  ).toEqual(['a now 5', 'a year –', 'b now –', 'b year 4'])
})

test('change and its share: missing on a base of zero or less; direction and colour follow what is compared', async () => {
  expect(await printed(reportOf({ show: ['diff', 'growth'] }, { period: 'this year' }), csvOf(SALES))).toEqual([
    'Total diff 105',
    'Total growth 15',
    'a diff 13',
    'a growth 4.3333333333333',
    'b diff 60',
    'b growth 15',
    'c diff –',
    'c growth –',
  ])
  const below = SALES.map((s) => (s.day === '2024-03-10' ? { ...s, x: -4 } : s))
  expect(await printed(reportOf({ show: 'growth' }, { period: 'this year' }), csvOf(below))).toContain('b growth –')
  const rules = [{ paint: ['diff', 'growth', 'year'], gradient: { ramp: 'badToGood' } }]
  await expect(openReport(reportOf({}, { rules }), { s: csvOf(SALES) })).resolves.toBeDefined()
})

test('law 6: what lies before the data is missing, and is reported; partly before it too', async () => {
  const all = await cells(reportOf({ rows: 'shop', show: 'year' }), csvOf(SALES))
  expect(all.cells.every((c) => c.value === null)).toBe(true)
  expect(all.messages).toEqual([
    'year: the earlier period is partly before the data, which begin with December 1, 2023; the values there are missing',
  ])
  const early = await cells(reportOf({ show: 'year' }, { period: '2024-03' }), csvOf(SALES))
  expect(early.messages[0]).toContain('is wholly before the data')
})

test('law 34: a rolling window that reaches before the data is missing, and is reported', async () => {
  const measures = { quarter: 'rolling(sum(x), 3 months)' }
  const rolling = (period: string, rows = 'month') =>
    cells(reportOf({ rows, show: 'quarter' }, { measures, period }), csvOf(SALES))
  const note = 'of 3 months reaches before the data, which begin with December 1, 2023; the values there are missing'
  expect((await rolling('2024-01 to 2024-03')).messages).toEqual([`quarter: a window ${note}`])
  expect((await rolling('2024-01', 'shop')).messages).toEqual([`quarter: every window ${note}`])
  expect((await rolling('2024-02 to 2024-03')).messages).toEqual([])
})

test('lag belongs in measures, with a span behind it', async () => {
  const refused = async (more: object): Promise<string[]> => {
    try {
      await cells(reportOf({ show: 'now' }, more), csvOf(SALES))
    } catch (error) {
      return (error as { problems: { message: string }[] }).problems.map((p) => p.message.split(';')[0])
    }
    return []
  }
  const measure = (formula: string) => refused({ measures: { now: 'sum(x)', y: formula } })
  expect(await measure('lag(now)')).toEqual([
    'lag() takes a measure and how far back, as in lag(revenue, 1 year), and 1 is given',
  ])
  expect(await measure('lag(now, 12)')).toEqual([
    'lag() takes a measure and how far back, as in lag(revenue, 1 year), and 2 are given',
  ])
  expect(await measure('now + 1 year')).toEqual(['1 year is the distance of lag(), as in lag(revenue, 1 year)'])
  expect(await measure('sum(lag(x, 1 year))')).toEqual([
    'lag() belongs in a measure of a source with dates, outside aggregates',
  ])
  expect(await measure('lag(y, 1 year)')).toEqual(['these refer to each other in a circle: y → y'])
  expect(
    await refused({ rules: [{ paint: 'now', bands: [{ above: 'lag(now, 1 year)', style: { weight: 'bold' } }] }] }),
  ).toEqual(['lag() belongs in a measure of a source with dates, outside aggregates'])
})

test('periods that do not map onto periods are missing, with a message', async () => {
  const { cells: found, messages: notes } = await cells(
    reportOf(
      { rows: 'shop', columns: 'quarter', show: 'month', totals: { columns: 'right' } },
      { period: 'this year' },
    ),
    csvOf(SALES),
  )
  expect(found.filter((c) => c.level.column === 'detail').every((c) => c.value === null)).toBe(true)
  expect(notes[0]).toBe('month is empty by quarter: a shift of 1 month does not map quarters onto quarters')
  // The total over the quarters shifts as a whole: December to 15 February.
  expect(found.find((c) => c.level.column === 'total' && c.row[0]?.value === 'a')?.value).toBe(16)
})

test('law 6: weeks look back to the week of the same number, whole', async () => {
  // ISO weeks 10 and 11 of 2024 and 2025; the Sunday of each year's week 11 is 17 and 16 March.
  const weeks = [
    ['2024-01-02', 1],
    ['2024-03-04', 2],
    ['2024-03-10', 4],
    ['2024-03-17', 8],
    ['2025-03-03', 16],
    ['2025-03-16', 32],
  ].map(([day, x]) => ({ day, shop: 'a', x }) as Sale)
  const report = reportOf({ rows: 'week', show: ['now', 'year'], totals: 'none' }, { period: '2025-W10 to 2025-W11' })
  expect(await printed(report, csvOf(weeks))).toEqual([
    '2025-W10 now 16',
    '2025-W10 year 6',
    '2025-W11 now 32',
    '2025-W11 year 8',
  ])
})

/** The span of a cell, moved back by months, by nothing but calendar dates. */
function movedBack(from: string, to: string, months: number): [string, string] {
  const move = (text: string, end: boolean): string => {
    const [y, m, d] = text.split('-').map(Number)
    const lastOf = (year: number, month: number): number => new Date(Date.UTC(year, month, 0)).getUTCDate()
    const target = new Date(Date.UTC(y, m - 1 - months, 1))
    const last = lastOf(target.getUTCFullYear(), target.getUTCMonth() + 1)
    const day = end && d === lastOf(y, m) ? last : Math.min(d, last)
    return new Date(Date.UTC(target.getUTCFullYear(), target.getUTCMonth(), day)).toISOString().slice(0, 10)
  }
  return [move(from, false), move(to, true)]
}

const lastDay = (y: number, m: number): string => new Date(Date.UTC(y, m, 0)).toISOString().slice(0, 10)
const pad = (n: number): string => String(n).padStart(2, '0')

/** First and last day of a printed period. */
function spanOf(text: string): [string, string] {
  const [y, rest] = [Number(text.slice(0, 4)), text.slice(5)]
  if (rest === '') return [`${y}-01-01`, `${y}-12-31`]
  const [first, last] = rest.startsWith('Q')
    ? [Number(rest[1]) * 3 - 2, Number(rest[1]) * 3]
    : [Number(rest), Number(rest)]
  return [`${y}-${pad(first)}-01`, lastDay(y, last)]
}

test('law 6, against a plain calculation: every cell, subtotal and total looks back over its own span', async () => {
  const sale = fc.record({
    day: fc.integer({ min: 0, max: 850 }).map((d) => new Date(Date.UTC(2023, 0, 1 + d)).toISOString().slice(0, 10)),
    shop: fc.constantFrom('a', 'b', 'c'),
    x: fc.integer({ min: -9, max: 9 }),
  })
  const period = fc.constantFrom(
    ['this year', '2025-01-01'],
    ['this quarter', ''],
    ['2025', '2025-01-01'],
    ['last 3 months', ''],
    ['2024-02 to 2024-11', '2024-02-01'],
  )
  const columns = fc.constantFrom(undefined, 'year', 'quarter', 'month', ['quarter', 'month'])
  await fc.assert(
    fc.asyncProperty(
      fc.array(sale, { minLength: 5, maxLength: 40 }),
      period,
      columns,
      fc.integer({ min: 1, max: 28 }),
      async (some, [written], by, day) => {
        // The data begin in January 2023, and the report is as of a day in May 2025.
        const sales = [...some, { day: '2023-01-03', shop: 'a', x: 1 }, { day: '2025-05-31', shop: 'a', x: 3 }]
        const asOf = `2025-05-${pad(day)}`
        const whole: Record<string, [string, string]> = {
          'this year': ['2025-01-01', asOf],
          'this quarter': ['2025-04-01', asOf],
          '2025': ['2025-01-01', asOf],
          'last 3 months': ['2025-03-01', asOf],
          '2024-02 to 2024-11': ['2024-02-01', '2024-11-30'],
        }
        const show = ['year', 'month', 'two', 'quarter', 'middle']
        const report = reportOf(
          { rows: 'shop', columns: by, show, totals: { rows: 'top', columns: 'right' } },
          { period: written, asOf },
        )
        for (const cell of (await cells(report, csvOf(sales))).cells) {
          let [from, to] = whole[written]
          for (const { value } of cell.column) {
            const interval = spanOf(value ?? '')
            if (interval[0] > from) from = interval[0]
            if (interval[1] < to) to = interval[1]
          }
          const back = { year: 12, month: 1, two: 13, quarter: 3, middle: 12 }[cell.measure] ?? 0
          const size = Math.max(1, ...cell.column.map(({ name }) => ({ year: 12, quarter: 3, month: 1 })[name] ?? 1))
          const [a, b] = movedBack(from, to, back)
          const amounts = sales
            .filter((s) => s.day >= a && s.day <= b && (cell.row.length === 0 || s.shop === cell.row[0].value))
            .map((s) => s.x)
          const missing = from > to || a < '2023-01-01' || amounts.length === 0 || back % size !== 0
          const sorted = amounts.sort((p, q) => p - q)
          const middle =
            (sorted[Math.floor((amounts.length - 1) / 2)] + sorted[Math.ceil((amounts.length - 1) / 2)]) / 2
          const wanted = cell.measure === 'middle' ? middle : amounts.reduce((p, q) => p + q, 0)
          expect(cell.value, `${cell.measure} ${JSON.stringify([cell.row, cell.column])} ${a} ${b}`).toBe(
            missing ? null : wanted,
          )
        }
      },
    ),
    { seed: 6, numRuns: 80 },
  )
})
