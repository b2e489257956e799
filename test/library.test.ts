import { fromColumns, fromRows, type PaintSpec, ProblemError, paint, printProblem, type RuleSpec } from 'acuarela'
import { toData, toJson } from 'acuarela/data'
import { toHtml } from 'acuarela/html'
import { checkReportData, openReport, type ReportSpec, readCsv, readReport } from 'acuarela/report'
import { expect, test } from 'vitest'

const CSV =
  'date,region,shop,amount,cost\n2025-01-05,Coast,Larkmoor,10,4\n2025-02-07,Coast,Quay Lane,30,20\n2025-02-09,Valley,Old Mill,20,15\n'
const REPORT: ReportSpec = {
  title: 'Shops',
  sources: { sales: { file: 'sales.csv', date: 'date' } },
  fields: { sales: { profit: 'amount - cost', double: 'profit * 2' } },
  measures: { revenue: 'sum(amount)', margin: { formula: 'sum(profit) / sum(amount)', format: 'percent 1' } },
  parameters: { target: 15 },
  statuses: { ahead: { wash: 'aqua', icon: 'tick' } },
  rules: [{ paint: 'revenue', bands: [{ atLeast: 'target', status: 'ahead' }] }],
  exhibits: [{ name: 'shops', table: { rows: 'shop', show: ['revenue', 'margin'] } }],
}

/** The codes and places of the problems. */
async function refused(run: () => unknown): Promise<string[]> {
  try {
    await run()
  } catch (error) {
    if (error instanceof ProblemError) return error.problems.map((p) => `${p.code} ${(p.place.path ?? []).join('.')}`)
    throw error
  }
  return []
}

const painted = (spec: Partial<PaintSpec>): Promise<string[]> =>
  refused(() => paint(fromRows([{ x: 1, y: 2, word: 'a' }]), { rules: [], ...spec }))

test('everything wrong with rules, statuses and parameters comes in one error', async () => {
  expect(
    await painted({
      parameters: { goal: 'many' },
      statuses: { a: { wash: 'grass' }, b: { ink: 'nocolour', icon: 'star' } },
      rules: [
        { paint: 'z', bands: [{ above: 1, status: 'c' }] },
        { paint: ['x', 'y'], bands: [{ above: 'q', status: 'a' }, { status: 'a' }] },
        { paint: 'x' } as RuleSpec,
        { paint: 'x', rank: { top: 0, status: 'a' } },
        { paint: 'x', rank: { top: 1, bottom: 1, status: 'a' } },
        { paint: 'x', rank: { best: 1, status: 'a' } },
        {
          paint: 'x',
          rank: {
            split: [
              { share: '60%', status: 'a' },
              { share: '50%', status: 'b' },
            ],
          },
        },
        { paint: 'x', gradient: { ramp: ['aqua'] } },
        { paint: 'x', gradient: { ramp: ['aqua', 'moss'], from: 'x' } },
        { paint: 'x', gradient: { ramp: ['aqua', 'indigo'], middle: 0 } },
        { paint: 'x', judge: 'word', gradient: { ramp: ['aqua', 'indigo'] } },
        { paint: 'x', bands: [{ above: 0 }] },
        { paint: 'x', within: 'shop', where: 'x + 1', bands: [{ above: 0, status: 'a' }] },
        { paint: [], bands: [{ above: 0, status: 'a' }] },
        { name: 'n', paint: 'x', bands: [{ above: 0, status: 'a' }] },
        { name: 'n', paint: 'x', bands: [{ above: 0, status: 'a' }] },
      ],
    }),
  ).toEqual([
    'wrong-shape rules.13.paint',
    'unknown-pigment statuses.a.wash',
    'unknown-color statuses.b.ink',
    'unknown-icon statuses.b.icon',
    'parameter-value parameters.goal',
    'two-of-a-name rules.15.name',
    'unknown-measure rules.0.paint',
    'unknown-status rules.0.bands.0.status',
    'unknown-name rules.1.bands.0.above',
    'empty-band rules.1.bands.1',
    'one-kind rules.2',
    'count-or-share rules.3.rank.top',
    'one-rank rules.4.rank',
    'better-needed rules.5.rank.best',
    'share-over rules.6.rank.split',
    'ramp-short rules.7.gradient.ramp',
    'unknown-color rules.8.gradient.ramp.1',
    'constant-limit rules.8.gradient.from',
    'middle-of-two rules.9.gradient.middle',
    'wrong-type rules.10.gradient',
    'no-look rules.11.bands.0',
    'wrong-type rules.12.where',
    'unknown-dimension rules.12.within',
  ])
})

test('a gradient whose ends are turned around leaves its cells alone, and says so', () => {
  const painting = paint(fromColumns({ x: Float64Array.of(1, 2) }), {
    rules: [{ paint: 'x', gradient: { ramp: ['indigo', 'coral'], from: 5, to: 'highest' } }],
  })
  expect(painting.cell(0, 'x').fill).toBeNull()
  expect(painting.notes).toEqual(['the gradient runs from 5 to 2, which is lower; swap them and turn the ramp instead'])
})

test('records of any kind become typed columns, and what differs becomes text', () => {
  const table = fromRows([
    { n: 1, t: 'a', c: true, d: new Date(Date.UTC(2025, 0, 2, 23)), mixed: 'y', gone: null },
    { n: undefined, t: null, c: false, d: null, mixed: 'x' },
    { n: 2, t: 'b', c: null, d: null, mixed: 1 },
  ])
  expect([...table.columns.values()].map((c) => [c.name, c.column.kind])).toEqual([
    ['n', 'number'],
    ['t', 'text'],
    ['c', 'condition'],
    ['d', 'date'],
    ['mixed', 'text'],
    ['gone', 'text'],
  ])
  expect(() => fromColumns({ a: Float64Array.of(1), b: [1, 2] })).toThrow('b has 2 values, and the first column 1')
})

test('what is given is not changed, and later changes to it do not show', () => {
  const x = Float64Array.of(1, 5)
  const table = fromColumns({ x })
  x[0] = 99
  const painting = paint(table, { rules: [{ paint: 'x', bands: [{ above: 4, style: { weight: 'bold' } }] }] })
  expect([painting.cell(0, 'x').weight, painting.cell(1, 'x').weight]).toEqual([null, 'bold'])
})

test('paint: all paints every number column, each a population of its own', () => {
  const table = fromColumns({ a: Float64Array.of(1, 2), b: Float64Array.of(200, 100), word: ['x', 'y'] })
  const painting = paint(table, { statuses: { top: {} }, rules: [{ paint: 'all', rank: { top: 1, status: 'top' } }] })
  expect([0, 1].map((i) => [painting.cell(i, 'a').status, painting.cell(i, 'b').status])).toEqual([
    [null, 'top'],
    ['top', null],
  ])
  expect(painting.column('word')).toBeUndefined()
  expect(painting.column('a')?.ids).toHaveLength(2)
})

test('a report is the same as text, as JSON, as an object and as read; its data as text and as a table', async () => {
  const page = JSON.stringify(toData(await openReport(REPORT, { sales: CSV })))
  expect(JSON.stringify(toData(await openReport(JSON.stringify(REPORT), { sales: CSV })))).toBe(page)
  expect(JSON.stringify(toData(await openReport(readReport(REPORT), { sales: readCsv(CSV, { date: 'date' }) })))).toBe(
    page,
  )
  expect(JSON.parse(toJson(await openReport(REPORT, { sales: CSV })))).toEqual(JSON.parse(page))
  const rows = [{ date: new Date(Date.UTC(2025, 0, 5)), shop: 'Larkmoor', region: 'Coast', amount: 10, cost: 4 }]
  const small = await openReport(REPORT, { sales: fromRows(rows) })
  const [first] = small.exhibits
  expect('rows' in first && first.rows[0].cells.map((c) => c?.text)).toEqual(['10', '60.0%'])
})

test('settings change one run: parameters, conditions, period and date', async () => {
  const text = async (settings: object): Promise<string> => {
    const [first] = (
      await openReport(
        { ...REPORT, exhibits: [{ table: { rows: 'shop', show: 'revenue' } }] },
        { sales: CSV },
        settings,
      )
    ).exhibits
    return !('rows' in first)
      ? ''
      : first.rows.map((r) => `${r.heading.text} ${r.cells[0]?.text} ${r.cells[0]?.style.status}`).join('; ')
  }
  expect(await text({})).toBe('Larkmoor 10 null; Old Mill 20 ahead; Quay Lane 30 ahead')
  expect(await text({ parameters: { target: '25' } })).toBe('Larkmoor 10 null; Old Mill 20 null; Quay Lane 30 ahead')
  expect(await text({ where: "region = 'Coast'", period: '2025-02' })).toBe('Quay Lane 30 ahead')
  expect(await text({ asOf: '2025-02-08' })).toBe('Larkmoor 10 null; Quay Lane 30 ahead')
  expect(await text({ asOf: 'today', today: 20_124 })).toBe('Larkmoor 10 null')
})

test('all problems of a report come at once, and without data columns are taken on trust', async () => {
  const bad: ReportSpec = {
    ...REPORT,
    fields: { sales: { profit: 'amount - cots', loop: 'loop2', loop2: 'loop + 1' } },
    measures: { revenue: 'sum(amuont)', x: 'revenue +' },
    exhibits: [
      { table: { rows: 'shpo', show: 'reveneu' } },
      {},
      { chart: { along: 'month', show: 'x', references: [{ at: 'tagret' }] } },
    ],
  }
  expect(await refused(() => openReport(bad, { sales: CSV }))).toEqual([
    'unknown-name fields.sales.profit',
    'circle fields.sales.loop',
    'unknown-name measures.revenue',
    'expression-end measures.x',
    'unknown-dimension exhibits.0.table.rows',
    'unknown-measure exhibits.0.table.show',
    'wrong-shape exhibits.1',
    'unknown-name exhibits.2.chart.references.0.at',
  ])
  const blind = (await checkReportData(bad)).map((p) => p.code)
  expect(blind).toEqual(['expression-end', 'unknown-measure', 'wrong-shape', 'unknown-name'])
  expect(await checkReportData(REPORT, { sales: CSV })).toEqual([])
  expect((await checkReportData({ ...REPORT, fields: {}, sources: {} })).map(printProblem)).toContain(
    'sources: there is no source; name the file that the rows come from',
  )
})

test('data under another name than the source’s, and fields of a source that is none, are reported', async () => {
  expect(await refused(() => openReport(REPORT, { orders: CSV }))).toEqual(['no-data sources.sales'])
  const other = { ...REPORT, fields: { sale: { profit: 'amount - cost' } } }
  expect(await refused(() => openReport(other, { sales: CSV }))).toContain('unknown-source fields.sale')
})

test('a status of several bands keeps all its limits in the legend; a rule whose grain an exhibit lacks is silent', async () => {
  const bands = [
    { above: 25, status: 'ahead' },
    { below: 15, status: 'ahead' },
  ]
  const page = await openReport(
    {
      ...REPORT,
      rules: [
        { paint: 'revenue', bands },
        { paint: 'revenue', grain: 'region', bands },
      ],
    },
    { sales: CSV },
  )
  const [{ legends, messages: notes }] = page.exhibits
  expect(legends.map((l) => l.entries.map((e) => `${e.limit}: ${e.count}`))).toEqual([['above 25 or below 15: 2']])
  expect(notes).toEqual([])
})

test('an exhibit stands beside the one right before it', async () => {
  const [first] = REPORT.exhibits
  const exhibits = [
    first,
    { ...first, name: 'b', beside: 'c' },
    { ...first, name: 'c', beside: 'shops' },
    { ...first, name: 'd', beside: 'c' },
    { ...first, name: 'e', beside: 'x' },
  ]
  const at = ['beside-before exhibits.1.beside', 'beside-before exhibits.2.beside', 'unknown-exhibit exhibits.4.beside']
  expect(await refused(() => openReport({ ...REPORT, exhibits }, { sales: CSV }))).toEqual(at)
})

test('time needs dates', async () => {
  const timeless = {
    ...REPORT,
    sources: { sales: { file: 's.csv' } },
    exhibits: [{ chart: { along: 'month', show: 'revenue' } }],
  }
  expect(await refused(() => openReport(timeless, { sales: CSV }))).toEqual(['no-date exhibits.0.chart.along'])
  expect(await refused(() => openReport({ ...timeless, period: 'this year' }, { sales: CSV }))).toContain(
    'no-date period',
  )
  const page = await openReport(
    { ...timeless, exhibits: [{ table: { rows: 'shop', show: 'revenue' } }] },
    { sales: CSV },
  )
  expect([page.asOf, page.exhibits[0].periodText]).toEqual([null, ''])
})

test('charts need no browser, and are drawn the same each time', async () => {
  const page = await openReport(
    { ...REPORT, exhibits: [{ chart: { along: 'shop', show: 'revenue' } }] },
    { sales: CSV },
  )
  expect(await toHtml(page)).toContain('<svg')
  expect(await toHtml(page)).toBe(await toHtml(page))
})

test('a rule judged by another measure, and one that hides what it matched', async () => {
  const page = await openReport(
    {
      ...REPORT,
      rules: [
        {
          name: 'by-margin',
          paint: 'revenue',
          judge: 'margin',
          hide: 'value',
          bands: [{ atLeast: '50%', status: 'ahead' }],
        },
      ],
    },
    { sales: CSV },
  )
  const [first] = page.exhibits
  if (!('rows' in first)) throw new Error('a table was expected')
  expect(first.rows.map((r) => [r.heading.text, r.cells[0]?.style.hide])).toEqual([
    ['Larkmoor', 'value'],
    ['Old Mill', null],
    ['Quay Lane', null],
  ])
  expect(first.legends[0].entries[0]).toMatchObject({ limit: '50.0% or more', count: 1 })
  const html = await toHtml(page)
  expect(html).toContain('title="Larkmoor: revenue 10, ahead"')
  expect(html).toContain('<span class=v>10</span>')
})

test('names that a key, value, function, icon or pigment had before are refused with the one it has now', async () => {
  const old = {
    title: 'Old names',
    sources: { sales: { file: 'sales.csv' } },
    uses: ['house.acuarela.yaml'],
    measures: { r: 'sum(amount)', d: 'smaller(1, 2)', e: 'sum(r) within everything' },
    statuses: { a: { means: 'good', wash: 'leaf', icon: 'level' }, b: { fill: 'clay' } },
    rules: [
      { paint: 'r', levels: 'totals', seal: true, bands: [{ oneOf: [1], status: 'a' }] },
      { paint: ['r', 'd'], together: true, gradient: { ramp: 'judged', shades: 3, gives: 'ink' } },
      { paint: 'r', among: 'everything', rank: { split: [{ share: '10%', status: 'a' }, { rest: 'a' }] } },
      { paint: 'r', bar: { wash: 'sea' } },
      { paint: 'r', borrow: { status: 'state' } },
    ],
    exhibits: [
      { chart: { along: 'month', each: 'shop', show: { show: 'r', draw: 'bars' }, lying: true, lines: [{ at: 3 }] } },
      { words: { of: 'r', by: 'shop' } },
      { plain: 'beside', table: { rows: { key: 'shop', keep: 3, rest: 'Others' }, show: { show: 'r', draw: 'dot' } } },
      { records: { show: 'shop', one: true } },
    ],
    proof: { ignore: [{ finding: 'crowded', because: 'x' }] },
  } as unknown as ReportSpec
  const problems = await checkReportData(old)
  expect(problems.map(({ code }) => code)).toEqual(problems.map(() => 'renamed'))
  const named = problems.map(({ message }) => / is called (.*) now$/.exec(message)?.[1]).sort()
  expect(named).toEqual(
    (
      'include least verdict aqua sideways coral final in oneScale badToGood steps as otherwise color ' +
      'fromColumn panels bar horizontal references reading besideUnpainted first others point oneAtATime code'
    )
      .split(' ')
      .concat(['within all', 'among: unfiltered', '[subtotal, total]'])
      .sort(),
  )
})

test('the strip counts statuses of whole rows, too; the one that is named, or none', async () => {
  const spec = {
    title: 'Rows',
    sources: { s: { file: 's.csv' } },
    measures: { amount: 'sum(amount)', cost: 'sum(cost)' },
    statuses: { big: { wash: 'aqua' }, small: { wash: 'coral' } },
    rules: [
      {
        paint: 'row',
        judge: 'amount',
        bands: [
          { atLeast: 30, status: 'big' },
          { below: 20, status: 'small' },
        ],
      },
    ],
    exhibits: [{ name: 't', table: { rows: 'shop', show: ['amount', 'cost'], totals: 'bottom' } }],
  } as const
  const data = { s: 'shop,amount,cost\na,10,1\nb,20,2\nc,30,3\nd,40,\ne,,5\n' }
  const counts = async (strip?: string): Promise<unknown> => {
    const page = await openReport({ ...spec, ...(strip !== undefined && { strip }) } as never, data)
    return page.strip && [page.strip.measure, ...page.strip.parts.map(({ label, count }) => `${label} ${count}`)]
  }
  expect(await counts()).toEqual(['amount', 'big 2', 'small 1', 'no status 1', 'no value 1'])
  // The same rows by another measure: d has no cost and keeps its status.
  expect(await counts('t.cost')).toEqual(['cost', 'big 2', 'small 1', 'no status 2', 'no value 0'])
  expect(await counts('none')).toBeNull()
  await expect(counts('t.amuont')).rejects.toThrow('t.amuont; did you mean t.amount?')
})

test('a period that ends after the date of the report is marked in headings, charts and trends, and said', async () => {
  const data = { s: 'day,amount\n2025-02-10,5\n2025-03-31,7\n2025-04-17,9\n' }
  const spec = {
    title: 'Months',
    locale: 'en-GB',
    sources: { s: { file: 's.csv', date: 'day' } },
    measures: { amount: 'sum(amount)' },
    exhibits: [
      { name: 'rows', table: { rows: 'month', show: 'amount' } },
      {
        name: 'years',
        table: { rows: 'year', show: ['amount', { trend: { of: 'amount', along: 'month' }, label: 'L' }] },
      },
      { name: 'chart', chart: { along: 'month', show: { show: 'amount', draw: 'line', labels: 'ends' } } },
    ],
  }
  const page = await openReport(spec as never, data)
  const [rows, years, chart] = page.exhibits
  if (!('rows' in rows) || !('rows' in years) || chart.kind !== 'chart') throw new Error('other kinds')
  expect(rows.rows.map(({ heading }) => heading.text)).toEqual(['Feb 2025', 'Mar 2025', 'Apr 2025, to 17'])
  expect(rows.messages).toEqual(['Apr 2025 is not finished: its data end on 17 April 2025'])
  expect(years.rows.map(({ heading }) => heading.text)).toEqual(['2025, to 17 Apr'])
  expect(years.rows[0].trends[0]?.points.map(({ unfinished }) => unfinished)).toEqual([false, false, true])
  expect(chart.places.map(({ until }) => until)).toEqual(['', '', '17'])
  expect(chart.series[0].labels).toBe('ends')
  // A month that ends on the date of the report is finished.
  const whole = await openReport({ ...spec, asOf: '2025-03-31' } as never, data)
  expect(whole.exhibits[0].messages).toEqual([])
})
