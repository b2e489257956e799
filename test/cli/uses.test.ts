import { openReport, readReport } from 'acuarela/report'
import { expect, test } from 'vitest'
import type { Painted } from '../support/painted.js'
import { acuarela, folder } from '../support/tool.js'

const HOUSE = `statuses:
  ahead: { label: Ahead, verdict: good, wash: moss, icon: tick }
  behind: { label: Behind, verdict: bad, wash: coral, icon: cross }
pigments: { moss: '#3b6e22' }
parameters: { target: 20, slack: 10% }
rules:
  - { name: target, paint: revenue, bands: [{ atLeast: target, status: ahead }, { otherwise: behind }] }
  - { name: margin, paint: margin, bands: [{ below: slack, status: behind }] }
`
const REPORT = `title: t
include: [house.acuarela.yaml]
sources: { s: { file: d.csv } }
measures: { revenue: { formula: sum(amount), label: Revenue } }
exhibits: [{ name: shops, table: { rows: shop, show: revenue } }]
`
const DATA = 'shop,amount\nAsh,30\nElm,10\n'

async function painted(files: Record<string, string>, report = 'r.acuarela.yaml') {
  const cwd = await folder({ 'd.csv': DATA, 'house.acuarela.yaml': HOUSE, 'r.acuarela.yaml': REPORT, ...files })
  const { code, out, err } = await acuarela(['paint', report, '--to', 'json'], cwd)
  return { code, err, data: code === 0 ? (JSON.parse(out) as Painted) : undefined }
}

const statuses = (data: Painted | undefined): (string | null)[] =>
  data?.exhibits[0].cells.map((cell) => cell.style.status) ?? []

test('a rule set brings statuses, parameters, pigments and rules; a rule on a measure that is not there is left out, and said', async () => {
  const { data } = await painted({})
  expect(statuses(data)).toEqual(['ahead', 'behind'])
  expect(data?.messages).toEqual(['the rule margin of house.acuarela.yaml is left out: this report has no margin'])
  expect(data?.parameters).toEqual({ target: 20, slack: 0.1 })
})

test('a local name replaces the shared one whole, and local rules come first', async () => {
  const report = `${REPORT}parameters: { target: 40 }\nstatuses: { behind: { label: Late, wash: sky, icon: dash } }\n`
  const { data } = await painted({ 'r.acuarela.yaml': report })
  expect(statuses(data)).toEqual(['behind', 'behind'])
  expect(data?.exhibits[0].cells[0].style).toMatchObject({ fill: '#abd2fb', icon: 'dash' })
  const rules = `${REPORT}rules: [{ name: target, paint: revenue, bands: [{ above: 0, status: ahead }] }]\n`
  expect(statuses((await painted({ 'r.acuarela.yaml': rules })).data)).toEqual(['ahead', 'ahead'])
  const first = `${REPORT}rules: [{ name: mine, paint: revenue, bands: [{ above: 0, status: behind }] }]\n`
  expect(statuses((await painted({ 'r.acuarela.yaml': first })).data)).toEqual(['behind', 'behind'])
})

test('a changed rule set changes every report that uses it', async () => {
  const { data } = await painted({ 'house.acuarela.yaml': HOUSE.replace('#3b6e22', '#204080') })
  expect(data?.exhibits[0].cells[0].style.fill).not.toBe((await painted({})).data?.exhibits[0].cells[0].style.fill)
})

test('what is wrong in a rule set is reported at its place there', async () => {
  const wrong = await painted({ 'house.acuarela.yaml': HOUSE.replace('atLeast: target', 'atLeast: target +') })
  expect(wrong.code).toBe(2)
  expect(wrong.err).toMatch(/house\.acuarela\.yaml:7:\d+/)
  const key = await painted({ 'house.acuarela.yaml': `${HOUSE}measures: { x: count() }\ninclude: [other.yaml]\n` })
  expect(key.err).toContain('unknown key: measures')
  expect(key.err).toContain('a rule set cannot include others')
  const gone = await painted({ 'r.acuarela.yaml': REPORT.replace('house.', 'hose.') })
  expect(gone.err).toMatch(/r\.acuarela\.yaml:2:\d+/)
  expect(gone.err).toContain('there is no rule set hose.acuarela.yaml')
  // A misspelt name in a limit of the report's own rule is still a problem.
  const report = `${REPORT}rules: [{ paint: revenue, bands: [{ above: tarket, status: ahead }] }]\n`
  expect((await painted({ 'r.acuarela.yaml': report })).err).toContain('did you mean target?')
})

test('the library takes rule sets by name', async () => {
  const file = readReport(REPORT, 'r.acuarela.yaml', { 'house.acuarela.yaml': HOUSE })
  const page = await openReport(file, { s: DATA })
  const [exhibit] = page.exhibits
  expect(exhibit.kind === 'table' && exhibit.rows.map((row) => row.cells[0]?.statusText)).toEqual(['Ahead', 'Behind'])
})
