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
  const key = await painted({ 'house.acuarela.yaml': `${HOUSE}exhibits: []\ninclude: [other.yaml]\n` })
  expect(key.err).toContain('unknown key: exhibits')
  expect(key.err).toContain('an included file cannot include others')
  const gone = await painted({ 'r.acuarela.yaml': REPORT.replace('house.', 'hose.') })
  expect(gone.err).toMatch(/r\.acuarela\.yaml:2:\d+/)
  expect(gone.err).toContain('there is no file hose.acuarela.yaml to include')
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

const MODEL = `calendar: { yearStarts: April }
labels: { shop: Garden }
sources:
  s: { file: d.csv, date: day }
  plans: { file: plans.csv, match: shop }
  towns: { file: towns.csv, lookup: true, match: shop }
  gone: { file: gone.csv, match: shop }
fields:
  s: { net: amount - cost, wrong: nothing + 1 }
measures:
  revenue: { formula: sum(amount), better: higher }
  profit: sum(net)
  plan: sum(plans.amount)
  visits: sum(gone.visits)
  odd: sum(nowhere)
statuses: { ok: { label: Reached, wash: aqua, icon: tick } }
rules:
  - { name: toPlan, paint: revenue, bands: [{ atLeast: plan, status: ok }] }
  - { name: toVisits, paint: profit, bands: [{ atLeast: visits, status: ok }] }
`
const OVER = `title: t
include: [model/m.yaml]
exhibits: [{ name: shops, table: { rows: shop, show: revenue } }]
`

/** The model in a folder of its own beside the report, with its data. */
async function modelled(report = OVER, model = MODEL) {
  const cwd = await folder({
    'r.acuarela.yaml': report,
    'model/m.yaml': model,
    'model/d.csv': 'day,shop,amount,cost\n2025-03-01,Ash,30,10\n2025-05-01,Elm,10,4\n',
    'model/plans.csv': 'shop,amount\nAsh,20\nElm,20\n',
    'model/towns.csv': 'shop,town\nAsh,Leon\nElm,Brae\n',
  })
  const paint = async (...more: string[]) => {
    const { code, out, err } = await acuarela(['paint', 'r.acuarela.yaml', '--to', 'json', ...more], cwd)
    return {
      code,
      err,
      data: code === 0 ? (JSON.parse(out) as Painted & { sources: { source: string }[] }) : undefined,
    }
  }
  return paint
}

test('law 46: reports are written over one model; what they do not ask for is left out', async () => {
  const paint = await modelled()
  const { data, err } = await paint()
  expect(err).toBe('')
  const cells = data?.exhibits[0].cells.map(({ row, value, style }) => [row, value, style.status])
  expect(cells).toEqual([
    [{ shop: 'Ash' }, 30, 'ok'],
    [{ shop: 'Elm' }, 10, null],
  ])
  // The rule asks for the plan; the lookup table stays for conditions, and nothing else is read.
  expect(data?.sources.map(({ source }) => source)).toEqual(['s', 'plans', 'towns'])
  expect(statuses((await paint('--where', "towns.town = 'Leon'")).data)).toEqual(['ok'])
  const text = await modelled(OVER.replace('rows: shop', 'rows: [year, shop]'))
  const years = (await text()).data?.exhibits[0].cells.flatMap(({ row }) => Object.values(row ?? {}))
  expect(years).toEqual(['2024/25', 'Ash', '2025/26', 'Elm'])
})

test('law 46: what a report asks for and the model lacks is reported at its place in the model', async () => {
  const asking = async (show: string): Promise<string> =>
    (await (await modelled(OVER.replace('show: revenue', `show: ${show}`)))()).err
  expect(await asking('odd')).toMatch(/model\/m\.yaml:15:\d+ \(measures\.odd\): unknown name: nowhere/)
  expect(await asking('profit')).toContain('there is no file model/gone.csv')
  expect(await asking('plan')).toBe('')
  const records = OVER.replace('table: { rows: shop, show: revenue }', 'records: { show: [wrong] }')
  expect((await (await modelled(records))()).err).toMatch(
    /model\/m\.yaml:9:\d+ \(fields\.s\.wrong\): unknown name: nothing/,
  )
})

test("law 46: the report's own parts win, and its further tables come after the model's", async () => {
  const own = await modelled(`${OVER}measures: { revenue: sum(amount) + sum(more.amount) }
labels: { shop: Place }
sources: { more: { file: model/plans.csv, match: shop } }
`)
  const { data } = await own()
  expect(data?.exhibits[0].cells.map(({ value }) => value)).toEqual([50, 30])
  expect(data?.sources.map(({ source }) => source)).toEqual(['s', 'plans', 'towns', 'more'])
  const home = await modelled(
    `${OVER}sources: { first: { file: model/plans.csv } }\nmeasures: { revenue: sum(amount), plan: sum(amount) }\n`,
  )
  const alone = await home()
  expect(alone.data?.exhibits[0].cells.map(({ value }) => value)).toEqual([20, 20])
  expect(alone.data?.sources.map(({ source }) => source)).toEqual(['first', 'towns'])
})
