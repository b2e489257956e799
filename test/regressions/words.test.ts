import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { FINDINGS, fromColumns, fromRows, paint, printProblem, proof } from 'acuarela'
import { checkReportData, openReport, type ReportSpec } from 'acuarela/report'
import { expect, test } from 'vitest'
import { acuarela, folder } from '../support/tool.js'

const CSV = `date,region,shop,amount,sold
2025-01-05,Coast,Larkmoor,6000,10
2025-01-06,Coast,Quay Lane,7000,20
2025-01-06,Coast,Saltmarsh,7500,5
2025-01-07,Valley,Old Mill,9000,40
2025-01-08,Valley,Fennel Row,5000,1
2025-01-08,Valley,Tansy Green,5500,0
`
const HEAD = `title: Words
sources: { sales: { file: sales.csv, date: date } }
measures:
  amount: { formula: sum(amount), format: money EUR 0, better: higher }
statuses:
  good: { label: Good, wash: aqua, icon: tick }
  fair: { label: Fair, wash: straw, icon: dash }
  bad: { label: Bad, wash: coral, icon: cross }
parameters: { target: 6500 }
`
const SHOPS = 'exhibits: [{ name: shops, table: { rows: [region, shop], show: amount } }]\n'

/** Runs a command of the tool on a report of these lines. */
async function run(command: string, report: string, args: readonly string[] = [], csv = CSV) {
  const cwd = await folder({ 'r.acuarela.yaml': report, 'sales.csv': csv })
  return acuarela([command, 'r.acuarela.yaml', ...args], cwd)
}

async function findings(
  rules: string,
  more = SHOPS,
  csv = CSV,
): Promise<{ code: string; at: string; message: string; fix: string }[]> {
  const { out, err } = await run('proof', `${HEAD}${rules}${more}`, ['--json'], csv)
  expect(err).toBe('')
  return JSON.parse(out) as Awaited<ReturnType<typeof findings>>
}

const codes = async (...args: Parameters<typeof findings>): Promise<string[]> =>
  (await findings(...args)).map(({ code }) => code)

/** The messages of a report that cannot be painted; the tool prints the same. */
async function refused(text: string, csv = CSV): Promise<string> {
  const problems = await checkReportData(text, { sales: csv })
  expect(problems.length).toBeGreaterThan(0)
  return `${problems.map(printProblem).join('\n')}\n`
}

test('3.1 proof finds a count for a share, a percent without its sign, and a rank that counts who is left out', async () => {
  const split =
    'rules:\n  - { paint: amount, rank: { split: [{ share: 50, status: good }, { share: 30, status: fair }, { otherwise: bad }] } }\n'
  const counted = (await findings(split)).find(({ code }) => code === 'count-for-share')
  expect(counted).toMatchObject({
    message: 'share 50 takes all 6 cells, and the parts after it are empty',
    fix: expect.stringContaining('50%'),
  })
  expect(await codes(split.replace('50', '50%').replace('30', '30%'))).not.toContain('count-for-share')
  const bare =
    'rules:\n  - { paint: amount, bands: [{ atLeast: target, status: good }, { atLeast: 80, status: fair }, { otherwise: bad }] }\n'
  const meant = await findings(bare)
  expect(meant.find(({ code }) => code === 'percent-meant')).toMatchObject({ fix: 'did you mean 80% of target?' })
  expect(meant.map(({ code }) => code)).not.toContain('hundredfold')
  expect(await codes(bare.replace(' 80,', ' 80% of target,'))).not.toContain('percent-meant')
  const ranked = "rules:\n  - { paint: amount, where: region = 'Coast', rank: { top: 3, status: good } }\n"
  expect((await findings(ranked)).find(({ code }) => code === 'ranked-outside')).toMatchObject({
    message: expect.stringContaining("top 3 gives 2 cells of the 3 where region = 'Coast'"),
    fix: expect.stringContaining("among: region = 'Coast'"),
  })
  expect(await codes(ranked.replace('where', 'among'))).not.toContain('ranked-outside')
})

test('3.1 proof finds sums over pairs of unlike values, and not over alike ones', async () => {
  const pairs = (large: number): string =>
    `date,shop,figure,value\n${['2025-01', '2025-02', '2025-03'].flatMap((m) => ['Larkmoor', 'Old Mill'].flatMap((shop) => [`${m},${shop},visitors,${large}`, `${m},${shop},hours,200`])).join('\n')}\n`
  const cwd = await folder({ 'doors.csv': pairs(5000), 'alike.csv': pairs(300) })
  for (const name of ['doors', 'alike'])
    await writeFile(
      join(cwd, `${name}.acuarela.yaml`),
      `title: Sums\nsources: { pairs: { file: ${name}.csv, date: date } }\nmeasures: { total: sum(value) }\nexhibits: [{ name: all, table: { rows: shop, show: total } }]\n`,
    )
  const sentences = async (name: string): Promise<string[]> => {
    const { out } = await acuarela(['proof', `${name}.acuarela.yaml`, '--json'], cwd)
    return (JSON.parse(out) as { code: string; fix: string }[])
      .filter(({ code }) => code === 'unlike-sum')
      .map((finding) => finding.fix)
  }
  expect((await sentences('doors'))[0]).toContain("where figure = 'hours'")
  expect(await sentences('alike')).toEqual([])
})

test('3.1 proof is quiet about what is meant: bars from zero, a limit of zero, gradients, flags', async () => {
  expect(Object.keys(FINDINGS)).toContain('scale-squeezed')
  const close = fromColumns({ x: Float64Array.from([90, 91, 92, 93, 94, 95, 96, 97, 98, 99, 100]) })
  const told = (rules: object[], statuses: object = {}): string[] =>
    proof(paint(close, { rules, statuses } as never)).map(({ code }) => code)
  expect(told([{ paint: 'x', bar: { color: 'indigo', from: 0 } }])).not.toContain('scale-squeezed')
  expect(told([{ paint: 'x', gradient: { ramp: ['paper', 'aqua'], from: 0 } }])).toEqual([])
  const far = fromColumns({ x: Float64Array.from([1, 2, 1, 2, 1, 2, 1, 2, 1000]) })
  expect(
    proof(paint(far, { rules: [{ paint: 'x', bar: { color: 'indigo', from: 0 } }] })).map(({ code }) => code),
  ).toContain('scale-squeezed')
  const good = { good: { wash: 'aqua' }, bad: { wash: 'coral' } }
  expect(told([{ paint: 'x', bands: [{ below: 0, status: 'bad' }, { otherwise: 'good' }] }], good)).not.toContain(
    'paints-everything',
  )
  const flags = { one: { wash: 'aqua', flag: 'ahead' }, two: { fill: '#c4f0dc', flag: 'near' } }
  const bands = [{ below: 95, status: 'one' }, { otherwise: 'two' }]
  expect(told([{ paint: 'x', bands }], flags)).not.toContain('too-close')
  expect(told([{ paint: 'x', bands }], { one: { wash: 'aqua' }, two: { fill: '#c4f0dc' } })).toContain('too-close')
  const gradient = 'rules:\n  - { paint: amount, gradient: { ramp: [paper, aqua] } }\n'
  const wide = 'exhibits: [{ name: shops, table: { rows: shop, columns: [region, day], show: amount } }]\n'
  expect(await codes(gradient, wide)).not.toContain('crowded')
})

test('3.1 the advice to round names the measure that is judged, and its digits', async () => {
  const csv = CSV.replace('9000', '8999.6')
  const [finding] = (
    await findings('rules:\n  - { paint: amount, bands: [{ atLeast: 9000, status: good }] }\n', SHOPS, csv)
  ).filter(({ code }) => code === 'reads-as-limit')
  expect(finding.fix).toContain('judge: round(amount, 0)')
})

test('3.2 tally --against lists every cell that changes, whatever of it changes, in JSON too', async () => {
  const rules = `rules:
  - { paint: amount, only: [shops], bar: { color: indigo, to: 'target' } }
  - { paint: amount, only: [icons], bands: [{ atLeast: target, style: { icon: tick } }, { otherwise: { icon: cross } }] }
  - { paint: amount, only: [low], bands: [{ below: target, status: bad }] }
exhibits:
  - { name: shops, table: { rows: shop, show: amount } }
  - { name: icons, table: { rows: shop, show: amount } }
  - { name: low, list: { by: shop, of: amount, status: bad } }
`
  const [text, json] = await Promise.all([
    run('tally', HEAD + rules, ['--against', 'target=7200']),
    run('tally', HEAD + rules, ['--against', 'target=7200', '--json']),
  ])
  type Change = {
    exhibit: string
    name: string
    before?: string | null
    after?: string | null
    changes?: { channel: string; before: string | null; after: string | null }[]
  }
  const { against } = JSON.parse(json.out) as { against: { cells: Change[]; restyled: Change[] } }
  // Only the list shows the status; the count under the table changes, so the cell is listed.
  expect(against.cells.map(({ exhibit, name, before, after }) => [exhibit, name, before, after])).toEqual([
    ['low', 'Quay Lane', null, 'Bad'],
  ])
  const bars = against.restyled.filter(({ exhibit }) => exhibit === 'shops')
  expect(bars.map(({ name }) => name)).toEqual(['Fennel Row', 'Larkmoor', 'Quay Lane', 'Tansy Green'])
  expect(bars[0].changes).toEqual([
    { channel: 'bar', before: 'indigo solid 0% to 76.9%', after: 'indigo solid 0% to 69.4%' },
  ])
  expect(
    against.restyled.filter(({ exhibit }) => exhibit === 'icons').map(({ name, changes }) => [name, changes]),
  ).toEqual([['Quay Lane', [{ channel: 'icon', before: 'tick', after: 'cross' }]]])
  expect(text.out).toContain('1 cell changes status')
  expect(text.out).toContain('4 cells of shops.amount change their bar:')
  expect(text.out).toContain('1 cell of icons.amount changes its icon:')
  expect(text.out).toMatch(/Fennel Row +€5,000 +bar indigo solid 0% to 76\.9% → indigo solid 0% to 69\.4%/)
})

test('3.3 limits in sentences have as many digits as tell them apart', async () => {
  const csv = 'date,shop,part\n2025-01-05,Larkmoor,-4.98\n2025-01-05,Quay Lane,3\n'
  const head = HEAD.replace('amount: { formula: sum(amount)', 'part: { formula: sum(part)')
  const rules = `rules:
  - { name: low, paint: part, bands: [{ atMost: -5, status: bad }, { atMost: 0.001, status: fair }, { atMost: 0.002, status: good }] }
exhibits: [{ name: shops, table: { rows: shop, show: part } }]
`
  const [why, tried, told] = await Promise.all([
    run('why', head + rules, ['shops.part', 'shop=Larkmoor'], csv),
    run('rehearse', head + rules, ['--json'], csv),
    run('rules', head + rules, [], csv),
  ])
  expect(why.out).toContain('at most −€5.00: no, for it is −€4.98')
  const [{ trials }] = JSON.parse(tried.out) as { trials: { text: string; value: number | null }[] }[]
  const texts = trials.filter(({ value }) => value !== null).map(({ text }) => text)
  expect(new Set(texts).size).toBe(texts.length)
  expect(told.out).toContain('Fair at €0.001 or less, Good at €0.002 or less')
})

test('3.3 cells are named by all their keys, fills with their ink, and no sentence has a gap', async () => {
  const rules = `rules:
  - { name: ink, paint: amount, bands: [{ atLeast: target, style: { fill: aqua, ink: coral } }] }
  - { name: bars, paint: amount, bar: { color: indigo, from: lowest(amount), base: mean(amount), negative: coral }, within: region }
`
  const [why, told, painted] = await Promise.all([
    run('why', HEAD + rules + SHOPS, ['shops.amount', 'shop=Old Mill']),
    run('rules', HEAD + rules + SHOPS),
    run('paint', HEAD + rules + SHOPS.replace('table:', "where: shop = 'Nobody', table:")),
  ])
  expect(why.out).toContain('Valley, Old Mill (shops)')
  expect(told.out).toContain('aqua fill and coral text')
  expect(`${why.out}${told.out}${painted.out}`).not.toMatch(/right of ,|left of \.|, lowest of each$| of $/m)
  expect(told.out).toContain('right of the base of each')
})

test('3.3 why of a missing value says why it is missing', async () => {
  const csv = `${CSV}2024-01-05,Coast,Larkmoor,100,0\n2025-01-09,Coast,Peña Alta,,\n`
  const report = `title: Missing
sources:
  sales: { file: sales.csv, date: date }
  plan: { file: plan.csv, date: month, match: region }
period: '2025'
measures:
  amount: sum(amount)
  each: { formula: amount / sum(sold) }
  before: 'lag(amount, 1 year)'
  growth: 'percentChange(amount, before)'
  early: 'lag(amount, 3 years)'
  plan: sum(plan.planned)
exhibits:
  - { name: shops, table: { rows: [region, shop], show: [amount, each, before, growth, early, plan] } }
  - { name: regions, table: { rows: region, show: [early, plan] } }
  - { name: months, table: { rows: shop, columns: month, show: amount } }
`
  const cwd = await folder({
    'r.acuarela.yaml': report,
    'sales.csv': csv,
    'plan.csv': 'month,region,planned\n2025-01,Coast,5\n',
  })
  const why = async (target: string, ...keys: string[]): Promise<string> => {
    const { out } = await acuarela(['why', 'r.acuarela.yaml', target, ...keys, '--json'], cwd)
    return (JSON.parse(out) as { why: { sentences: string[] } }).why.sentences[0]
  }
  expect(await why('shops.each', 'shop=Tansy Green')).toBe('each is missing: it divides by sum(sold), which is 0 here.')
  expect(await why('shops.amount', 'shop=Peña Alta')).toBe(
    'amount is missing: none of the 1 row of sales has a value for sum(amount).',
  )
  expect(await why('shops.before', 'shop=Old Mill')).toBe('before is missing: sales has no rows here in that period.')
  expect(await why('regions.early', 'region=Coast')).toMatch(
    /^early is missing: it reads .*2022.*, outside the data of sales/,
  )
  expect(await why('shops.plan', 'shop=Larkmoor')).toMatch(/^plan is missing: plan does not know shop/)
  expect(await why('regions.plan', 'region=Valley')).toBe('plan is missing: plan has no rows here.')
  expect(await why('months.amount', 'shop=Larkmoor', 'month=2025-06')).toBe(
    'amount is missing: it lies after the date of the report.',
  )
  const table = paint(fromRows([{ x: 1 }, { x: null }]), {
    rules: [{ paint: 'x', bands: [{ atLeast: 0, style: { weight: 'bold' } }] }],
  })
  expect(table.why(1, 'x').sentences[0]).toBe('x is missing: the row has no value.')
})

test('3.4 a reading says what texts and dates are; why without keys lists the first twenty', async () => {
  const many = Array.from({ length: 50 }, (_, i) => `2025-02-01,Coast,Shop ${i},1,1`).join('\n')
  const report = `${HEAD}rules: []
exhibits:
  - { name: shops, table: { rows: shop, show: amount } }
  - { name: rows, records: { show: [date, shop, amount] } }
`
  const cwd = await folder({ 'r.acuarela.yaml': report, 'sales.csv': `${CSV}${many}\n` })
  const why = await acuarela(['why', 'r.acuarela.yaml', 'shops.amount'], cwd)
  const lines = why.out.trimEnd().split('\n')
  expect([lines.length, lines[0], lines.at(-1)]).toEqual([
    22,
    '56 cells match; name one with its keys:',
    '  … and 36 more',
  ])
  const { reading } = await import('../../dist/cli/reading.js' as string)
  const { openReportFile } = await import('acuarela/node')
  const text = reading(await openReportFile(`${cwd}/r.acuarela.yaml`)) as string
  expect(text).not.toContain('missing everywhere')
  expect(text).toContain('date: 2025-01-05 to 2025-02-01')
  expect(text).toContain('shop: 56 different values')
})

test('3.5 messages lead to the fix', async () => {
  const rule = (band: string): string => `${HEAD}rules:\n  - { paint: amount, ${band} }\n${SHOPS}`
  const shows = (exhibit: string): string => `${HEAD}exhibits: [{ name: e, ${exhibit} }]\n`
  const measure = (measure: string): string => HEAD.replace('statuses:', `  ${measure}\nstatuses:`) + SHOPS
  const cases: [string, string[], string[]][] = [
    [
      shows('where: shop = Popcorn, table: { rows: shop, show: amount }'),
      ["put it in quotes: 'Popcorn'"],
      ['unknown name'],
    ],
    [measure('x: average(amount)'), ['did you mean mean?'], []],
    [measure('x: avrage(amount)'), ['unknown function', 'sum, mean, median'], []],
    [
      shows('chart: { along: month, show: [amount, { show: amount, draw: donut }] }'),
      ["'donut' is not one of bar, line, point, mark"],
      ['expected one of', 'is missing'],
    ],
    [
      shows('reading: { of: [{ key: month, keep: many }], by: shop }'),
      ['found a list'],
      ['expected one of table', 'is missing'],
    ],
    [rule('bands: { atLeast: 5, status: good }'), ['expected a list, found a map'], ['a rule needs one of']],
    [rule('top: 3, status: good'), ['it belongs inside rank'], ['a rule needs one of']],
    [
      shows('table: { rows: shop, show: amount, totals: { rows: bottom, subtotals: none } }'),
      ["expected true or false, found 'none'"],
      ["'a map'"],
    ],
    [shows('table: { rows: shop, show: amount, subtotals: none }'), ['it belongs inside totals'], ['did you mean']],
    [
      `${HEAD}fields: { sales: { x: amount * target } }\n${SHOPS}`,
      ['target is a parameter, which is not available here'],
      ['unknown name'],
    ],
    [
      shows('where: amount2 > 5, table: { rows: shop, show: amount }').replace(
        'statuses:',
        '  amount2: sum(amount)\nstatuses:',
      ),
      ['amount2 is a measure, which is not available here'],
      ['did you mean'],
    ],
    [rule('bands: [{ atLeast: 1,5, status: good }]'), ['write the number with a point: 1.5'], ['null']],
    [rule('bands: [{ when: > 5, status: good }]'), ["between quotes: 'value > 5'"], ['block scalar']],
    [`${HEAD.replace('title: Words', "title: 'Words")}${SHOPS}`, ['1:8: the text that begins here is not closed'], []],
    [rule('bands: [{ atLeast: 5, style: { fill: aqau } }]'), ['did you mean aqua?'], []],
    [rule('gradient: { ramp: [paper, aqau] }'), ['did you mean aqua?'], []],
    [
      rule('bands: [{ atLeast: target, status: good }]').replace('target: 6500', 'target: lots'),
      ['target=lots is not a number'],
      ['unknown name'],
    ],
    [measure('sold: sold + 1'), ['did you mean sum(sold)?'], ['circle']],
    [
      shows('table: { rows: shop, show: amount, sort: total }').replace('statuses:', '  total: sum(amount)\nstatuses:'),
      ['total is a measure that this exhibit does not show'],
      [],
    ],
    [shows('table: { rows: shop, show: amount, sort: amont }'), ['did you mean amount?'], []],
    [measure('x: mean()'), ['as in mean(', 'nothing is given'], ['0 are']],
  ]
  for (const [text, has, lacks] of cases) {
    const said = await refused(text)
    for (const part of has) expect(said).toContain(part)
    for (const part of lacks) expect(said).not.toContain(part)
  }
  const all = await refused(
    `${HEAD}rules:\n  - { paint: amunt, where: shp = 1, bands: [{ atLeast: taget, status: god }] }\n${SHOPS}`,
  )
  for (const part of ['amunt', 'shp', 'taget', 'god']) expect(all).toContain(part)
  expect(all).toContain('unknown status: god')
})

test('3.6 columns without values take the kind that is asked of them', async () => {
  const spec = {
    title: 'Empty',
    sources: { sales: { file: 'sales.csv', date: 'date' } },
    fields: { sales: { low: 'lowercase(kind)' } },
    measures: {
      total: 'sum(amount)',
      some: "sum(amount) where kind = 'Popcorn'",
      n: 'count() where flag',
      m: 'mean(if flag then amount else 0)',
    },
    statuses: { good: { wash: 'aqua' } },
    rules: [
      {
        paint: 'kind',
        bands: [
          { equals: 'Trade', status: 'good' },
          { contains: 'x', status: 'good' },
        ],
      },
      { paint: 'total', where: "kind = 'Trade'", bands: [{ atLeast: 5, status: 'good' }] },
    ],
    exhibits: [
      {
        name: 'kinds',
        where: "kind != 'Trade' or kind is missing",
        table: { rows: ['shop', 'kind'], show: ['total', 'some', 'n', 'm'] },
      },
      { name: 'rows', records: { show: ['shop', 'kind', 'low', 'amount', 'flag'] } },
    ],
  } as unknown as ReportSpec
  const head = 'date,shop,amount,kind,flag\n'
  for (const csv of [head, `${head}2025-01-01,Larkmoor,5,,\n`, `${head}2025-01-01,Larkmoor,,,\n`])
    expect(await checkReportData(spec, { sales: csv })).toEqual([])
  const page = await openReport(spec, { sales: `${head}2025-01-01,Larkmoor,5,,\n` })
  const [kinds] = page.exhibits
  if (!('rows' in kinds)) throw new Error('a table was expected')
  expect(kinds.rows.at(-1)?.cells.map((cell) => cell?.value)).toEqual([5, null, 0, null])
  const empty = await openReport(spec, { sales: head })
  expect(empty.messages).toContain('sales has no rows')
})
