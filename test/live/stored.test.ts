import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { inflateRawSync } from 'node:zlib'
import { toJson } from 'acuarela/data'
import { openReportFile } from 'acuarela/node'
import type { Settings } from 'acuarela/report'
import { expect, test } from 'vitest'
import { allowedActions, type Session } from '../../src/live/session/model.js'
import { createSession } from '../../src/live/session/session.js'
import { type Action, FIRST_STATE, type LiveState, nextState } from '../../src/live/state/state.js'
import { cellsOf } from '../../src/page/page.js'
import { openBundle, type ReportBundle } from '../../src/report/transfer/unpack.js'
import { unpackSources } from '../../src/report/transfer/unpack-lists.js'
import { some } from '../support/effort.js'
import { acuarela, folder, ROOT } from '../support/tool.js'

/** The bundle of a page, its lists read from their bytes. */
function dataOf(html: string): ReportBundle & Record<string, unknown> {
  const data = JSON.parse(/<script type="application\/json" id="acuarela">(.*)<\/script>/.exec(html)?.[1] ?? '')
  const packed = /<script type="application\/octet-stream" id="acuarela-bytes">(.*)<\/script>/.exec(html)?.[1]
  if (packed === undefined) return data
  return { ...data, sources: unpackSources(data.sources, inflateRawSync(Buffer.from(packed, 'base64'))) }
}

/** A page of the tool, its bundle, and a session of it. */
async function carried(
  report: string,
  cwd: string,
): Promise<{ session: Session; data: Record<string, unknown>; html: string }> {
  const out = join(await folder(), 'page.html')
  const { code, err } = await acuarela(['paint', report, '--out', out, '--quiet'], cwd)
  expect([code, err]).toEqual([0, ''])
  const html = await readFile(out, 'utf8')
  const data = dataOf(html)
  return { session: await createSession(await openBundle(data)), data, html }
}

/** The page after the reader's actions equals the tool with the same settings. */
async function alike(session: Session, path: string, actions: Action[], settings: Settings): Promise<number> {
  const state = actions.reduce((s, action) => nextState(s, action, allowedActions(session.controls)), FIRST_STATE)
  const painted = JSON.parse(toJson((await session.answer(state)).page))
  const other = JSON.parse(toJson(await openReportFile(path, settings)))
  // The same condition has two forms.
  delete painted.where
  delete other.where
  expect(painted).toEqual(other)
  return painted.exhibits.flatMap((exhibit: { cells: unknown[] }) => exhibit.cells).length
}

test('the demo page answers every slider and filter as the tool does, from summaries', async () => {
  const report = join(ROOT, 'examples/brezal/spring.acuarela.yaml')
  const { session, data } = await carried(report, ROOT)
  const stored = data.sources as unknown as Record<
    string,
    { counts?: Float64Array; rows: { length: number; columns: { name: string }[] } }
  >
  expect(stored.sales.counts?.reduce((a, b) => a + b)).toBe(27_872)
  expect(stored.sales.rows.length).toBeLessThan(6_000)
  expect(stored.sales.rows.columns.map(({ name }) => name).sort()).toEqual([
    'channel',
    'date',
    'line',
    'region',
    'shop',
  ])
  const cases: [Action[], Settings][] = [
    [[], {}],
    [[{ do: 'set', parameter: 'slack', value: 0.07 }], { parameters: { slack: '7%' } }],
    [[{ do: 'filter', key: 'region', values: ['Coast', 'Valley'] }], { where: "region in ('Coast', 'Valley')" }],
    [[{ do: 'period', period: 'last 12 months' }], { period: 'last 12 months' }],
    [
      [
        { do: 'period', period: '2024-02 to 2024-05' },
        { do: 'filter', key: 'line', values: ['Roses', 'Hedging'] },
      ],
      { period: '2024-02 to 2024-05', where: "line in ('Roses', 'Hedging')" },
    ],
  ]
  for (const [actions, settings] of some(cases, 4))
    expect(await alike(session, report, actions, settings)).toBeGreaterThan(100)
})

test('a period that cuts what the page carries by month is refused, never answered wrongly', async () => {
  const { session } = await carried(join(ROOT, 'examples/brezal/spring.acuarela.yaml'), ROOT)
  const cut = nextState(
    FIRST_STATE,
    { do: 'period', period: '2025-02-10 to 2025-04-20' },
    allowedActions(session.controls),
  )
  expect(cut.period).not.toBeNull()
  await expect(session.answer(cut)).rejects.toThrow('a period with partial months')
})

test('what does not merge is answered from coded columns, looked-up keys and days that cut a month too', async () => {
  const cwd = await folder({
    'r.acuarela.yaml': `title: R
asOf: 2025-05-17
period: this year
sources:
  s: { file: s.csv, date: day }
  p: { file: p.csv, date: month, match: shop }
fields: { s: { big: amount > 100, each: amount / pieces } }
parameters: { goal: { value: 10%, from: 0%, to: 50%, step: 0.01 } }
measures:
  sales: { formula: sum(amount), better: higher }
  middle: median(amount)
  kinds: countDistinct(kind)
  spread: stdev(each)
  low: lowest(amount) where kind = 'a'
  lastOne: last(amount)
  plan: sum(p.amount)
  before: 'lag(sales, 1 year)'
  so: 'sofar(sales, year)'
statuses: { up: { wash: aqua }, down: { wash: coral } }
rules:
  - { paint: sales, bands: [{ above: before + goal of before, status: up }, { otherwise: down }] }
  - { paint: plan, within: region, rank: { top: 1, status: up } }
  - { paint: middle, among: unfiltered, gradient: { ramp: [paper, aqua] } }
  - { paint: amount, among: unfiltered, rank: { top: 5, status: up } }
exhibits:
  - { since: 1 month, table: { rows: [region, shop], show: [sales, middle, kinds, spread, low, lastOne, plan, before, so], totals: bottom } }
  - { period: all, table: { rows: month, columns: big, show: [sales, plan] } }
  - { since: 2025-03-31, moves: { of: sales, by: [kind, shop] } }
  - { where: amount > 5 * goal, showing: { status: up, of: sales }, table: { rows: [region, shop], show: sales } }
  - { where: each > goal, records: { show: [day, kind, each], group: shop, sort: [kind, -each], first: 3 } }
  - { since: 2 weeks, where: amount > 150, records: { show: [day, shop, amount, each], sort: -amount, first: 20 } }
filters: [region, kind, big, period]
`,
    's.csv': `day,shop,region,kind,amount,pieces\n${Array.from({ length: 400 }, (_, i) => {
      const shop = ['Dune', 'Fell', 'Moss'][i % 3]
      const day = new Date(Date.UTC(2024, 0, 1 + ((i * 7) % 502))).toISOString().slice(0, 10)
      return `${i % 50 === 0 ? '' : day},${shop},${shop === 'Moss' ? 'West' : 'East'},${['a', 'b', ''][i % 4 > 2 ? 2 : i % 2]},${(i * 37) % 211},${(i % 5) + 1}`
    }).join('\n')}\n`,
    'p.csv': `month,shop,amount\n${[1, 2, 3, 4, 5].flatMap((m) => ['Dune', 'Fell', 'Moss'].map((shop, s) => `2025-0${m},${shop},${900 + 50 * s * m}`)).join('\n')}\n`,
  })
  const report = 'r.acuarela.yaml'
  const { session } = await carried(report, cwd)
  const cases: [Action[], Settings][] = [
    [[], {}],
    [[{ do: 'set', parameter: 'goal', value: 0.35 }], { parameters: { goal: '35%' } }],
    [[{ do: 'filter', key: 'region', values: ['East'] }], { where: "region = 'East'" }],
    [[{ do: 'filter', key: 'big', values: ['true'] }], { where: 'big' }],
    [
      [
        { do: 'filter', key: 'kind', values: ['b'] },
        { do: 'period', period: 'last 3 months' },
      ],
      { where: "kind = 'b'", period: 'last 3 months' },
    ],
  ]
  for (const [actions, settings] of cases)
    expect(await alike(session, join(cwd, report), actions, settings)).toBeGreaterThan(30)
  // A page that is filtered from the start carries the unfiltered populations of its rules, too.
  const narrow = join(await folder(), 'narrow.html')
  await acuarela(['paint', report, '--out', narrow, '--quiet', '--where', "region = 'West'"], cwd)
  const own = await createSession(await openBundle(dataOf(await readFile(narrow, 'utf8'))))
  await alike(own, join(cwd, report), [], { where: "region = 'West'" })
  const top = (state: LiveState): Promise<number> =>
    session
      .answer(state)
      .then(({ page }) => page.exhibits.flatMap((exhibit) => cellsOf(exhibit)))
      .then((cells) => cells.filter(({ style }) => Object.values(style.paintedBy).includes('rank-2')).length)
  const paused = nextState(FIRST_STATE, { do: 'pause', rule: 'rank-2', paused: true }, allowedActions(session.controls))
  expect([(await top(FIRST_STATE)) > 0, await top(paused)]).toEqual([true, 0])
})

test('columns and amounts of lookup tables are in the page: filters by them give what the tool gives', async () => {
  const cwd = await folder({
    'r.acuarela.yaml': `title: R
sources:
  s: { file: s.csv, date: day }
  shops: { file: shops.csv, lookup: true, match: [{ shop: name }] }
  rates: { file: rates.csv, date: month, lookup: latest, match: coin }
fields: { s: { euro: amount * rates.rate } }
parameters: { part: 60% }
measures: { sales: sum(euro), target: sum(shops.target), reached: sales / target }
statuses: { up: { wash: aqua }, down: { wash: coral } }
rules:
  - { paint: sales, bands: [{ above: part of target, status: up }, { otherwise: down }] }
exhibits:
  - { table: { rows: [shops.manager, shop], show: [sales, target, reached], totals: bottom } }
  - { table: { rows: shop, show: sales, totals: bottom } }
  - { heatmap: { rows: shops.manager, columns: month, show: target } }
  - { records: { show: [day, shop, shops.manager, euro], first: 10 } }
filters: [shops.manager, coin, period]
`,
    's.csv': `day,shop,coin,amount\n${Array.from({ length: 300 }, (_, i) => `2025-0${1 + (i % 5)}-1${i % 9},${['Dune', 'Fell', 'Moss', 'Lost', ''][(i * 7) % 5]},${i % 3 === 0 ? 'EUR' : 'USD'},${(i * 37) % 211}`).join('\n')}\n`,
    'shops.csv': 'name,manager,target\nDune,Ana,3000\nFell,Ben,4000\nMoss,Ana,2500\nReed,,900\n',
    'rates.csv': 'month,coin,rate\n2025-01,EUR,1\n2025-01,USD,0.9\n2025-03,USD,0.8\n',
  })
  const { session } = await carried('r.acuarela.yaml', cwd)
  const cases: [Action[], Settings][] = [
    [[], {}],
    [[{ do: 'set', parameter: 'part', value: 0.9 }], { parameters: { part: '90%' } }],
    [[{ do: 'filter', key: 'shops.manager', values: ['Ana'] }], { where: "shops.manager = 'Ana'" }],
    [[{ do: 'filter', key: 'coin', values: ['EUR'] }], { where: "coin = 'EUR'" }],
    [[{ do: 'period', period: 'last 2 months' }], { period: 'last 2 months' }],
  ]
  for (const [actions, settings] of cases)
    expect(await alike(session, join(cwd, 'r.acuarela.yaml'), actions, settings)).toBeGreaterThan(15)
})

test('--static leaves the script out; what the tool was set to is what the page starts from', async () => {
  const report = join(ROOT, 'examples/brezal/spring.acuarela.yaml')
  const { out } = await acuarela(['paint', report, '--to', 'html', '--static'])
  expect(out).not.toContain('<script')
  expect(out).not.toContain('script-src')
  const cwd = await folder()
  await acuarela([
    'paint',
    report,
    '--set',
    'targetLevel=115%',
    '--where',
    "region = 'Coast'",
    '--out',
    join(cwd, 'a.html'),
  ])
  const html = await readFile(join(cwd, 'a.html'), 'utf8')
  const data = dataOf(html)
  const { page } = await (await createSession(await openBundle(data))).answer(FIRST_STATE)
  expect(page.parameters.find(({ name }) => name === 'targetLevel')?.value).toBe(1.15)
  expect(page.where).toContain("region = 'Coast'")
})
