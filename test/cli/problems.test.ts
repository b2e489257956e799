import { mkdir, readdir, readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import type { Painted } from '../support/painted.js'
import { acuarela, folder } from '../support/tool.js'

const CSV =
  'date,region,shop,amount\n2025-01-05,Coast,Larkmoor,10\n2025-02-07,Coast,Quay Lane,30\n2025-02-09,Valley,Old Mill,20\n'
const REPORT = `title: Shops
locale: en-GB
sources: { sales: { file: sales.csv, date: date } }
measures:
  revenue: { formula: sum(amount), format: money EUR 0, better: higher }
  orders: count()
parameters: { target: { value: 15, from: 0, to: 100, format: money EUR 0 }, slack: 10% }
statuses: { ahead: { wash: aqua, icon: tick }, behind: { wash: coral, icon: cross } }
rules:
  - paint: revenue
    bands: [ { atLeast: target, status: ahead }, { otherwise: behind } ]
exhibits:
  - name: shops
    table: { rows: [region, shop], show: [revenue, orders], totals: bottom }
`

/** Paints a changed report in a folder of its own; returns the output and the files. */
async function paint(change: (text: string) => string, csv = CSV, ...args: string[]) {
  const cwd = await folder({ 'r.acuarela.yaml': change(REPORT), 'sales.csv': csv })
  const run = await acuarela(['paint', 'r.acuarela.yaml', '--to', 'html,json', '--out', 'out', ...args], cwd)
  return { ...run, cwd, files: (await readdir(cwd)).sort() }
}

async function data(cwd: string): Promise<Painted> {
  return JSON.parse(await readFile(join(cwd, 'out/r.json'), 'utf8')) as Painted
}

const put =
  (from: string | RegExp, to: string) =>
  (text: string): string => {
    const changed = text.replace(from, to)
    if (changed === text) throw new Error(`nothing to replace: ${from}`)
    return changed
  }

test('a sound report is painted, and what was written is reported on standard error', async () => {
  const { code, out, err, files } = await paint((t) => t)
  expect([code, out]).toEqual([0, ''])
  expect(err).toMatch(
    /^wrote out\/r\.html\nwrote out\/r\.json\nthe page carries 3 groups in place of the 3 rows of sales \(\d kB\); --static leaves them out\n$/,
  )
  expect(files).toContain('out')
})

test('three different mistakes are three problems with line and column, and no file', async () => {
  const { code, out, err, files } = await paint((t) =>
    put(
      'show: [revenue, orders]',
      'show: [revnue, orders]',
    )(put('orders: count()', 'orders: count( + 1')(put('totals:', 'total:')(t))),
  )
  expect(code).toBe(2)
  expect(out).toBe('')
  expect(err.split('\n').filter((line) => line.startsWith('r.acuarela.yaml:'))).toEqual([
    "r.acuarela.yaml:6:18 (measures.orders): expected a number, a text or a name, found '+'",
    'r.acuarela.yaml:14:43 (exhibits[1].table.show[1]): unknown measure: revnue; did you mean revenue?',
    'r.acuarela.yaml:14:60 (exhibits[1].table.total): unknown key: total; did you mean totals?',
  ])
  expect(err).toContain('    count( + 1\n           ^\n')
  expect(err).toContain('3 problems; nothing was written')
  expect(files).toEqual(['r.acuarela.yaml', 'sales.csv'])
})

// The change, words of the problem, and its place.
test.each<[string, (text: string) => string, string, string]>([
  [
    'a text compared with a limit',
    put('atLeast: target', 'atLeast: "\'x\'"'),
    'money EUR cannot be compared with a text',
    '11:26',
  ],
  ['a bare percent', put('atLeast: target', 'atLeast: 80%'), 'say of what, as in 80% of target', '11:25'],
  ['a circle', put('orders: count()', 'orders: rest\n  rest: orders + 1'), 'orders → rest → orders', '6:11'],
  ['an unknown status', put('status: ahead', 'status: ahed'), 'unknown status: ahed; did you mean ahead?', '11:41'],
  ['an unknown pigment', put('wash: aqua', 'wash: aqau'), 'unknown pigment: aqau; did you mean aqua?', '8:28'],
  ['an unknown icon', put('icon: tick', 'icon: tik'), 'unknown icon: tik; did you mean tick?', '8:40'],
  ['an unknown column', put('sum(amount)', 'sum(amuont)'), 'unknown name: amuont; did you mean amount?', '5:27'],
  [
    'an unknown key of rows',
    put('rows: [region, shop]', 'rows: [regin, shop]'),
    'regin is neither a column nor a time dimension; did you mean region?',
    '14:21',
  ],
  [
    'a field without an aggregate',
    put('count()', 'amount'),
    'say how the rows become one number, as in sum(amount)',
    '6:11',
  ],
  [
    'two kinds in one rule',
    put('    bands:', '    rank: { top: 1, status: ahead }\n    bands:'),
    'this one has bands and rank; make it 2 rules',
    '10:5',
  ],
  [
    'otherwise before a limit',
    put(
      '[ { atLeast: target, status: ahead }, { otherwise: behind } ]',
      '[ { otherwise: behind }, { atLeast: target, status: ahead } ]',
    ),
    'it comes last',
    '11:14',
  ],
  [
    'a format that contradicts',
    put('orders: count()', 'orders: { formula: count(), format: percent 0 }'),
    'make them agree',
    '6:39',
  ],
  ['a format that is none', put('money EUR 0, better', 'euros 0, better'), 'is not a format', '5:44'],
  [
    'a period that is none',
    put('title: Shops', 'title: Shops\nperiod: next year'),
    "'next year' is not a period",
    '2:9',
  ],
  ['a name taken twice', put('orders: count()', 'target: count()'), 'target is already the name of a parameter', '6:3'],
  ['a locale that is none', put('en-GB', 'e'), 'is not a locale', '2:9'],
  ['null', put('title: Shops', 'title:'), 'has no value (null)', '1:1'],
  ['leading zeros', put('atLeast: target', 'equals: 007'), '007 is read as the number 7', '11:24'],
  [
    'a value cut at a comma',
    put('formula: sum(amount)', 'formula: percentile(amount, 90%)'),
    'the value is cut at a comma',
    '5:23',
  ],
  ['a value cut at #', put('wash: aqua', 'wash: #a7e5e4'), '', '8:'],
  ['braces', put('title: Shops', 'title: {growth} of shops'), 'braces are read as a map', '1:8'],
  [
    '5,000 brackets in an expression',
    put('sum(amount)', '('.repeat(3000)),
    'nested too deeply: an expression goes 100 levels deep',
    '5:',
  ],
  ['5,000 brackets in the file', put('title: Shops', `title: ${'['.repeat(5000)}`), 'brackets nested too deeply', '1:'],
])('%s is refused in its own words, at its place', async (_, change, says, place) => {
  const { code, err, files } = await paint(change)
  expect(code).toBe(2)
  expect(err).toContain(says)
  expect(err).toContain(`r.acuarela.yaml:${place}`)
  expect(err).not.toMatch(/\n\s+at |TypeError|RangeError|internal error of acuarela/)
  expect(files).toEqual(['r.acuarela.yaml', 'sales.csv'])
})

test('data that cannot be used are reported, each in its own way', async () => {
  const missing = await paint(put('sales.csv', 'nothing.csv'))
  expect([missing.code, missing.err]).toEqual([
    2,
    'r.acuarela.yaml:3:27 (sources.sales.file): there is no file nothing.csv; check the path\n',
  ])
  const empty = await paint((t) => t, '')
  expect([empty.code, empty.err]).toEqual([2, 'sales.csv: the file is empty\n'])
  const text = await paint((t) => t, CSV.replace(',30', ',thirty'))
  expect(text.code).toBe(2)
  expect(text.err).toContain("amount is read as text: 1 of 3 values are not numbers, the first 'thirty' in line 3")
  const ragged = await paint((t) => t, `${CSV}2025-03-01,Coast\n`)
  expect([ragged.code, ragged.err.split(';')[0]]).toEqual([2, 'sales.csv:5: line 5 has 2 values and the header 4'])
  const folderFile = await paint(put('sales.csv', '.'))
  expect([folderFile.code, folderFile.err]).toEqual([
    2,
    'r.acuarela.yaml:3:27 (sources.sales.file): . cannot be read: it is a folder\n',
  ])
  for (const run of [missing, empty, text, ragged, folderFile])
    expect(run.files).toEqual(['r.acuarela.yaml', 'sales.csv'])
})

test('a text read as a number on request is missing, counted and said', async () => {
  const { code, cwd } = await paint(
    put('date: date', 'date: date, read: { amount: number }'),
    CSV.replace(',30', ',thirty'),
  )
  expect(code).toBe(0)
  const painted = await data(cwd)
  expect(painted.messages).toEqual([
    "1 value of amount could not be read and counts as missing; the first is 'thirty' in line 3",
  ])
  expect(painted.exhibits[0].messages).toEqual([
    expect.stringMatching(/^1 of \d+ rows of sales have no amount and add nothing$/),
  ])
  const lost = painted.exhibits[0].cells.find((c) => c.row.shop === 'Quay Lane' && c.measure === 'revenue')
  expect([lost?.value, lost?.text, lost?.style.status]).toEqual([null, '', null])
})

test('a header with no rows gives an honest empty exhibit', async () => {
  const { code, cwd } = await paint((t) => t, 'date,region,shop,amount\n')
  expect(code).toBe(0)
  const painted = await data(cwd)
  expect(painted.messages).toContain('sales has no rows')
  expect(painted.exhibits[0].cells.every((c) => c.value === null && c.style.status === null)).toBe(true)
  expect(await readFile(join(cwd, 'out/r.html'), 'utf8')).toContain('sales has no rows')
})

test('a missing report file, and a report with a problem in file and data both', async () => {
  const cwd = await folder()
  expect(await acuarela(['paint', 'gone.yaml'], cwd)).toEqual({
    code: 2,
    out: '',
    err: 'there is no file gone.yaml; check the path\n',
  })
  const both = await paint((t) => put('ahead }, {', 'ahed }, {')(put('sales.csv', 'gone.csv')(t)))
  expect(both.err).toContain('there is no file gone.csv')
  expect(both.err).toContain('unknown status: ahed')
})

test('--set is checked: name, number, percent; outside its bounds it is taken and said', async () => {
  const run = (value: string) => paint((t) => t, CSV, '--set', value)
  expect((await run('targt=5')).err).toBe('--set targt=5: unknown parameter: targt; did you mean target?\n')
  expect((await run('target=many')).err).toContain('target=many is not a number')
  expect((await run('slack=0.1')).err).toContain('slack is a percent and 0.1 is not; did you mean 10%?')
  expect((await run('target=5%')).err).toContain('target is not a percent')
  expect((await run('target')).err).toContain("--set takes NAME=NUMBER, not 'target'")
  const far = await run('target=400')
  expect(far.code).toBe(0)
  expect((await data(far.cwd)).messages).toEqual(['target is €400, outside its bounds €0 to €100'])
})

test('wrong use of the tool is exit code 2, with the fix on standard error', async () => {
  const cwd = await folder({ 'r.acuarela.yaml': REPORT, 'sales.csv': CSV })
  const run = (...args: string[]) => acuarela(args, cwd)
  for (const [args, says] of [
    [['pain', 'r.acuarela.yaml'], 'unknown command: pain; did you mean paint?'],
    [['paint'], 'acuarela paint needs report; acuarela paint --help shows an example'],
    [['paint', 'r.acuarela.yaml', 'x'], "acuarela paint takes one argument, and 'x' is one more"],
    [['paint', 'r.acuarela.yaml', '--theme', 'drak'], "--theme does not take 'drak'; did you mean dark?"],
    [['paint', 'r.acuarela.yaml', '--to'], '--to <formats> needs a value'],
    [['paint', 'r.acuarela.yaml', '--too', 'html'], 'unknown option: --too; did you mean --to?'],
    [
      ['paint', 'r.acuarela.yaml', '--to', 'htm'],
      "cannot write 'htm'; did you mean html? --to takes html, svg, png, pdf, text, json, csv",
    ],
    [['paint', 'r.acuarela.yaml', '--to', 'html,json'], '2 formats go to a folder; name it with --out'],
    [['paint', 'r.acuarela.yaml', '--out', 'x.docx'], "cannot write 'docx'"],
    [['paint', 'r.acuarela.yaml', '--where', 'region ='], 'the expression ends too early'],
    [['paint', 'r.acuarela.yaml', '--period', 'soon'], "--period: 'soon' is not a period"],
    [['paint', 'r.acuarela.yaml', '--as-of', 'soon'], "--as-of: 'soon' is not a date"],
    [['paint', 'r.acuarela.yaml', '--to', 'json', '--out', 'sales.csv/x.json'], 'cannot be written'],
  ] as const) {
    const result = await run(...args)
    expect([result.code, result.out], args.join(' ')).toEqual([2, ''])
    expect(result.err, args.join(' ')).toContain(says)
  }
  expect((await readdir(cwd)).sort()).toEqual(['r.acuarela.yaml', 'sales.csv'])
})

test('--debug says where an error was thrown, and how long it took', async () => {
  const cwd = await folder({ 'r.acuarela.yaml': REPORT, 'sales.csv': CSV })
  const fine = await acuarela(['paint', 'r.acuarela.yaml', '--debug'], cwd)
  expect([fine.code, fine.err]).toEqual([0, expect.stringMatching(/took \d+ ms/)])
  const broken = await acuarela(['paint', 'none.acuarela.yaml', '--debug'], cwd)
  expect([broken.code, broken.err]).toEqual([2, expect.stringMatching(/\n {4}at .*\.js:\d+/)])
})

test('help is on standard output, with examples and exit codes', async () => {
  for (const args of [['--help'], ['paint', '--help'], ['demo', '--help'], ['--version']]) {
    const { code, out, err } = await acuarela(args)
    expect([code, err]).toEqual([0, ''])
    expect(out.length).toBeGreaterThan(4)
  }
  expect((await acuarela(['paint', '--help'])).out).toMatch(
    /Examples:[\s\S]*--set targetLevel=110%[\s\S]*Exit codes: 0 done, 2/,
  )
})

test('without --to and --out the report is printed as text; --out alone goes by its ending; results are clean on standard output', async () => {
  const cwd = await folder({ 'r.acuarela.yaml': REPORT, 'sales.csv': CSV })
  const reading = await acuarela(['paint', 'r.acuarela.yaml'], cwd)
  expect([reading.code, reading.err]).toEqual([0, ''])
  expect(reading.out).toContain('✓  ahead €15 or more (target) · 2\n')
  expect(reading.out).toMatch(/Quay Lane +✓ +€30/)
  const one = await acuarela(['paint', 'r.acuarela.yaml', '--out', 'page.html', '--quiet'], cwd)
  expect([one.code, one.out, one.err]).toEqual([0, '', ''])
  expect(await readFile(join(cwd, 'page.html'), 'utf8')).toMatch(/^<!doctype html>/)
  const piped = await acuarela(['paint', 'r.acuarela.yaml', '--to', 'html'], cwd)
  expect(piped.out).toBe(await readFile(join(cwd, 'page.html'), 'utf8'))
})

test('a file that is replaced is never half-written, and the old one stays when the new one is refused', async () => {
  const cwd = await folder({ 'r.acuarela.yaml': REPORT, 'sales.csv': CSV, 'page.html': 'old' })
  await writeFile(join(cwd, 'r.acuarela.yaml'), REPORT.replace('rows:', 'row:'))
  expect((await acuarela(['paint', 'r.acuarela.yaml', '--out', 'page.html'], cwd)).code).toBe(2)
  expect(await readFile(join(cwd, 'page.html'), 'utf8')).toBe('old')
})

test('of several files none is written when one cannot be', async () => {
  const cwd = await folder({ 'r.acuarela.yaml': REPORT, 'sales.csv': CSV })
  await mkdir(join(cwd, 'out/r.json'), { recursive: true })
  const { code, err } = await acuarela(['paint', 'r.acuarela.yaml', '--to', 'html,json', '--out', 'out'], cwd)
  expect([code, err]).toEqual([2, 'out/r.json exists already, as something else; choose another --out\n'])
  expect(await readdir(join(cwd, 'out'))).toEqual(['r.json'])
})

test('--with-data writes the cells beside a page, and needs a page with a name', async () => {
  const cwd = await folder({ 'r.acuarela.yaml': REPORT, 'sales.csv': CSV })
  const run = await acuarela(['paint', 'r.acuarela.yaml', '--out', 'page.html', '--with-data', '--quiet'], cwd)
  expect([run.code, run.err]).toEqual([0, ''])
  const csv = await acuarela(['paint', 'r.acuarela.yaml', '--to', 'csv'], cwd)
  expect(await readFile(join(cwd, 'page.csv'), 'utf8')).toBe(csv.out)
  const bare = await acuarela(['paint', 'r.acuarela.yaml', '--with-data'], cwd)
  expect([bare.code, bare.err]).toEqual([2, expect.stringContaining('name the page with --out')])
})
