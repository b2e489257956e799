import { type Cell, checkReportData, openReport, type ReportSpec } from 'acuarela/report'
import { expect, test } from 'vitest'

const CSV = 'date,shop,amount,pieces,rate\n2025-01-01,b,10,2,5%\n2025-01-02,a,20,,12%\n2025-01-03,Ä,,1,\n'

function reportOf(measures: Record<string, unknown>, more: object = {}): ReportSpec {
  return {
    title: 'T',
    sources: { s: { file: 's.csv', date: 'date' } },
    measures,
    exhibits: [{ name: 't', table: { rows: 'shop', show: Object.keys(measures), totals: 'bottom' } }],
    ...more,
  } as unknown as ReportSpec
}

async function cells(report: ReportSpec, csv = CSV): Promise<Cell[]> {
  const [exhibit] = (await openReport(report, { s: csv })).exhibits
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  return exhibit.rows.flatMap((r) => r.cells.filter((c) => c !== null))
}

const codes = async (report: ReportSpec): Promise<string[]> =>
  (await checkReportData(report, { s: CSV })).map((p) => p.code)

test('law 1: units that are alike go together; those that are not are refused', async () => {
  const money = { formula: 'sum(amount)', format: 'money EUR 0' }
  const pounds = { formula: 'sum(amount)', format: 'money GBP 0' }
  const share = { formula: 'mean(rate)', format: 'percent 1' }
  const good = [
    'money - 5',
    'money + sum(amount)',
    'money / money',
    'money * share',
    'count() + 1',
    'share - 0',
    'money / money - share',
    'money / count()',
  ]
  for (const formula of good) expect(await codes(reportOf({ money, share, x: formula })), formula).toEqual([])
  const bad = [
    'money + pounds',
    'money + count()',
    'money - share',
    'share + 1',
    'if money > pounds then 1 else 2',
    'least(money, count())',
  ]
  for (const formula of bad)
    expect(await codes(reportOf({ money, pounds, share, x: formula })), formula).toEqual(['unlike-units'])
  expect(await codes(reportOf({ x: { formula: 'count()', format: 'money EUR' } }))).toEqual(['format-contradicts'])
  const slack = { parameters: { slack: '10%' } }
  const set = (written: string): Promise<string[]> =>
    checkReportData(reportOf({ money }, slack), { s: CSV }, { parameters: { slack: written } }).then((problems) =>
      problems.map((p) => p.message),
    )
  expect(await set('12%')).toEqual([])
  expect((await set('0.1')).join()).toContain('did you mean 10%?')
})

test('law 2: what agrees to 14 digits is equal, whatever order it was summed in', async () => {
  const csv = `date,shop,amount\n${['0.1', '0.2', '0.3', '-0.6', '0.6'].map((x, i) => `2025-01-0${i + 1},a,${x}`).join('\n')}\n`
  const report = reportOf({ total: 'sum(amount)', same: 'if sum(amount) = 0.6 then 1 else 0' })
  expect((await cells(report, csv)).map((c) => c.value)).toEqual([0.6, 1, 0.6, 1])
  const large = 'date,shop,amount\n2025-01-01,a,1e16\n2025-01-02,a,1\n2025-01-03,a,-1e16\n'
  expect((await cells(reportOf({ total: 'sum(amount)' }), large))[0].value).toBe(1)
})

test('law 3: numbers have up to 2 decimals unless a format says otherwise; a percent stays one', async () => {
  // The percent of another row needs two digits, so the total has two.
  const own = await cells(
    reportOf({
      plain: 'mean(amount) / 7',
      rate: 'mean(rate)',
      few: { formula: 'mean(amount) / 7', format: 'number 0' },
    }),
  )
  expect(own.slice(-3).map((c) => c.text)).toEqual(['2.14', '8.50%', '2'])
})

test('law 4: names stand as the locale has them, time by the calendar, the missing group last', async () => {
  const csv =
    'date,shop,amount\n2025-02-01,Zinnia 10,1\n2025-02-02,,1\n2024-12-31,Äpfel,1\n2025-02-03,Zinnia 9,1\n2025-02-04,apple,1\n'
  const names = async (rows: string, locale: string): Promise<(string | null)[]> => {
    const report = { ...reportOf({ n: 'count()' }), locale, exhibits: [{ table: { rows, show: 'n' } }] }
    return (await cells(report, csv)).map((c) => c.row[0].value)
  }
  expect(await names('shop', 'de')).toEqual(['Äpfel', 'apple', 'Zinnia 9', 'Zinnia 10', null])
  // In Swedish Ä comes after Z.
  expect(await names('shop', 'sv')).toEqual(['apple', 'Zinnia 9', 'Zinnia 10', 'Äpfel', null])
  expect(await names('month', 'de')).toEqual(['2024-12', '2025-01', '2025-02'])
})

test('law 20: what looks at other times has the direction of what it looks at', async () => {
  const measures = {
    now: { formula: 'sum(amount)', better: 'lower' },
    back: 'lag(now, 1 month)',
    soFar: 'sofar(now, year)',
    start: 'opening(now, year)',
  }
  const rules = Object.keys(measures).map((paint) => ({ paint, rank: { best: 1, style: { weight: 'bold' } } }))
  expect(await codes(reportOf(measures, { rules }))).toEqual([])
  expect(
    await codes(
      reportOf({ x: 'share(sum(amount))' }, { rules: [{ paint: 'x', rank: { best: 1, style: { weight: 'bold' } } }] }),
    ),
  ).toEqual(['better-needed'])
})

test('law 24: inside an aggregate only columns and fields are seen; circles are printed; time beats a column of its name', async () => {
  expect(await codes(reportOf({ amount: 'sum(amount)' }))).toEqual([])
  const circle = await checkReportData(reportOf({ a: 'b + 1', b: 'a + 1' }), { s: CSV })
  expect(circle.map((p) => p.message).join()).toContain('a → b → a')
  expect(await codes(reportOf({ x: 'sum(amount) * target' }, { parameters: { target: 5 } }))).toEqual([])
  expect(await codes(reportOf({ x: 'sum(amount * target)' }, { parameters: { target: 5 } }))).toEqual(['unknown-name'])
  const months = 'date,month,amount\n2025-01-01,May,1\n2025-02-01,May,2\n'
  const report = { ...reportOf({ n: 'sum(amount)' }), exhibits: [{ table: { rows: 'month', show: 'n' } }] }
  expect((await cells(report, months)).map((c) => c.row[0].value)).toEqual(['2025-01', '2025-02'])
})

test('law 26: a parameter set outside its bounds is said, not refused', async () => {
  const report = reportOf({ n: 'count()' }, { parameters: { target: { value: 5, from: 1, to: 9 } } })
  const page = await openReport(report, { s: CSV }, { parameters: { target: '12' } })
  expect(page.messages.join()).toContain('target is 12, outside its bounds 1 to 9')
})

test('texts and dates in fields: case, length, parts of a date, the first that is not missing', async () => {
  const csv = 'date,shop,amount\n2024-12-30,Peña,1\n2025-06-15,,2\n2025-06-16,ROSÉ,4\n'
  const fields = {
    s: {
      low: 'lowercase(shop)',
      high: 'uppercase(shop)',
      long: 'length(shop)',
      name: "coalesce(shop, 'nobody')",
      when: 'quarter(date)',
      weekdayOf: 'weekday(date)',
    },
  }
  const names = async (rows: string): Promise<string[]> =>
    (await cells({ ...reportOf({ n: 'sum(amount)' }), fields, exhibits: [{ table: { rows, show: 'n' } }] }, csv)).map(
      (c) => `${c.row[0].value} ${c.value}`,
    )
  expect(await names('low')).toEqual(['peña 1', 'rosé 4', 'null 2'])
  expect(await names('high')).toEqual(['PEÑA 1', 'ROSÉ 4', 'null 2'])
  expect((await names('long')).sort()).toEqual(['4 5', 'null 2'])
  expect(await names('name')).toEqual(['nobody 2', 'Peña 1', 'ROSÉ 4'])
  expect(await names('when')).toEqual(['2024-Q4 1', '2025-Q2 6'])
  expect((await names('weekdayOf')).sort()).toEqual(['1 5', '7 2'])
  const where = async (text: string): Promise<number | null> =>
    (
      await cells(
        {
          ...reportOf({ n: 'sum(amount)' }),
          where: text,
          exhibits: [{ table: { rows: 'year', show: 'n', totals: 'bottom' } }],
        } as ReportSpec,
        csv,
      )
    ).at(-1)?.value ?? null
  expect(await where('month(date) = 2025-06')).toBe(6)
  expect(await where('year(date) < 2025')).toBe(1)
  expect(await where('week(date) = 2025-W01')).toBe(1)
  expect(await where('monthOfYear(date) = 6 and weekday(date) = 1')).toBe(4)
  expect(await where('date in (2024-12, 2025-06-16)')).toBe(5)
  expect(await where('date not in (2024-12, 2025-06-16)')).toBe(2)
})
