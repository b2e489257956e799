import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { toJson } from 'acuarela/data'
import { type ChartExhibit, cellsOf, checkReportData, type Exhibit, openReport, type ReportSpec } from 'acuarela/report'
import { toSvg } from 'acuarela/svg'
import { expect, test } from 'vitest'
import { galleryPictures } from '../../scripts/gallery.js'
import { ROOT } from '../support/tool.js'

/** Three shops over two years and a half; a hole in one month of one of them. */
const ROWS: [string, string, string, number, number][] = []
for (let m = 0; m < 30; m++)
  for (const [s, [shop, region]] of [
    ['Ash', 'North'],
    ['Elm', 'North'],
    ['Oak', 'South'],
  ].entries()) {
    if (shop === 'Elm' && m === 26) continue
    const month = `${2023 + Math.floor(m / 12)}-${String((m % 12) + 1).padStart(2, '0')}`
    ROWS.push([`${month}-10`, region, shop, 100 * (s + 1) + ((m * 7) % 50), 60 * (s + 1)])
  }
const CSV = `date,region,shop,amount,cost\n${ROWS.map((row) => row.join(',')).join('\n')}\n`
const BASE = {
  title: 'T',
  locale: 'en-GB',
  period: 'this year',
  sources: { s: { file: 's.csv', date: 'date' } },
  measures: {
    revenue: { formula: 'sum(amount)', label: 'Revenue', format: 'money EUR 0', better: 'higher' },
    before: { formula: 'lag(revenue, 1 year)', label: 'Last year', format: 'money EUR 0' },
    margin: {
      formula: '(sum(amount) - sum(cost)) / sum(amount)',
      label: 'Margin',
      format: 'percent 1',
      better: 'higher',
    },
  },
  parameters: { target: 1000 },
  statuses: {
    good: { label: 'Good', wash: 'aqua', icon: 'tick' },
    bad: { label: 'Bad', wash: 'coral', icon: 'cross' },
  },
  rules: [{ name: 'r', paint: 'revenue', bands: [{ atLeast: 'target', status: 'good' }, { otherwise: 'bad' }] }],
}

async function show(exhibit: object, more: object = {}): Promise<Exhibit> {
  const report = { ...BASE, ...more, exhibits: [{ name: 'x', ...exhibit }] } as unknown as ReportSpec
  return (await openReport(report, { s: CSV })).exhibits[0]
}

/** Sums by hand. */
const sum = (keep: (row: (typeof ROWS)[number]) => boolean, at: 3 | 4 = 3): number =>
  ROWS.filter(keep).reduce((total, row) => total + row[at], 0)
const year = (shop: string, of: number): number =>
  sum((r) => r[2] === shop && r[0] >= `${of}-01-01` && r[0] <= `${of}-06-30`)

const codes = async (exhibit: object): Promise<string[]> =>
  (await checkReportData({ ...BASE, exhibits: [{ name: 'x', ...exhibit }] } as unknown as ReportSpec, { s: CSV })).map(
    (p) => p.code,
  )

test('a card tells its change by difference and percent, and says nothing where a base is missing', async () => {
  const cards = await show({
    cards: [
      { show: 'revenue', versus: 'before', note: 'was {before}', trend: { along: 'month' } },
      { show: 'margin', versus: 'margin' },
    ],
  })
  if (cards.kind !== 'cards') throw new Error('cards were expected')
  const now = sum((r) => r[0] >= '2025')
  const then = sum((r) => r[0] >= '2024-01' && r[0] <= '2024-06-31')
  const [first, second] = cards.cards
  expect([first.cell.value, first.versus?.value]).toEqual([now, then])
  const percent = `${now > then ? '+' : '−'}${Math.abs(((now - then) / then) * 100).toFixed(1)}%`
  expect(first.change?.text).toBe(
    `€${Math.abs(now - then)} (${percent}) ${now > then ? 'above' : 'below'} last year (€${then.toLocaleString('en')})`,
  )
  expect(first.note).toBe(`was €${then.toLocaleString('en')}`)
  expect(first.trend?.points.map((p) => p.value)).toEqual(
    ['01', '02', '03', '04', '05', '06'].map((m) => sum((r) => r[0].startsWith(`2025-${m}`))),
  )
  expect(second.change).toEqual({ icon: 'sideways', text: 'the same as margin' })
  const old = await show({ period: '2023', cards: [{ show: 'revenue', versus: 'before', note: 'was {before}' }] })
  if (old.kind !== 'cards') throw new Error('cards were expected')
  expect([old.cards[0].change, old.cards[0].note]).toEqual([null, null])
})

test('words: the whole, every status with its names, the ends, what changed, strong and weak months and runs', async () => {
  const words = await show({ period: 'all', reading: { of: 'revenue', by: 'shop', versus: 'before' } })
  if (words.kind !== 'reading') throw new Error('words were expected')
  const totals = ['Ash', 'Elm', 'Oak'].map((shop) => ({ shop, value: sum((r) => r[2] === shop) }))
  const text = words.sentences.map((s) => s.text).join('\n')
  const euro = (v: number): string => `€${v.toLocaleString('en')}`
  expect(text).toContain(
    `Good: 3 of 3, Oak ${euro(totals[2].value)}, Elm ${euro(totals[1].value)} and Ash ${euro(totals[0].value)}.`,
  )
  expect(text).toContain(`Highest is Oak with ${euro(totals[2].value)}, lowest Ash with ${euro(totals[0].value)}.`)
  const months = [...new Set(ROWS.map((r) => r[0].slice(0, 7)))].map((m) => ({ m, v: sum((r) => r[0].startsWith(m)) }))
  const mean = months.reduce((a, { v }) => a + v, 0) / months.length
  const most = months.reduce((a, b) => (b.v > a.v ? b : a))
  const least = months.reduce((a, b) => (b.v < a.v ? b : a))
  const name = (m: string): string =>
    new Intl.DateTimeFormat('en-GB', { month: 'short', year: 'numeric', timeZone: 'UTC' }).format(new Date(`${m}-01`))
  expect(text).toContain(
    `The strongest month is ${name(most.m)} with ${euro(most.v)}, the weakest ${name(least.m)} with ${euro(least.v)}.`,
  )
  const runs: string[][] = [[]]
  for (const { m, v } of months) {
    if (v < mean) runs[runs.length - 1].push(m)
    else runs.push([])
  }
  const longest = runs.filter((run) => run.length > 1).sort((a, b) => b.length - a.length)[0]
  expect(text).toContain(`${longest.length} months from ${name(longest[0])} to ${name(longest[longest.length - 1])}`)
  // An unfinished month is no weak month.
  const early = await show({ period: 'all', reading: { of: 'revenue', by: 'shop' } }, { asOf: '2025-06-12' })
  if (early.kind !== 'reading') throw new Error('words were expected')
  expect(early.sentences.at(-1)?.text).toContain('Jun 2025 is unfinished and left out.')
})

test('a list holds those of a status alone, in one order whatever they are nested in', async () => {
  const list = await show(
    { list: { status: 'bad', of: 'revenue', by: ['region', 'shop'], show: 'margin' } },
    { parameters: { target: 1500 } },
  )
  if (list.kind !== 'list') throw new Error('a list was expected')
  const wanted = ['Ash', 'Elm', 'Oak']
    .filter((shop) => year(shop, 2025) < 1500)
    .sort((a, b) => year(a, 2025) - year(b, 2025))
  expect(wanted.length).toBe(2)
  expect(list.rows.map((row) => [row.heading.text, row.cells[0]?.value])).toEqual(
    wanted.map((shop) => [`${shop === 'Oak' ? 'South' : 'North'}, ${shop}`, year(shop, 2025)]),
  )
  expect(list.note).toBe('2 of 3')
})

test('law 16: records are rows with their numbers; rules compare with all of them, before the first few are taken', async () => {
  const rules = [
    { name: 'top', paint: 'amount', rank: { top: 2, status: 'good' } },
    { name: 'mean', paint: 'margin', bands: [{ above: 'mean(margin)', style: { weight: 'bold' } }] },
  ]
  const exhibit = {
    where: "shop != 'Oak'",
    period: 'all',
    records: { show: ['date', 'shop', 'amount', 'margin'], sort: 'amount', first: 4 },
  }
  const records = await show(exhibit, { rules })
  if (records.kind !== 'records') throw new Error('records were expected')
  const kept = ROWS.map((row, i) => ({ row, record: i + 1 })).filter(({ row }) => row[2] !== 'Oak')
  const order = [...kept].sort((a, b) => a.row[3] - b.row[3] || a.record - b.record)
  expect(records.count).toBe(kept.length)
  expect(records.records.map((r) => [r.record, ...r.cells.slice(0, 3).map((c) => c.value)])).toEqual(
    order.slice(0, 4).map(({ row, record }) => [record, row[0], row[2], row[3]]),
  )
  // The two highest are not among the first four shown, and the text says so.
  expect(records.records.some((r) => r.cells[2].style.status !== null)).toBe(false)
  const all = await show({ ...exhibit, records: { ...exhibit.records, sort: '-amount' } }, { rules })
  if (all.kind !== 'records') throw new Error('records were expected')
  const limit = [...kept].map(({ row }) => row[3]).sort((a, b) => b - a)[1]
  for (const record of all.records)
    expect(record.cells[2].style.status !== null).toBe(Number(record.cells[2].value) >= limit)
  const margins = kept.map(({ row }) => (row[3] - row[4]) / row[3])
  const mean = margins.reduce((a, b) => a + b, 0) / margins.length
  for (const record of all.records)
    expect(record.cells[3].style.weight === 'bold').toBe(Number(record.cells[3].value) > mean)
  // A single row has no other times.
  const timed = await show({ records: { show: ['before'], first: 2 } })
  expect(timed.messages).toContain(
    'Last year needs other rows, of another time or source, so it is missing for a single row',
  )
  const one = await show({ ...exhibit, records: { ...exhibit.records, oneAtATime: true } })
  if (one.kind !== 'records') throw new Error('records were expected')
  const amounts = kept.map(({ row }) => row[3])
  expect(Number(one.averages[2])).toBeCloseTo(amounts.reduce((a, b) => a + b, 0) / amounts.length, 2)
  // A ratio of the whole is a ratio of sums, not a sum of ratios.
  const costs = kept.reduce((a, { row }) => a + row[4], 0)
  const whole = amounts.reduce((a, b) => a + b, 0)
  expect(one.totals[3]).toBe(`${(((whole - costs) / whole) * 100).toFixed(1)}%`)
  // A report that only lists rows needs no measures.
  const { measures: _, ...rowsAlone } = BASE
  const spec = {
    ...rowsAlone,
    rules: [],
    exhibits: [{ records: { show: ['shop', 'amount'], first: 2 } }],
  } as unknown as ReportSpec
  const [listed] = (await openReport(spec, { s: CSV })).exhibits
  expect(listed.kind === 'records' && listed.records.map((r) => r.cells[1].value)).toEqual(
    ROWS.filter(([date]) => date >= '2025')
      .slice(0, 2)
      .map((row) => row[3]),
  )
})

test('a chart has a point for every panel, series and place; missing ones are gaps, stacks add up', async () => {
  const chart = (await show({
    period: 'all',
    chart: { along: 'month', panels: 'region', series: 'shop', show: 'revenue', stacked: true },
  })) as ChartExhibit
  expect(chart.panels.map((p) => p.label)).toEqual(['North', 'South'])
  expect(chart.series.map((s) => s.label)).toEqual(['Ash', 'Elm', 'Oak'])
  expect(chart.points.length).toBe(30 * 3)
  const gap = chart.points.find((p) => p.series === 1 && p.place === 26)
  expect([gap?.value, gap?.text]).toEqual([null, ''])
  for (const point of chart.points) {
    const month = point.row.find((k) => k.name === 'month')?.value ?? ''
    const shop = chart.series[point.series].label
    const row = ROWS.find((r) => r[2] === shop && r[0].startsWith(month))
    expect(point.value).toBe(row === undefined ? null : row[3])
  }
  const svg = await toSvg(
    await openReport(
      { ...BASE, exhibits: [{ name: 'x', chart: { along: 'shop', show: 'revenue' } }] } as unknown as ReportSpec,
      { s: CSV },
    ),
  )
  expect(svg[0].text.match(/<rect[^>]*rx="2"/g)?.length).toBe(3)
  expect(svg[0].text).toContain('Oak: Revenue €')
})

test('a line stands at a number, a parameter, a measure of one value, or a statistic of the cells, for all panels or each; else it is reported', async () => {
  const more = {
    measures: {
      ...BASE.measures,
      goal: { formula: '0 * sum(amount) + 450', label: 'Goal', format: 'money EUR 0' },
    },
  }
  const chart = async (at: string | number, spec: object = {}, label?: string): Promise<ChartExhibit> =>
    (await show(
      { chart: { along: 'month', show: 'revenue', references: [{ at, ...(label && { label }) }], ...spec } },
      more,
    )) as ChartExhibit
  const months = ['01', '02', '03', '04', '05', '06'].map((m) => sum((r) => r[0].startsWith(`2025-${m}`)))
  const mean = months.reduce((total, month) => total + month, 0) / 6
  expect((await chart('target')).references).toMatchObject([{ value: 1000, text: '€1,000' }])
  expect((await chart('goal')).references).toMatchObject([{ value: 450, label: 'Goal' }])
  const [average] = (await chart('mean(revenue)', {}, 'Average')).references
  expect(average.label).toBe('Average')
  expect(average.value).toBeCloseTo(mean, 9)
  expect(average.panel).toBe(undefined)
  const panels = await chart('mean(revenue) within region', { panels: 'region' })
  const of = (region: string): number => sum((r) => r[1] === region && r[0] >= '2025-01-01') / 6
  expect(panels.references.map(({ panel, value }) => [panel, Math.round(value * 1e6)])).toEqual(
    ['North', 'South'].map((region, k) => [k, Math.round(of(region) * 1e6)]),
  )
  const page = await openReport(
    {
      ...BASE,
      ...more,
      exhibits: [
        {
          name: 'x',
          chart: {
            along: 'month',
            panels: 'region',
            show: 'revenue',
            references: [{ at: 'mean(revenue) within region', label: 'Average' }, { at: 'goal' }],
          },
        },
      ],
    } as unknown as ReportSpec,
    { s: CSV },
  )
  const svg = await toSvg(page)
  // Each panel has its own, once, and both have the goal.
  const dashed = svg[0].text.match(/<g[^>]*stroke-dasharray.*?<\/g>/gs) ?? []
  expect(dashed.map((line) => line.match(/<line/g)?.length)).toEqual([2, 2])
  const data = JSON.parse(toJson(page)) as { exhibits: { references: object[] }[] }
  expect(data.exhibits[0].references).toMatchObject([
    ...['North', 'South'].map((region) => ({
      column: { region },
      label: 'Average',
      text: `€${Math.round(of(region)).toLocaleString('en-GB')}`,
    })),
    { column: {}, label: 'Goal', value: 450, text: '€450' },
  ])
  const differs = await chart('before')
  expect([differs.references, differs.messages.filter((note) => note.includes('differs from mark to mark'))]).toEqual([
    [],
    [
      'the line at Last year differs from mark to mark, so it is not drawn across the chart; show it as a mark or a line of its own',
    ],
  ])
  const wrong = {
    chart: { along: 'month', show: 'revenue', references: [{ at: 'margin' }, { at: 'goall' }, { at: "'x'" }] },
  }
  expect(await codes(wrong)).toEqual(['unlike-units', 'unknown-name', 'unlike-types'])
  // In a reference line only the keys of the chart are known.
  const strange = {
    chart: { along: 'month', show: 'revenue', references: [{ at: 'mean(revenue) within region' }, { at: 'amount' }] },
  }
  expect(await codes(strange)).toEqual(['unknown-name', 'unknown-name'])
})

test('law 22: draw: bar takes its scale and colour from a bar rule, else from zero; icons stand where they are wanted', async () => {
  const table = {
    rows: 'shop',
    show: [
      { show: 'revenue', draw: 'bar', icon: 'after' },
      { show: 'margin', draw: 'point' },
      { show: 'revenue', icon: 'alone' },
    ],
  }
  const plain = await show({ table })
  if (!('rows' in plain)) throw new Error('a table was expected')
  const highest = Math.max(...['Ash', 'Elm', 'Oak'].map((shop) => year(shop, 2025)))
  for (const { cells } of plain.rows) {
    expect(cells[0]?.bar).toBeNull()
    expect(cells[0]?.extent?.from).toBe(0)
    expect(cells[0]?.extent?.to).toBeCloseTo(Number(cells[0]?.value) / highest, 3)
    expect([cells[0]?.style.hide, cells[2]?.style.hide]).toEqual([null, 'value'])
  }
  expect(plain.styles.map((s) => `${s.draw} ${s.icon}`)).toEqual(['bar after', 'point before', 'number alone'])
  const ruled = await show({ table }, { rules: [{ paint: 'revenue', bar: { to: 4000, color: 'indigo' } }] })
  if (!('rows' in ruled)) throw new Error('a table was expected')
  for (const { cells } of ruled.rows) expect(cells[0]?.bar?.to).toBeCloseTo(Number(cells[0]?.value) / 4000, 3)
})

test('trends stand with their rows, those of the rest and of totals too, whatever their own time', async () => {
  const table = {
    rows: { key: 'shop', first: 1, others: 'Others' },
    show: ['revenue', { trend: { of: 'revenue', along: 'month', period: '2024' } }],
    totals: 'bottom',
  }
  const exhibit = await show({ table })
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  const months = Array.from({ length: 12 }, (_, i) => `2024-${String(i + 1).padStart(2, '0')}`)
  const line = (shops: string[]): number[] => months.map((m) => sum((r) => shops.includes(r[2]) && r[0].startsWith(m)))
  expect(exhibit.rows.map((row) => [row.heading.text, row.trends[0]?.points.map((p) => p.value)])).toEqual([
    ['Oak', line(['Oak'])],
    ['Others', line(['Ash', 'Elm'])],
    ['Total', line(['Ash', 'Elm', 'Oak'])],
  ])
})

test('mistakes in exhibits are reported, all in one go', async () => {
  expect(
    await codes({ table: { rows: 'shop', show: [{ label: 'x' }, { show: 'revenue', trend: { along: 'month' } }] } }),
  ).toEqual(['show-or-trend', 'show-or-trend'])
  expect(await codes({ table: { rows: 'shop', show: { trend: { along: 'month' }, draw: 'bar' } } })).toEqual([
    'trend-draws',
    'trend-of',
  ])
  expect(
    await codes({
      heatmap: { rows: 'shop', columns: 'month', show: { show: 'revenue', draw: 'bar' }, nest: 'columns' },
    }),
  ).toEqual(['heatmap-draws', 'heatmap-draws'])
  expect(await codes({ chart: { along: 'month', show: ['revenue', 'margin'] } })).toEqual(['chart-units'])
  expect(
    await codes({
      chart: {
        along: 'shop',
        series: 'shop',
        show: { show: 'revenue', draw: 'line' },
        stacked: true,
        horizontal: true,
      },
    }),
  ).toEqual(['stacked-draws', 'horizontal-draws', 'chart-key-twice'])
  expect(await codes({ cards: [{ show: 'revenue', versus: 'margin', note: '{revnue}' }] })).toEqual([
    'unlike-versus',
    'unknown-name',
  ])
  expect(await codes({ records: { show: ['shop', 'amuont'], sort: '-shp' } })).toEqual(['unknown-name', 'bad-sort'])
  expect(await codes({ list: { status: 'badd', of: 'revenu', by: 'shopp' } })).toEqual([
    'unknown-dimension',
    'unknown-measure',
    'unknown-status',
  ])
  expect(await codes({ reading: { of: 'revenue', by: 'shop', along: 'weekday' } })).toEqual(['words-along'])
})

test('cellsOf gives every cell of every kind, and the gallery is what its page says', async () => {
  const wanted = await galleryPictures()
  const folder = join(ROOT, 'docs/gallery')
  expect(readdirSync(folder).sort()).toEqual([...wanted.keys()].sort())
  for (const [name, text] of wanted) expect(readFileSync(join(folder, name), 'utf8'), name).toBe(text)
  const page = readFileSync(join(ROOT, 'docs/gallery.md'), 'utf8')
  for (const name of wanted.keys()) expect(page).toContain(`](gallery/${name})`)
  const exhibit = await show({ table: { rows: 'shop', show: ['revenue', 'margin'], totals: 'top' } })
  expect(cellsOf(exhibit).length).toBe(8)
})
