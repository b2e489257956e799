import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { fromColumns, fromRows, paint } from 'acuarela'
import { toCsv } from 'acuarela/data'
import { toFragment } from 'acuarela/html'
import { type GridExhibit, openReport, type Page, type ReportSpec } from 'acuarela/report'
import { toText } from 'acuarela/terminal'
import { expect, test } from 'vitest'
import { acuarela, folder } from '../support/tool.js'

const CSV = `date,region,shop,line,amount,tone
2025-01-05,Coast,Larkmoor,Roses,100,aqua
2025-02-05,Coast,Larkmoor,Meadow seed,200,aqua
2025-01-06,Coast,Quay Lane,Roses,300,coral
2025-03-06,Valley,Old Mill,Roses,900,#336699
2025-03-07,Valley,Tansy Green,Meadow seed,50,none
`
const STATUSES = {
  ahead: { label: 'Ahead', wash: 'aqua', icon: 'tick', weight: 'bold' },
  close: { label: 'Near', wash: 'straw', icon: 'dash' },
  behind: { label: 'Behind', wash: 'coral', icon: 'cross' },
}

function spec(exhibits: object[], rules: object[], more: object = {}): ReportSpec {
  return {
    title: 'Looks',
    sources: { sales: { file: 'sales.csv', date: 'date' } },
    measures: { amount: { formula: 'sum(amount)', format: 'money EUR 0', better: 'higher' } },
    statuses: STATUSES,
    rules,
    exhibits,
    ...more,
  } as unknown as ReportSpec
}

const open = (spec: ReportSpec): Promise<Page> => openReport(spec, { sales: CSV })

function grid(page: Page, i = 0): GridExhibit {
  const exhibit = page.exhibits[i]
  if (!('rows' in exhibit)) throw new Error('a table was expected')
  return exhibit
}

test('2.1 a style beside a status refines it channel by channel, in bands, ranks and parts', () => {
  const table = fromRows([3, 2, 1, 0].map((x) => ({ x, y: x, z: x, w: x })))
  const style = { weight: 'normal', fill: '#001122', flag: 'of {value}' } as const
  const painting = paint(table, {
    statuses: STATUSES as never,
    rules: [
      {
        paint: 'x',
        bands: [
          { atLeast: 3, status: 'ahead', style },
          { atLeast: 1, status: 'ahead' },
        ],
      },
      { paint: 'y', rank: { top: 1, status: 'ahead', style: { ink: 'sky' } } },
      {
        paint: 'z',
        rank: {
          split: [
            { share: 1, status: 'ahead', style: { icon: 'dot' } },
            { share: 1, status: 'ahead' },
          ],
        },
      },
      { paint: 'w', bands: [{ equals: 0, status: 'behind', style: { wash: 'indigo' } }] },
    ],
  })
  const [refined, plain] = [painting.cell(0, 'x'), painting.cell(1, 'x')]
  expect(refined).toMatchObject({ status: 'ahead', icon: 'tick', weight: 'normal', fill: '#001122', flag: 'of 3' })
  expect(plain).toMatchObject({ status: 'ahead', icon: 'tick', weight: 'bold', flag: null })
  // A new fill gets a readable text colour.
  expect(refined.ink).not.toBe(plain.ink)
  expect(painting.cell(0, 'y')).toMatchObject({ status: 'ahead', fill: plain.fill, icon: 'tick' })
  expect(painting.cell(0, 'y').ink).not.toBe(plain.ink)
  expect([painting.cell(0, 'z').icon, painting.cell(1, 'z').icon]).toEqual(['dot', 'tick'])
  expect(painting.cell(3, 'w')).toMatchObject({ status: 'behind', icon: 'cross' })
  expect(painting.cell(3, 'w').fill).not.toBe('#f4a19e')
})

test('2.2 each of three nested keys has its own column in text, HTML and SVG', async () => {
  const table = { rows: ['region', 'shop', 'line'], show: 'amount', nest: 'columns' }
  const cwd = await folder({
    'r.acuarela.json': JSON.stringify(spec([{ name: 'deep', table }], [])),
    'sales.csv': CSV,
  })
  const { out } = await acuarela(['paint', 'r.acuarela.json'], cwd)
  const lines = out.split('\n').filter((line) => /Roses|Meadow seed|Region/.test(line))
  expect(lines.map((line) => line.trim().split(/ {2,}/))).toEqual([
    ['Region', 'Shop', 'Line', 'amount'],
    ['Coast', 'Larkmoor', 'Meadow seed', '€200'],
    ['Roses', '€100'],
    ['Quay Lane', 'Roses', '€300'],
    ['Valley', 'Old Mill', 'Roses', '€900'],
    ['Tansy Green', 'Meadow seed', '€50'],
  ])
  const at = (text: string): number => lines.find((line) => line.includes(text))?.indexOf(text) ?? -1
  expect(at('Quay Lane')).toBe(at('Larkmoor'))
  expect(at('Tansy Green')).toBe(at('Shop'))
  await acuarela(['paint', 'r.acuarela.json', '--to', 'svg,html', '--static', '--out', 'out'], cwd)
  const svg = await readFile(join(cwd, 'out', 'r-deep.svg'), 'utf8')
  const x = (text: string): string | undefined => new RegExp(`<text x="([\\d.]+)"[^>]*>${text}<`).exec(svg)?.[1]
  expect(x('Quay Lane')).toBe(x('Larkmoor'))
  const html = await readFile(join(cwd, 'out', 'r.html'), 'utf8')
  expect(html).toMatch(/<tr[^>]*><td><\/td><th scope=rowgroup><span>Quay Lane<\/span><\/th><th scope=row>/)
})

test('2.3 cells that a condition leaves out are not covered, and no value is tried in them', async () => {
  const rules = [
    {
      name: 'large',
      paint: 'amount',
      where: "shop = 'Old Mill'",
      bands: [{ atLeast: 500, status: 'ahead' }, { otherwise: 'behind' }],
    },
    { name: 'tone', paint: 'tone', fromColumn: { fill: 'tone' } },
  ]
  const exhibits = [
    { name: 'shops', table: { rows: 'shop', show: 'amount' } },
    { name: 'rows', records: { show: ['shop', 'tone'] } },
  ]
  const cwd = await folder({ 'r.acuarela.json': JSON.stringify(spec(exhibits, rules)), 'sales.csv': CSV })
  const [run, tried, borrowed] = await Promise.all([
    acuarela(['rules', 'r.acuarela.json', '--json'], cwd),
    acuarela(['rehearse', 'r.acuarela.json', '--rule', 'large'], cwd),
    acuarela(['rehearse', 'r.acuarela.json', '--rule', 'tone'], cwd),
  ])
  const [large] = JSON.parse(run.out) as { places: { covered: number; painted: number }[] }[]
  expect(large.places).toMatchObject([{ covered: 1, painted: 1 }])
  expect(tried.out).toContain('as if it were Old Mill’s value')
  expect(tried.out).toMatch(/€500 +Ahead/)
  expect(borrowed.err).toBe('tone takes its style from the data, so it has no limits to try; it paints 4 cells\n')
})

test('2.4 what lies beyond a scale is drawn as lying beyond it', async () => {
  const own = spec(
    [{ name: 'bars', table: { rows: 'shop', show: [{ show: 'amount', draw: 'bar' }], totals: 'bottom' } }],
    [],
  )
  const page = await open(own)
  const cells = grid(page).rows.map((row) => row.cells[0])
  expect(cells.map((cell) => cell?.extent?.beyond)).toEqual([undefined, undefined, undefined, undefined, 'high'])
  expect(
    toText(page)
      .split('\n')
      .filter((line) => line.includes('▶')).length,
  ).toBe(1)
  expect(toText(page, { ascii: true })).toMatch(/Total +#+> +€1,550/)
  expect(toFragment(page).match(/›/g)?.length).toBe(1)
  const values = fromColumns({ x: Float64Array.from([-5, 0, 5, 10, 12]) })
  const painting = paint(values, { rules: [{ paint: 'x', bar: { color: 'indigo', from: 0, to: 10 } }] })
  const bars = [0, 1, 2, 3, 4].map((i) => painting.cell(i, 'x').bar)
  expect(bars.map((bar) => bar?.beyond)).toEqual(['low', undefined, undefined, undefined, 'high'])
  expect(bars.map((bar) => [bar?.from, bar?.to])).toEqual([
    [0, 0],
    [0, 0],
    [0, 0.5],
    [0, 1],
    [0, 1],
  ])
  expect(painting.why(4, 'x').sentences.join()).toContain('runs beyond the right end')
})

test('2.4 the key of a scale tells each population its own: totals, and groups', async () => {
  const gradient = { ramp: ['paper', 'aqua'] }
  const both = await open(
    spec(
      [{ name: 'shops', table: { rows: ['region', 'shop'], show: 'amount', totals: 'bottom' } }],
      [{ paint: 'amount', levels: 'all', gradient }],
    ),
  )
  const { legends } = grid(both)
  expect(legends.map(({ population }) => population)).toEqual(['among all shown', 'totals by region, among all shown'])
  expect(legends.map(({ ramp }) => ramp?.marks.map(({ text }) => text))).toEqual([
    ['€50', '€900'],
    ['€600', '€950'],
  ])
  const within = await open(
    spec(
      [{ name: 'shops', table: { rows: ['region', 'shop'], show: 'amount' } }],
      [{ paint: 'amount', within: 'region', gradient }],
    ),
  )
  expect(grid(within).legends[0].population).toBe('within each region, Coast €300 to €300; Valley €50 to €900')
})

test('2.5 row headings that a rule paints can be asked why', async () => {
  const rules = [
    { name: 'coast', paint: 'region', bands: [{ equals: 'Coast', status: 'ahead' }, { otherwise: 'close' }] },
  ]
  const cwd = await folder({
    'r.acuarela.json': JSON.stringify(
      spec([{ name: 'shops', table: { rows: ['region', 'shop'], show: 'amount' } }], rules),
    ),
    'sales.csv': CSV,
  })
  const [one, all, none] = await Promise.all([
    acuarela(['why', 'r.acuarela.json', 'shops.region', 'region=Coast', '--json'], cwd),
    acuarela(['why', 'r.acuarela.json', 'shops.region'], cwd),
    acuarela(['why', 'r.acuarela.json', 'shops.shop', 'shop=Larkmoor'], cwd),
  ])
  const { name, why } = JSON.parse(one.out) as {
    name: string
    why: { sentences: string[]; channels: { channel: string; by: string }[] }
  }
  expect(name).toBe('Coast')
  expect(why.channels.find(({ channel }) => channel === 'status')?.by).toBe('coast')
  expect(why.sentences.join(' ')).toContain('It is “Ahead”')
  expect(all.out).toMatch(/2 cells match[\s\S]*Coast[\s\S]*Valley/)
  expect([none.code, none.err]).toEqual([2, expect.stringContaining('no rule paints the headings of shop')])
})

test('2.6 labels of a chart are true and distinct, and can be full, short or none', async () => {
  const months = [7049.5, 7051, 6980, 7012, 3523, 7100]
  const csv = `date,amount\n${months.map((x, i) => `2025-0${i + 1}-01,${x}`).join('\n')}\n`
  const labels = async (written: unknown): Promise<string[]> => {
    const chart = { along: 'month', show: 'amount', ...(written === undefined ? {} : { labels: written }) }
    const page = await openReport(spec([{ name: 'c', chart }], []), { sales: csv })
    const { toHtml } = await import('acuarela/html')
    const html = await toHtml(page)
    return [...html.matchAll(/<text[^>]*>(€[\d.,]+K?)<\/text>/g)]
      .map(([, text]) => text)
      .filter((text) => !/^€\dK$|^€0$/.test(text))
  }
  const full = ['€7,050', '€7,051', '€6,980', '€7,012', '€3,523', '€7,100']
  expect(await labels(undefined)).toEqual(full)
  expect(await labels('full')).toEqual(full)
  expect(await labels('none')).toEqual([])
  const short = await labels('short')
  expect(new Set(short).size).toBe(6)
  for (const [i, text] of short.entries()) {
    const said = Number(text.replace(/[€,K]/g, '')) * (text.endsWith('K') ? 1000 : 1)
    expect(Math.abs(said - months[i]) / months[i]).toBeLessThan(0.006)
  }
})

test('2.7 keys: borrowed looks have words, lists their own statuses, records the rows on the page, all in one order', async () => {
  const bands = [{ below: 100, status: 'behind' }, { below: 300, status: 'close' }, { otherwise: 'ahead' }]
  const page = await open(
    spec(
      [
        { name: 'rows', records: { show: ['shop', 'tone', 'amount'], first: 2 } },
        { name: 'low', list: { by: 'shop', of: 'amount', status: 'behind', show: 'amount' } },
        { name: 'shops', table: { rows: 'shop', show: 'amount' } },
      ],
      [
        { name: 'tone', paint: 'tone', fromColumn: { fill: 'tone' } },
        { name: 'size', paint: 'amount', bands },
      ],
    ),
  )
  const entries = (i: number, rule: string): string[] =>
    page.exhibits[i].legends
      .filter((legend) => legend.rule === rule)
      .flatMap((legend) => legend.entries.map(({ label, limit, count }) => `${label} ${limit} · ${count}`.trim()))
  expect(entries(0, 'tone')).toEqual(['tone aqua · 2', 'tone coral · 0', 'tone #336699 · 0'])
  expect(entries(0, 'size')).toEqual(['Ahead €300 or more · 0', 'Near below €300 · 2', 'Behind below €100 · 0'])
  expect(entries(1, 'size')).toEqual(['Behind below €100 · 1'])
  expect(entries(2, 'size').map((text) => text.split(' ')[0])).toEqual(['Ahead', 'Near', 'Behind'])
})

test('2.8 statuses with own drawings are reported in words, and a list keeps its columns when it is empty', async () => {
  const drawing =
    'data:image/svg+xml;base64,PHN2ZyB4bWxucz0iaHR0cDovL3d3dy53My5vcmcvMjAwMC9zdmciIHZpZXdCb3g9IjAgMCA5IDkiLz4='
  const statuses = {
    ahead: { label: 'Ahead', wash: 'aqua', icon: 'sprout' },
    close: { label: 'Near', wash: 'straw', icon: 'dash' },
    behind: { label: 'Behind', wash: 'coral', icon: 'dash' },
  }
  const bands = [{ below: 100, status: 'behind' }, { below: 301, status: 'close' }, { otherwise: 'ahead' }]
  const rules = [{ paint: 'amount', bands }]
  const page = await open(
    spec([{ name: 'shops', table: { rows: 'shop', show: 'amount' } }], rules, { statuses, icons: { sprout: drawing } }),
  )
  for (const ascii of [false, true]) {
    const text = toText(page, { ascii })
    expect(text).not.toContain('*')
    for (const words of ['€900 (Ahead)', '€300 (Near)', '€50 (Behind)']) expect(text).toContain(words)
  }
  expect(toFragment(page)).toContain('€900 (Ahead)')
  const head = async (amount: number): Promise<string> => {
    const list = { by: ['region', 'shop'], of: 'amount', status: 'behind' }
    const own = spec([{ name: 'low', list }], [{ paint: 'amount', bands: [{ below: amount, status: 'behind' }] }])
    return toCsv(await open(own)).split('\r\n')[0]
  }
  expect(await head(0)).toBe(await head(1000))
  expect(await head(0)).toContain('row.region,row.shop')
})

test('2.9 lists name their keys in the order written, time as readers write it; a month of the year reads Month', async () => {
  const rules = [{ paint: 'amount', bands: [{ below: 1000, status: 'behind' }] }]
  const page = await open(
    spec(
      [
        { name: 'low', list: { by: ['month', 'shop'], of: 'amount', status: 'behind', sort: '-amount' } },
        { name: 'months', table: { rows: ['monthOfYear', 'year'], show: 'amount' } },
      ],
      rules,
      { locale: 'en' },
    ),
  )
  expect(grid(page).corner).toBe('Month, shop')
  expect(grid(page).rows.map(({ heading }) => heading.text)[0]).toBe('Mar 2025, Old Mill')
  expect(grid(page, 1).corner).toBe('Month, year')
  expect(grid(page, 1).corners).toEqual(['Month', 'Year'])
})

test('2.10 with fewer than two values only what reads the population waits', () => {
  const bands = [
    { atLeast: 'mean(x)', status: 'ahead' },
    { below: 0, status: 'behind' },
    { missing: 'close' },
    { otherwise: 'close' },
  ]
  const statusOf = (values: number[]): (string | null)[] => {
    const painting = paint(fromColumns({ x: Float64Array.from(values) }), {
      statuses: STATUSES as never,
      rules: [{ paint: 'x', bands }],
    })
    return values.map((_, i) => painting.cell(i, 'x').status)
  }
  // In a population of one, constant limits and `missing` hold; limits by the mean, and
  // `otherwise`, do not.
  expect(statusOf([-5])).toEqual(['behind'])
  expect(statusOf([-5, Number.NaN])).toEqual(['behind', 'close'])
  expect(statusOf([5])).toEqual([null])
  expect(statusOf([5, -5])).toEqual(['ahead', 'behind'])
  // Group by group.
  const table = fromRows([
    { region: 'Coast', x: -1 },
    { region: 'Valley', x: 4 },
    { region: 'Valley', x: 2 },
  ])
  const painting = paint(table, {
    statuses: STATUSES as never,
    rules: [{ paint: 'x', within: 'region', bands }],
  })
  expect([0, 1, 2].map((i) => painting.cell(i, 'x').status)).toEqual(['behind', 'ahead', 'close'])
})
