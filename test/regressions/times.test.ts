import { type Cell, checkReportData, openReport, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'

type Values = Record<string, number | null>

function reportOf(measures: Record<string, unknown>, table: object, more: object = {}): ReportSpec {
  return {
    title: 'T',
    sources: { prices: { file: 'prices.csv', date: 'date' } },
    measures,
    exhibits: [{ name: 't', table: { show: Object.keys(measures), ...table } }],
    ...more,
  } as unknown as ReportSpec
}

/** Every cell by its keys: `2025-01/Rose m`, and `m` for a total. */
async function values(report: ReportSpec, csv: string): Promise<Values> {
  const [exhibit] = (await openReport(report, { prices: csv })).exhibits
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  const cells = exhibit.rows.flatMap((r) => r.cells.filter((c): c is Cell => c !== null))
  const id = (c: Cell): string =>
    [...[...c.row, ...c.column].map((k) => String(k.value)), c.measure].filter((part) => part !== '').join(' ')
  return Object.fromEntries(cells.map((c) => [id(c), c.value]))
}

const codes = async (report: ReportSpec, csv: string): Promise<string[]> =>
  (await checkReportData(report, { prices: csv })).map((p) => p.code)

const PRICES = `date,plant,shop,price
2024-12-30,Rose,Larkmoor,4
2024-12-30,Rose,Quay Lane,8
2025-01-02,Rose,Larkmoor,5
2025-01-20,Sage,Larkmoor,2
2025-02-11,Rose,Larkmoor,6
2025-02-12,Sage,Quay Lane,3
2025-03-05,Rose,Larkmoor,7
,Rose,Larkmoor,100
,Sage,Larkmoor,200
`

test('1.2 opening() of what does not merge fills every cell that shares its opening day, and totals', async () => {
  const measures = {
    typical: 'opening(median(price), year)',
    plants: 'opening(countDistinct(plant), year)',
    high: 'opening(percentile(price, 100%), year)',
  }
  const painted = await values(reportOf(measures, { rows: 'month', totals: 'bottom' }, { period: '2025' }), PRICES)
  // The last day with rows up to 1 January is 30 December: prices 4 and 8 of one plant.
  for (const row of ['2025-01 ', '2025-02 ', '2025-03 ', ''])
    expect([row, painted[`${row}typical`], painted[`${row}plants`], painted[`${row}high`]]).toEqual([row, 6, 1, 8])
  const split = await values(reportOf(measures, { rows: ['plant', 'month'] }, { period: '2025' }), PRICES)
  for (const month of ['2025-01', '2025-02', '2025-03']) {
    expect(split[`Rose ${month} typical`]).toBe(6)
    // Sage opens on 20 January, the first day after the start.
    expect(split[`Sage ${month} typical`]).toBe(2)
  }
})

test('1.3 rows without a date count in no time function, whatever the statistic', async () => {
  const statistics = ['sum', 'count', 'mean', 'highest', 'median', 'countDistinct']
  const measures = Object.fromEntries(statistics.map((name) => [`${name}Sofar`, `sofar(${name}(price), all)`]))
  const painted = await values(
    reportOf({ ...measures, p: 'sofar(percentile(price, 50%), all)' }, { rows: 'plant' }),
    PRICES,
  )
  expect(painted).toEqual({
    'Rose sumSofar': 30,
    'Rose countSofar': 5,
    'Rose meanSofar': 6,
    'Rose highestSofar': 8,
    'Rose medianSofar': 6,
    'Rose countDistinctSofar': 5,
    'Rose p': 6,
    'Sage sumSofar': 5,
    'Sage countSofar': 2,
    'Sage meanSofar': 2.5,
    'Sage highestSofar': 3,
    'Sage medianSofar': 2.5,
    'Sage countDistinctSofar': 2,
    'Sage p': 2.5,
  })
})

test('1.4 lag() of a window by week moves by the ISO number of the week, as a plain lag() does', async () => {
  // One row a day over three years whose amount is its number, so the sum of a window shows its
  // days.
  const first = Date.UTC(2023, 0, 2)
  const days = Array.from({ length: 1095 }, (_, i) => new Date(first + i * 86_400_000).toISOString().slice(0, 10))
  const csv = `date,n\n${days.map((day, i) => `${day},${i + 1}`).join('\n')}\n`
  const measures = {
    plain: 'lag(sum(n), 1 year)',
    window: 'lag(sofar(sum(n), week), 1 year)',
    turned: 'sofar(lag(sum(n), 1 year), week)',
    typical: 'lag(sofar(median(n), week), 1 year)',
  }
  const report = reportOf(measures, { rows: 'week' }, { period: '2025-01 to 2025-11' })
  const painted = await values(report, csv)
  const weeks = Object.keys(painted).filter((id) => id.endsWith('plain'))
  expect(weeks.length).toBeGreaterThan(40)
  for (const id of weeks) {
    const week = id.slice(0, -6)
    // Monday of the same ISO week a year before: 4 January always lies in week 1.
    const [year, number] = [Number(week.slice(0, 4)) - 1, Number(week.slice(6))]
    const fourth = Date.UTC(year, 0, 4)
    const monday = fourth - ((new Date(fourth).getUTCDay() + 6) % 7) * 86_400_000 + (number - 1) * 7 * 86_400_000
    const before = (monday - first) / 86_400_000 + 1
    // The first week begins before the period, so it is cut there.
    if (week === '2025-W01' || week === '2025-W48') continue
    const wanted = 7 * before + 21
    const measured = (name: string): number | null => painted[`${week} ${name}`]
    expect([week, measured('plain'), measured('window'), measured('turned'), measured('typical')]).toEqual([
      week,
      wanted,
      wanted,
      wanted,
      before + 3,
    ])
  }
})

test('1.5 the day that an aggregate opens with is one on which it has rows itself', async () => {
  const csv = `date,item,price
2024-12-20,Rose,4
2024-12-31,Sage,9
2025-02-01,Rose,5
2025-02-02,Mint,
2025-02-03,Mint,7
`
  const measures = {
    rose: "opening(last(price) where item = 'Rose', year)",
    typical: "opening(median(price) where item = 'Rose', year)",
    mint: "opening(last(price) where item = 'Mint', year)",
    any: 'opening(last(price), year)',
  }
  const card = await values(reportOf(measures, { rows: 'year' }, { period: '2025' }), csv)
  expect(card).toEqual({ '2025 rose': 4, '2025 typical': 4, '2025 mint': 7, '2025 any': 9 })
  const split = await values(reportOf(measures, { rows: 'item' }, { period: '2025' }), csv)
  expect([split['Rose rose'], split['Rose any'], split['Mint any'], split['Sage any'], split['Sage rose']]).toEqual([
    4,
    4,
    7,
    9,
    null,
  ])
})

test('1.6 every documented form of a period is what it says, everything else is refused', async () => {
  const first = Date.UTC(2023, 0, 1)
  const days = Array.from({ length: 900 }, (_, i) => new Date(first + i * 86_400_000).toISOString().slice(0, 10))
  const csv = `date,plant\n${days.map((day) => `${day},Rose`).join('\n')}\n`
  const asOf = '2025-05-20'
  const between = (from: string, to: string): number => days.filter((day) => day >= from && day <= to).length
  const counts: [string, number][] = [
    ['last year', between('2024-01-01', '2024-12-31')],
    ['previous year', between('2024-01-01', '2024-12-31')],
    ['last month', between('2025-04-01', '2025-04-30')],
    ['previous quarter', between('2025-01-01', '2025-03-31')],
    ['last week', between('2025-05-12', '2025-05-18')],
    ['last 2 months', between('2025-04-01', asOf)],
    ['last 1 month', between('2025-05-01', asOf)],
    ['year to date', between('2025-01-01', asOf)],
    ['this year', between('2025-01-01', asOf)],
    ['month to date', between('2025-05-01', asOf)],
    ['2024', between('2024-01-01', '2024-12-31')],
    ['2024-Q4 to 2025-01', between('2024-10-01', '2025-01-31')],
  ]
  const report = (period: string): ReportSpec => reportOf({ n: 'count()' }, { rows: 'plant' }, { period, asOf })
  for (const [period, n] of counts) expect([period, (await values(report(period), csv))['Rose n']]).toEqual([period, n])
  for (const period of [
    'last',
    'last years',
    'last 2 year',
    'previous 2 years',
    'next year',
    'year',
    'to date',
    'last 0 months',
  ])
    expect([period, await codes(report(period), csv)]).toEqual([period, ['bad-period']])
})

test('1.6 a period of an exhibit over a source without dates is refused, as that of a report is', async () => {
  const plain = { sources: { prices: { file: 'prices.csv' } } }
  const spec = reportOf({ n: 'count()' }, { rows: 'plant' }, plain)
  const exhibits = spec.exhibits.map((exhibit) => ({ ...exhibit, period: '2025' }))
  expect(await codes({ ...spec, exhibits }, PRICES)).toEqual(['no-date'])
  expect(await codes({ ...spec, period: '2025' }, PRICES)).toEqual(['no-date'])
  expect(await codes({ ...spec, period: 'all' }, PRICES)).toEqual([])
})

const MONTHS =
  'shop,region,target,2025-01,2025-02,2025-03\nLarkmoor,Coast,100,10,20,30\nQuay Lane,Coast,50,1,,3\nOld Mill,Valley,70,4,5,6\n'

function stackedReport(measures: Record<string, unknown>, more: object = {}): ReportSpec {
  const stack = { columns: ['2025-01', '2025-02', '2025-03'], name: 'month', value: 'takings' }
  return reportOf(
    measures,
    { rows: 'region' },
    { sources: { prices: { file: 'prices.csv', date: 'month', stack } }, ...more },
  )
}

test('1.7 a column that was not stacked is added once a row, or refused with the way to say it', async () => {
  for (const formula of ['sum(target)', 'count(target)', 'stdev(target)', 'percentile(target, 25%)'])
    expect([formula, await codes(stackedReport({ x: formula }), MONTHS)]).toEqual([formula, ['repeated-stacked']])
  const [problem] = await checkReportData(stackedReport({ x: 'sum(target)' }), { prices: MONTHS })
  expect(problem.message).toContain('would count it 3 times')
  expect(problem.message).toContain('sum(target) where month = 2025-01')
  // The reported fix works, in a subtotal as in a row, and for a field of such columns alone.
  const said = await values(stackedReport({ x: 'sum(target) where month = 2025-01', t: 'sum(takings)' }), MONTHS)
  expect(said).toEqual({ 'Coast x': 150, 'Coast t': 64, 'Valley x': 70, 'Valley t': 15 })
  const field = { fields: { prices: { twice: 'target * 2', both: 'target + takings' } } }
  expect(await codes(stackedReport({ x: 'sum(twice)' }, field), MONTHS)).toEqual(['repeated-stacked'])
  // Aggregates that are not affected by stacking are unchanged.
  expect(
    await codes(
      stackedReport({ x: 'sum(both)', y: 'mean(target)', z: 'highest(target)', n: 'count()' }, field),
      MONTHS,
    ),
  ).toEqual([])
  const expected = (target: number): ReportSpec =>
    stackedReport(
      { t: 'sum(takings)' },
      {
        sources: {
          prices: {
            file: 'prices.csv',
            date: 'month',
            stack: { columns: ['2025-01', '2025-02', '2025-03'], name: 'month', value: 'takings' },
            expect: { target, takings: 79 },
          },
        },
      },
    )
  expect((await openReport(expected(220), { prices: MONTHS })).title).toBe('T')
  await expect(openReport(expected(660), { prices: MONTHS })).rejects.toThrow('220')
})

test('1.9 shares within a key that keeps few: shops and the rest divide by what they gather', async () => {
  const row = fc.record({
    shop: fc.constantFrom('Larkmoor', 'Quay Lane', 'Saltmarsh', 'Old Mill', 'Heatherby'),
    line: fc.constantFrom('Roses', 'Shrubs', 'Meadow seed'),
    amount: fc.integer({ min: 1, max: 900 }),
  })
  await fc.assert(
    fc.asyncProperty(fc.array(row, { minLength: 12, maxLength: 40 }), async (rows) => {
      const csv = `date,shop,line,amount\n${rows.map((r) => `2025-01-01,${r.shop},${r.line},${r.amount}`).join('\n')}\n`
      const measures = {
        amount: 'sum(amount)',
        ofShop: 'share(sum(amount)) within shop',
        ofLine: 'share(sum(amount)) within line',
        ofAll: 'share(sum(amount))',
      }
      const table = { rows: { key: 'shop', first: 2, others: 'The rest' }, columns: 'line', totals: 'bottom' }
      const report = reportOf(measures, table)
      const [exhibit] = (await openReport(report, { prices: csv })).exhibits
      if (!('rows' in exhibit)) throw new Error('a table was expected')
      const sum = (of: (r: (typeof rows)[number]) => boolean): number =>
        rows.filter(of).reduce((total, r) => total + r.amount, 0)
      const kept = exhibit.rows.map((r) => r.heading.text).filter((label) => label !== 'The rest' && label !== 'Total')
      for (const r of exhibit.rows) {
        const label = r.heading.text
        if (label === 'Total') continue
        const mine = (row: (typeof rows)[number]): boolean =>
          label === 'The rest' ? !kept.includes(row.shop) : row.shop === label
        for (const cell of r.cells) {
          if (cell === null || cell.value === null || cell.measure === 'amount' || cell.column.length === 0) continue
          const line = cell.column[0].value
          const total = sum((x) => mine(x) && x.line === line)
          const whole = { ofShop: sum(mine), ofLine: sum((x) => x.line === line), ofAll: sum(() => true) }
          const wanted = total / whole[cell.measure as 'ofAll']
          expect(Math.abs(cell.value - wanted), `${label} ${line} ${cell.measure}`).toBeLessThan(1e-12)
        }
      }
    }),
    { seed: 19, numRuns: 30 },
  )
})

test('1.9 the same key twice is refused; what is too large to be a number is reported', async () => {
  for (const table of [
    { rows: ['plant', 'plant'] },
    { rows: 'plant', columns: 'plant' },
    { rows: 'plant', columns: ['shop', 'shop'] },
  ])
    expect(await codes(reportOf({ n: 'count()' }, table), PRICES)).toEqual(['key-twice'])
  const large = 'date,plant,price\n2025-01-01,Rose,1e200\n2025-01-01,Sage,2\n'
  const report = reportOf({ n: 'sum(price) * sum(price)', m: 'sum(price)' }, { rows: 'plant' })
  const [exhibit] = (await openReport(report, { prices: large })).exhibits
  expect(exhibit.messages.join()).toContain('n is too large to be a number in 1 cell')
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  expect(exhibit.rows.map((r) => r.cells[0]?.text)).toEqual(['∞', '4'])
  expect(exhibit.rows[0].cells[0]?.value).toBe(null)
})
