import { type Cell, type Exhibit, openReport, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'

const SALES = [
  'date,region,shop,line,channel,amount',
  '2025-01-05,Coast,Larkmoor,Roses,Shop,10',
  '2025-01-20,Coast,Larkmoor,Meadow seed,Online,5',
  '2025-02-07,Coast,Quay Lane,Roses,Shop,30',
  '2025-02-09,Valley,Old Mill,Roses,Shop,20',
  '2025-03-03,Valley,Old Mill,Meadow seed,Trade,7',
].join('\n')
const BUDGET = [
  'month,shop,line,amount',
  '2025-01,Larkmoor,Roses,8',
  '2025-01,Larkmoor,Meadow seed,4',
  '2025-02,Quay Lane,Roses,25',
  '2025-02,Old Mill,Roses,25',
  '2025-03,Old Mill,Meadow seed,9',
  '2025-03,Tansy Green,Roses,50',
].join('\n')

function reportOf(table: object, more: object = {}, budget: object = {}): ReportSpec {
  return {
    title: 'T',
    asOf: '2025-03-31',
    sources: {
      sales: { file: 's.csv', date: 'date' },
      budget: { file: 'b.csv', date: 'month', match: ['shop', 'line'], ...budget },
    },
    measures: {
      revenue: 'sum(amount)',
      plan: 'sum(budget.amount)',
      gap: 'revenue - plan',
      lines: 'count()',
      planned: 'count(budget.amount)',
      usual: 'median(budget.amount)',
    },
    exhibits: [{ name: 't', table: { rows: 'shop', show: ['revenue', 'plan', 'gap'], ...table } }],
    ...more,
  } as ReportSpec
}

async function open(report: ReportSpec, sales = SALES, budget = BUDGET): Promise<Exhibit> {
  return (await openReport(report, { sales, budget })).exhibits[0]
}

/** Rows as `heading: value value …`, `–` for missing. */
async function rows(report: ReportSpec): Promise<string[]> {
  const exhibit = await open(report)
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  return exhibit.rows.map((r) => `${r.heading.text}: ${r.cells.map((c) => c?.value ?? '–').join(' ')}`)
}

test('law 10: measures of two sources stand side by side; keys of either make rows', async () => {
  expect(await rows(reportOf({ totals: 'top' }))).toEqual([
    'Total: 72 121 -49',
    'Larkmoor: 15 12 3',
    'Old Mill: 27 34 -7',
    'Quay Lane: 30 25 5',
    'Tansy Green: – 50 –',
  ])
})

test('law 10: a region is looked up by the shop; a shop that home does not have stands under the missing group, and is reported', async () => {
  expect(await rows(reportOf({ rows: ['region', 'shop'], totals: 'top' }))).toEqual([
    'Total: 72 121 -49',
    'Coast: 45 37 8',
    'Larkmoor: 15 12 3',
    'Quay Lane: 30 25 5',
    'Valley: 27 34 -7',
    'Old Mill: 27 34 -7',
    '(no region): – 50 –',
    'Tansy Green: – 50 –',
  ])
  const page = await openReport(reportOf({ rows: 'region' }), { sales: SALES, budget: BUDGET })
  expect(page.messages).toEqual([
    '1 value of shop in budget is not in sales, so region is not known for it: Tansy Green',
  ])
})

test('law 10: what a source is not distinguished by is missing where cells are split by it, and present in totals over it', async () => {
  const table = { rows: 'channel', totals: 'bottom' }
  expect(await rows(reportOf(table))).toEqual(['Online: 5 – –', 'Shop: 60 – –', 'Trade: 7 – –', 'Total: 72 121 -49'])
  expect((await open(reportOf(table))).messages).toEqual([
    'the measures of budget are missing where the exhibit is split by channel: its rows are not distinguished by channel',
  ])
  // Under a key that both sources have, the upper level is complete.
  expect(await rows(reportOf({ rows: ['shop', 'channel'], show: 'plan', totals: 'top' }))).toEqual([
    'Total: 121',
    'Larkmoor: 12',
    'Online: –',
    'Shop: –',
    'Old Mill: 34',
    'Shop: –',
    'Trade: –',
    'Quay Lane: 25',
    'Shop: –',
    'Tansy Green: 50',
  ])
})

test('law 9: a source by month is whole by month and quarter and missing by day and week; an unfinished month counts whole, and is reported', async () => {
  const total = async (columns: string, more: object = {}): Promise<(number | null | undefined)[]> => {
    const exhibit = await open(reportOf({ rows: 'line', columns, show: 'plan', totals: { rows: 'top' } }, more))
    return !('rows' in exhibit) ? [] : exhibit.rows[0].cells.map((c) => c?.value)
  }
  expect(await total('month')).toEqual([12, 50, 59])
  expect(await total('quarter')).toEqual([121])
  expect(new Set(await total('week'))).toEqual(new Set([null]))
  const begun = await open(reportOf({ show: 'plan', totals: 'top' }, { period: '2025-01-10 to 2025-02-15' }))
  expect('rows' in begun && begun.rows[0].cells[0]?.value).toBe(62)
  expect(begun.messages).toContain('budget is monthly: the current, unfinished month is counted in full')
  // Declared, a day stands for its month.
  const days = BUDGET.replace(/-0(\d),/g, '-0$1-01,')
  const daily = await open(
    reportOf({ rows: 'line', columns: 'day', show: 'plan' }, {}, { grain: 'month' }),
    SALES,
    days,
  )
  expect(daily.messages[0]).toContain('budget is by month')
})

test('law 10: a condition narrows both where both can answer it; else measures are missing everywhere, and it is reported', async () => {
  expect(await rows(reportOf({ totals: 'top' }, { where: "region = 'Valley'" }))).toEqual([
    'Total: 27 34 -7',
    'Old Mill: 27 34 -7',
  ])
  expect(await rows(reportOf({ totals: 'top' }, { where: "line = 'Meadow seed' and date >= 2025-02" }))).toEqual([
    'Total: 7 9 -2',
    'Old Mill: 7 9 -2',
  ])
  const page = await open(reportOf({ totals: 'top' }, { where: "channel = 'Shop'" }))
  expect('rows' in page && page.rows.map((r) => r.cells.map((c) => c?.value ?? null))).toEqual([
    [60, null, null],
    [10, null, null],
    [20, null, null],
    [30, null, null],
  ])
  expect(page.messages).toEqual(['the measures of budget are missing: budget cannot be filtered by channel'])
})

test('a calendar covers the data of all sources that are read, without a gap; of one that is not read nothing shows', async () => {
  const early = BUDGET.replace('month,shop,line,amount', 'month,shop,line,amount\n2024-10,Larkmoor,Roses,1')
  const months = async (show: string): Promise<string[]> => {
    const exhibit = await open(reportOf({ rows: 'line', columns: 'month', show }), SALES, early)
    return !('rows' in exhibit) ? [] : (exhibit.columnHeadings.at(-1) ?? []).map((h) => h.text)
  }
  expect(await months('plan')).toEqual(['Oct', 'Nov', 'Dec', 'Jan', 'Feb', 'Mar'])
  expect(await months('revenue')).toEqual(['Jan', 'Feb', 'Mar'])
})

test('law 11: a measure without rows is missing in its own source alone; what does not merge is asked for at each level', async () => {
  expect(await rows(reportOf({ show: ['lines', 'planned', 'usual'], totals: 'top' }))).toEqual([
    'Total: 5 6 17',
    'Larkmoor: 2 2 6',
    'Old Mill: 2 2 17',
    'Quay Lane: 1 1 25',
    'Tansy Green: – 1 50',
  ])
})

test('an aggregate reads one source; shared keys must be there in both; names are reported with their source', async () => {
  const codes = async (more: object, budget: object = {}): Promise<string[]> => {
    try {
      await open(reportOf({}, more, budget))
    } catch (error) {
      return (error as { problems: { message: string }[] }).problems.map((p) => p.message)
    }
    return []
  }
  expect(
    await codes({ measures: { revenue: 'sum(amount - budget.amount)', plan: 'count()', gap: 'count()' } }),
  ).toEqual([
    'sum() reads the rows of one source, and this names home and budget; aggregate each, then combine the results',
  ])
  expect(
    await codes({ measures: { revenue: 'sum(amount)', plan: 'sum(budget.amuont)', gap: 'sum(bugdet.amount)' } }),
  ).toEqual([
    'unknown name: budget.amuont; did you mean budget.amount?',
    'unknown name: bugdet.amount; did you mean budget.amount?',
  ])
  expect(await codes({}, { match: ['shop', 'channel'] })).toEqual([
    'there is no column budget.channel; there are month, shop, line, amount',
  ])
  expect(
    await codes({ measures: { revenue: 'sum(sales.amount)', plan: 'count() where budget.amount > 20', gap: '1' } }),
  ).toEqual([])
})

test('joined by hand or by the engine, random sales and budgets give the same', async () => {
  const REGION: Record<string, string> = { a: 'North', b: 'North', c: 'South' }
  const line = fc.tuple(
    fc.constantFrom('a', 'b', 'c'),
    fc.constantFrom('x', 'y'),
    fc.integer({ min: 1, max: 4 }),
    fc.integer({ min: -9, max: 9 }),
  )
  await fc.assert(
    fc.asyncProperty(
      fc.array(line, { minLength: 1, maxLength: 20 }),
      fc.array(line, { maxLength: 20 }),
      async (sold, planned) => {
        const sales = `date,region,shop,line,channel,amount\n${sold.map(([s, l, m, n]) => `2025-0${m}-17,${REGION[s]},${s},${l},,${n}`).join('\n')}\n`
        const budget = `month,shop,line,amount\n${planned.map(([s, l, m, n]) => `2025-0${m},${s},${l},${n}`).join('\n')}\n`
        const report = reportOf(
          {
            rows: ['region', 'line'],
            columns: 'month',
            show: ['revenue', 'plan'],
            totals: { rows: 'top', columns: 'right' },
          },
          { asOf: '2025-04-30' },
        )
        const exhibit = await open(report, sales, budget)
        if (!('rows' in exhibit)) throw new Error('a table was expected')
        const shops = new Set(sold.map(([s]) => s))
        const key = (cell: Cell, name: string): string | null | undefined =>
          [...cell.row, ...cell.column].find((k) => k.name === name)?.value
        const seen = { revenue: 0, plan: 0 }
        for (const cell of exhibit.rows.flatMap((r) => r.cells.filter((c) => c !== null))) {
          const [region, l, month] = ['region', 'line', 'month'].map((name) => key(cell, name))
          const rows = (cell.measure === 'revenue' ? sold : planned).filter(
            ([s, of, m]) =>
              (region === undefined || (shops.has(s) ? REGION[s] : null) === region) &&
              (l === undefined || of === l) &&
              (month === undefined || month === `2025-0${m}`),
          )
          expect(cell.value, `${cell.measure} ${region} ${l} ${month}`).toBe(
            rows.length === 0 ? null : rows.reduce((a, [, , , n]) => a + n, 0),
          )
          if (cell.level.row === 'detail' && cell.level.column === 'detail')
            seen[cell.measure as 'plan'] += cell.value ?? 0
        }
        // The details add up to the rows that were read.
        expect(seen.revenue).toBe(sold.reduce((a, [, , , n]) => a + n, 0))
        expect(seen.plan).toBe(planned.reduce((a, [, , , n]) => a + n, 0))
      },
    ),
    { seed: 9, numRuns: 60 },
  )
})
