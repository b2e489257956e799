import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { brotliCompressSync, gzipSync } from 'node:zlib'
import { expect, test } from 'vitest'
import { acuarela, folder } from '../support/tool.js'
import { WILD_CSV } from '../support/wild.js'

const TABLES = `title: R
sources: { s: { file: s.csv, date: date } }
parameters: { target: 300 }
measures: { amount: { formula: sum(amount), better: higher } }
statuses: { good: { wash: aqua, icon: tick }, bad: { wash: coral, icon: cross } }
filters: [shop, period]
rules:
  - { paint: amount, only: [shops], bands: [{ atLeast: target, status: good }, { otherwise: bad }] }
  - { paint: amount, only: [months], gradient: { ramp: [paper, aqua] } }
exhibits:
  - { name: shops, table: { rows: [shop, kind], show: amount, totals: bottom } }
  - { name: months, heatmap: { rows: shop, columns: month, show: amount } }
`
const MORE = `
  - { name: cards, cards: [{ show: amount }] }
  - { name: rows, records: { show: [date, amount], oneAtATime: true } }
  - { name: read, reading: { of: amount, by: shop } }
  - { name: bars, chart: { along: month, show: amount } }
  - { name: many, table: { rows: [day, shop, kind], show: amount } }
`

const PLANS = 'date,shop,amount\n2025-01,Larkmoor,300\n'

/** The script of a page of the tool. */
async function scriptOf(report: string): Promise<string> {
  const files = { 's.csv': WILD_CSV, 'p.csv': PLANS, 'shops.csv': 'shop,manager,target\nLarkmoor,Ana,300\n' }
  const cwd = await folder({ 'r.acuarela.yaml': report, ...files })
  expect(await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--quiet'], cwd)).toMatchObject({ code: 0 })
  const html = await readFile(join(cwd, 'r.html'), 'utf8')
  return /<script>([\s\S]*)<\/script>/.exec(html)?.[1] ?? ''
}

test('a page carries the script that it may come to need, and no more weight than was wanted', async () => {
  const [tables, all] = await Promise.all([scriptOf(TABLES), scriptOf(TABLES + MORE)])
  // 13,000 of it write the workbook that every page can be saved as.
  expect(brotliCompressSync(tables).length).toBeLessThan(84_500)
  expect(gzipSync(all, { level: 9 }).length).toBeLessThan(209_500)
  // Texts of the record pager, the readings, the virtual rows, and the charts.
  for (const text of ['next painted', 'in a row', 'scrollToIndex', 'figcaption']) {
    expect([text, tables.includes(text)]).toEqual([text, false])
    expect([text, all.includes(text)]).toEqual([text, true])
  }
  // Third-party code is listed with its licence.
  expect(tables.slice(0, 300)).toMatch(/^\n?\/\*! Holds parts of .*culori \(MIT/)
  expect(all.slice(0, 4000)).toContain('@observablehq/plot (ISC')
})

/** A report that moves in time, joins a second source and keeps the first n, and `more`. */
const joined = (more: {
  source: string
  measures: string
  shown: string
  first: string
  exhibit: string
  rule: string
}) => `title: R
sources:
  s: { file: s.csv, date: date }
  p: { file: p.csv, date: date, match: shop }
${more.source}
measures:
  amount: { formula: sum(amount), better: higher }
  before: "lag(amount, 1 year)"
  plan: sum(p.amount)
${more.measures}
statuses: { good: { wash: aqua, icon: tick }, bad: { wash: coral, icon: cross } }
filters: [shop, period]
rules:
  - { paint: amount, ${more.rule} bands: [{ atLeast: 300, status: good }, { otherwise: bad }] }
exhibits:
  - { name: shops, ${more.exhibit} table: { rows: [shop, { key: kind, first: ${more.first} }], show: [amount, before, plan${more.shown}] } }
`

test('lookup tables, spans, since and what is shown add little to pages that use them', async () => {
  const plain = joined({ source: '', measures: '', shown: '', first: '2', exhibit: '', rule: '' })
  const used = joined({
    source: '  shops: { file: shops.csv, match: shop, lookup: true, per: month }',
    measures: `  three: "rolling(amount, 3 months)"
  due: prorated(plan)
  over: elapsed()
  each: "perPeriod(amount, month)"
  whole: "projected(amount, year)"
  like: "sameKeys(amount, shop, 1 year)"
  target: sum(shops.target)`,
    shown: ', three, due, over, each, whole, like, target',
    first: '{ count: 2, of: table }',
    exhibit: "since: 1 month, where: shops.manager != 'Nora', showing: { status: bad, of: amount },",
    rule: 'unfinished: unpainted,',
  })
  const [before, after] = await Promise.all([scriptOf(plain), scriptOf(used)])
  expect(after.length).toBeGreaterThan(before.length)
  expect(brotliCompressSync(after).length - brotliCompressSync(before).length).toBeLessThan(8000)
})
