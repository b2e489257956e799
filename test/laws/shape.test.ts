import { type Cell, checkReportData, openReport, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'

const source = { s: { file: 's.csv' } }

async function rowsOf(
  report: object,
  csv: string,
  more: object = {},
): Promise<{ rows: string[]; cells: Cell[]; messages: readonly string[] }> {
  const page = await openReport({ title: 'T', sources: source, ...more, ...report } as unknown as ReportSpec, {
    s: csv,
  })
  const [exhibit] = page.exhibits
  if (exhibit.kind === 'chart') {
    return {
      rows: exhibit.points.map((p) => `${exhibit.places[p.place].label} ${p.value} ${p.level.row}`),
      cells: [...exhibit.points],
      messages: exhibit.messages,
    }
  }
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  const rows = exhibit.rows.map(
    (r) => `${r.heading.text} ${r.cells.map((c) => c?.value ?? '–').join(' ')} ${r.heading.level}`,
  )
  return { rows, cells: exhibit.rows.flatMap((r) => r.cells.filter((c) => c !== null)), messages: exhibit.messages }
}

const CSV = `region,shop,x,n
N,a,1,1
N,b,5,2
N,c,3,3
S,d,7,1
S,e,2,4
S,,9,9
`

test('the first few are kept, the others are one row worked out from their own rows, and the total is of all', async () => {
  const measures = { x: 'sum(x)', per: 'sum(x) / sum(n)', middle: 'median(x)', part: 'share(sum(x))' }
  const table = { rows: { key: 'shop', first: 2, others: 'Others' }, show: Object.keys(measures), totals: 'bottom' }
  const { rows } = await rowsOf({ measures, exhibits: [{ table }] }, CSV)
  expect(rows).toEqual([
    '(no shop) 9 1 9 0.33333333333333 detail',
    'd 7 7 7 0.25925925925926 detail',
    'Others 11 1.1 2.5 0.40740740740741 subtotal',
    'Total 27 1.35 4 1 total',
  ])
})

test('the rest so far, of what merges and of what does not, against its own rows', async () => {
  const csv = 'date,shop,x\n2025-01-05,a,100\n2025-01-06,b,1\n2025-02-05,c,4\n2025-02-06,b,9\n2025-02-07,,2\n'
  const measures = { x: 'sum(x)', soFar: 'sofar(x, year)', middle: 'sofar(median(x), year)' }
  const table = { rows: { key: 'shop', first: 1, others: 'Others' }, columns: 'month', show: Object.keys(measures) }
  const { cells } = await rowsOf({ measures, exhibits: [{ table }] }, csv, {
    sources: { s: { file: 's.csv', date: 'date' } },
  })
  // Of January 1; then 1, 4, 9 and 2.
  expect(cells.slice(-6).map((c) => c.value)).toEqual([1, 1, 1, 15, 16, 3])
})

test('inside each group; without a name the others are left out; in a chart too', async () => {
  const measures = { x: 'sum(x)' }
  const nested = { rows: ['region', { key: 'shop', first: 1, others: 'Others' }], show: 'x', totals: 'bottom' }
  expect((await rowsOf({ measures, exhibits: [{ table: nested }] }, CSV)).rows).toEqual([
    ...['S – subtotal', '(no shop) 9 detail', 'Others 9 subtotal', 'S, total 18 subtotal'],
    ...['N – subtotal', 'b 5 detail', 'Others 4 subtotal', 'N, total 9 subtotal', 'Total 27 total'],
  ])
  const least = { rows: { key: 'shop', first: 2 }, show: 'x', totals: 'bottom', sort: 'x' }
  expect((await rowsOf({ measures, exhibits: [{ table: least }] }, CSV)).rows).toEqual([
    'a 1 detail',
    'e 2 detail',
    'Total 27 total',
  ])
  const chart = { along: { key: 'shop', first: 2, others: 'Others' }, show: 'x' }
  expect((await rowsOf({ measures, exhibits: [{ chart }] }, CSV)).rows).toEqual([
    '(no shop) 9 detail',
    'd 7 detail',
    'Others 11 subtotal',
  ])
})

test('the rest is a subtotal: rules over details neither paint it nor count it', async () => {
  const report = {
    measures: { x: 'sum(x)' },
    rules: [{ paint: 'x', bands: [{ above: 'mean(x)', style: { weight: 'bold' } }] }],
    exhibits: [{ table: { rows: { key: 'shop', first: 3, others: 'Others' }, show: 'x' } }],
  }
  const { cells } = await rowsOf(report, CSV)
  // The mean of 9, 7 and 5 is 7; with the 6 of the others it would be 6.75.
  expect(cells.map((c) => c.style.weight)).toEqual(['bold', null, null, null])
})

test('whatever is kept, kept and rest together are the whole', async () => {
  const row = fc.tuple(
    fc.constantFrom('a', 'b', 'c', 'd', 'e', ''),
    fc.constantFrom('N', 'S'),
    fc.integer({ min: -9, max: 9 }),
  )
  await fc.assert(
    fc.asyncProperty(
      fc.array(row, { minLength: 1, maxLength: 40 }),
      fc.integer({ min: 1, max: 7 }),
      async (list, keep) => {
        const csv = `shop,region,x\n${list.map((r) => r.join(',')).join('\n')}\n`
        const table = {
          rows: { key: 'shop', first: keep, others: '…' },
          columns: 'region',
          show: 'x',
          totals: { rows: 'bottom', columns: 'right' },
        }
        const report = { measures: { x: 'sum(x)' }, exhibits: [{ table }] }
        const { cells } = await rowsOf(report, csv, { sources: { s: { file: 's.csv', read: { shop: 'text' } } } })
        const width = cells.length / new Set(cells.map((c) => JSON.stringify(c.row))).size
        for (let column = 0; column < width; column++) {
          const own = cells.filter((_, i) => i % width === column)
          const total = own.at(-1)?.value ?? null
          expect(own.slice(0, -1).reduce((a, c) => a + (c.value ?? 0), 0)).toBe(total ?? 0)
          expect(own.filter((c) => c.level.row === 'detail').length).toBeLessThanOrEqual(keep)
        }
      },
    ),
    { seed: 7, numRuns: 60 },
  )
})

test('a given order stands first, and names that nobody has are said; keys are turned with a minus', async () => {
  const measures = { x: 'sum(x)' }
  const given = { rows: { key: 'shop', order: ['e', 'a', 'zz'] }, show: 'x' }
  const table = await rowsOf({ measures, exhibits: [{ table: given }] }, CSV)
  expect(table.rows.map((r) => r[0])).toEqual(['e', 'a', 'b', 'c', 'd', '('])
  expect(table.messages).toEqual(['the order of shop names values that do not occur: zz'])
  const turned = { rows: ['region', 'shop'], show: 'x', sort: ['-region', '-shop'] }
  expect((await rowsOf({ measures, exhibits: [{ table: turned }] }, CSV)).rows.map((r) => r[0])).toEqual([
    ...'Sed(Ncba',
  ])
  const both = { rows: ['region', 'shop'], show: 'x', sort: ['-region', 'x'] }
  expect((await rowsOf({ measures, exhibits: [{ table: both }] }, CSV)).rows.map((r) => r[0])).toEqual([...'Sed(Nacb'])
})

test('what cannot be kept or sorted is a problem', async () => {
  const codes = async (table: object): Promise<string[]> =>
    (
      await checkReportData(
        {
          title: 'T',
          sources: source,
          measures: { x: 'sum(x)' },
          exhibits: [{ table: { show: 'x', ...table } }],
        } as unknown as ReportSpec,
        { s: CSV },
      )
    ).map((p) => p.code)
  expect(await codes({ rows: 'shop', columns: { key: 'region', first: 1 } })).toEqual(['first-columns'])
  expect(await codes({ rows: { key: 'n', first: 1 } })).toEqual(['first-text'])
  expect(await codes({ rows: { key: 'shop', others: 'Others' } })).toEqual(['others-alone'])
  expect(await codes({ rows: 'shop', sort: ['x', 'y'] })).toEqual(['bad-sort'])
})

test('columns side by side become pairs, and pairs become columns; either way the same numbers', async () => {
  const wide = 'shop,2025-01,2025-02\na,1,2\nb,,5\n'
  const long = 'shop,month,value\na,2025-01,1\na,2025-02,2\nb,2025-02,5\n'
  const report = {
    measures: { x: 'sum(value)' },
    exhibits: [{ table: { rows: 'shop', columns: 'month', show: 'x', totals: 'bottom' } }],
  }
  const stack = { columns: ['2025-01', '2025-02'], name: 'month', value: 'value' }
  const stacked = await rowsOf(report, wide, { sources: { s: { file: 's.csv', date: 'month', stack } } })
  expect(stacked.rows).toEqual((await rowsOf(report, long, { sources: { s: { file: 's.csv', date: 'month' } } })).rows)
  const pairs = 'shop,item,value\na,sales,10\na,cost,4\nb,sales,20\na,sales,1\n'
  const profit = {
    measures: { sales: 'sum(sales)', profit: 'sum(sales - cost)', n: 'count()' },
    exhibits: [{ table: { rows: 'shop', show: ['sales', 'profit', 'n'] } }],
  }
  const unstacked = await rowsOf(profit, pairs, {
    sources: { s: { file: 's.csv', unstack: { name: 'item', value: 'value' } } },
  })
  // A second value of one name begins a new row: nothing is added.
  expect(unstacked.rows).toEqual(['a 11 6 2 detail', 'b 20 – 1 detail'])
})

test('a value stacked of unlike measures is put together only where it is said which', async () => {
  const csv = 'shop,item,value\na,sales,10\na,pieces,4\n'
  const codes = async (formula: string, more: object = {}, fields: object = {}): Promise<string[]> => {
    const sources = { s: { file: 's.csv', stack: { name: 'item', value: 'value' } } }
    const report = {
      title: 'T',
      sources,
      fields,
      measures: { x: formula },
      exhibits: [{ table: { rows: 'shop', show: 'x' } }],
      ...more,
    }
    return (await checkReportData(report as unknown as ReportSpec, { s: csv })).map((p) => p.code)
  }
  expect(await codes('sum(value)')).toEqual(['unlike-stacked'])
  expect(await codes('mean(value) where value > 2')).toEqual(['unlike-stacked'])
  expect(await codes('sum(double)', {}, { s: { double: 'value * 2' } })).toEqual(['unlike-stacked'])
  expect(await codes("sum(value) where item = 'sales'")).toEqual([])
  expect(await codes("sum(value) where value > 2 and item = 'sales'")).toEqual([])
  expect(await codes('sum(value)', { where: "item = 'sales'" })).toEqual([])
  expect(await codes('count()')).toEqual([])
})

test('keys are called what their labels say; a label of nothing is a problem', async () => {
  const sources = { s: { file: 's.csv', labels: { shop: 'Garden shop', region: 'sales region' } } }
  const report = {
    title: 'T',
    sources,
    measures: { x: 'sum(x)' },
    exhibits: [{ table: { rows: ['region', 'shop'], show: 'x' } }, { chart: { along: 'shop', show: 'x' } }],
  }
  const page = await openReport(report as unknown as ReportSpec, { s: CSV })
  expect(page.exhibits.map((e) => (e.kind === 'chart' ? e.along : 'corner' in e ? e.corner : ''))).toEqual([
    'Sales region, Garden shop',
    'Garden shop',
  ])
  const wrong = { ...report, sources: { s: { file: 's.csv', labels: { shpo: 'x' } } } }
  expect((await checkReportData(wrong as unknown as ReportSpec, { s: CSV })).map((p) => p.message).join()).toContain(
    'did you mean shop?',
  )
})
