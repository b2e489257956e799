import { execFile } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { createPainter, FINDINGS, fromColumns, fromRows, type PaintSpec, ProblemError, paint, proof } from 'acuarela'
import { toCsv, toData, toJson } from 'acuarela/data'
import { openDuckdb } from 'acuarela/engine/duckdb'
import { openPostgres } from 'acuarela/engine/postgres'
import { toFragment, toHtml } from 'acuarela/html'
import { openReportFile } from 'acuarela/node'
import { cellsOf, openReport, readCsv, readSource, sketch } from 'acuarela/report'
import { toSvg } from 'acuarela/svg'
import { toText } from 'acuarela/terminal'
import { expect, test } from 'vitest'
import { ROOT } from '../support/tool.js'

const ROWS = [
  { shop: 'Larkmoor', revenue: 10, day: '2025-01-05' },
  { shop: 'Quay Lane', revenue: 20, day: '2025-02-03' },
]
const AQUA = { style: { wash: 'aqua' } }
const bands = (band: object): PaintSpec => ({ rules: [{ paint: 'revenue', bands: [band] }] }) as PaintSpec

/** The problems of a call, as `place: sentence` lines. */
async function told(call: () => unknown): Promise<string> {
  try {
    await call()
  } catch (error) {
    expect(error).toBeInstanceOf(ProblemError)
    return (error as ProblemError).message
  }
  return ''
}

test('4.1 a misspelt key, a wrong value and a wrong shape are refused in words, all in one go', async () => {
  const wrong = {
    rules: [
      { paint: 'revenue', wher: 'revenue > 2', bands: [{ atLeast: 0, style: { wsh: 'aqua' } }] },
      { paint: 'revenue', gradient: { ramp: 'aqua', steps: 1e9 } },
      { paint: 'revenue', gradient: { ramp: 'aqua', steps: Number.NaN } },
    ],
    statusses: {},
  } as unknown as PaintSpec
  const message = await told(() => paint(ROWS, wrong))
  expect(message.split('\n')).toEqual([
    'rules[1].wher: unknown key: wher; did you mean where?',
    'rules[1].bands[1].style.wsh: unknown key: wsh; did you mean wash?',
    'rules[2].gradient.steps: expected at most 64, found 1000000000',
    'rules[3].gradient.steps: expected a whole number, found NaN',
    'statusses: unknown key: statusses; did you mean statuses?',
  ])
  // The same messages as for files.
  const file = `title: t\nsources: { s: {} }\nexhibits: [{ table: { rows: shop, show: revenue } }]\nmeasures: { revenue: sum(revenue) }\nrules:\n  - { paint: revenue, wher: revenue > 2, bands: [{ atLeast: 0, style: { wsh: aqua } }] }\n`
  const refusal = await told(() => openReport(file, { s: ROWS }))
  for (const line of message.split('\n').slice(0, 2)) expect(refusal).toContain(line.slice(line.indexOf(': ') + 2))
})

test('4.1 what is no table, page, report or painting is refused by every call', async () => {
  const page = await openReport(
    {
      title: 't',
      sources: { s: {} },
      measures: { revenue: 'sum(revenue)' },
      exhibits: [{ chart: { along: 'shop', show: 'revenue' } }],
    },
    { s: ROWS },
  )
  const calls: [() => unknown, string][] = [
    [() => paint(null as never, { rules: [] }), 'expected a table'],
    [() => paint({ a: 1 } as never, { rules: [] }), 'expected a table'],
    [() => paint(ROWS, undefined as never), 'expected a map of keys and values, found nothing'],
    [() => paint(ROWS, { rules: { paint: 'revenue' } } as never), 'rules: expected a list, found a map'],
    [() => paint(ROWS, { rules: [], locale: 'xx_yy' }), 'is not a locale'],
    [() => fromRows('x' as never), 'expected a list'],
    [() => fromRows([1] as never), 'row 1 is no record'],
    [() => fromColumns({ a: 5 } as never), 'expected a list or a typed array'],
    [() => fromRows(ROWS, { colums: {} } as never), 'did you mean columns?'],
    [() => proof({} as never), 'expected what paint gives'],
    [() => proof(paint(ROWS, bands({ above: 1, ...AQUA })), { ignore: [{ code: 'gap', because: 'x' }] }), 'not one of'],
    [() => openReport(5 as never, {}), 'expected a text or a map'],
    [() => openReport({ title: 't' } as never, [] as never), 'expected a map'],
    [() => openReport('title: t', {}, { parameter: {} } as never), 'did you mean parameters?'],
    [() => readCsv(5 as never), 'expected a text'],
    [() => readCsv('a\n1\n', { dates: 'a' } as never), 'did you mean date?'],
    [() => readCsv('a\n1\n', { zone: 'Europe/Mars' }), 'Europe/Mars'],
    [() => readSource([]), 'a list that is not empty'],
    [() => sketch([]), 'a list that is not empty'],
    [() => cellsOf({} as never), 'exhibit.kind'],
    [() => openDuckdb({ files: [] }), 'a list that is not empty'],
    [() => openDuckdb({ files: ['x.parquet'], thread: 2 } as never), 'did you mean threads?'],
    [() => openPostgres({ connection: 5 } as never), 'expected a text, found 5'],
    [() => openReportFile(undefined as never), 'path: expected a text, found nothing'],
    [() => toHtml({} as never), 'expected a page'],
    [() => toHtml(page, { papr: 'A4' } as never), 'did you mean paper?'],
    [() => toSvg(page, { rows: 0 }), 'at least 1'],
    [() => toText(page, { colors: 3 } as never), 'not one of'],
    [() => toText(undefined as never), 'expected a page'],
    [() => toCsv(null as never), 'expected a page'],
    [() => toJson('x' as never), 'expected a page'],
    [() => toData(undefined as never), 'expected a page'],
    [() => toFragment({} as never), 'expected a page'],
  ]
  for (const [call, has] of calls) expect(await told(call)).toContain(has)
})

test('4.1 rows, columns, parameters and rules that are not there are refused, with the nearest', async () => {
  const painting = paint(ROWS, {
    parameters: { target: 15, share: '15%' },
    rules: [{ paint: 'revenue', bands: [{ atLeast: 'target', ...AQUA }] }],
  })
  const calls: [() => unknown, string][] = [
    [() => painting.cell(9, 'revenue'), 'there is no row 9; the table has 2, counted from 0'],
    [() => painting.cell(0.5, 'revenue'), 'there is no row 0.5'],
    [() => painting.why(-1, 'revenue'), 'there is no row -1'],
    [() => painting.cell(0, 'revenu'), 'there is no column revenu; did you mean revenue?'],
    [() => painting.column('revenu'), 'did you mean revenue?'],
    [() => painting.repaint({ target: Number.NaN }), 'is not a number'],
    [() => painting.repaint({ tarjet: 5 }), 'did you mean target?'],
    [() => painting.repaint({ share: '12' }), 'did you mean 1200%?'],
    [() => painting.rehearse('band-1'), 'did you mean bands-1?'],
    [() => painting.rehearse(undefined, [{}] as never), 'expected a number or a text'],
  ]
  for (const [call, has] of calls) expect(await told(call)).toContain(has)
  // Numbers and texts are both values of parameters.
  expect(painting.repaint({ target: '5', share: 0.2 }).cell(0, 'revenue').fill).toBe('#a7e5e4')
  expect(painting.cell(0, 'revenue').fill).toBeNull()
  expect(painting.column('shop')).toBeUndefined()
})

test('4.2 empty and all-null data paint', async () => {
  const spec: PaintSpec = { rules: [{ paint: 'revenue', rank: { top: 1, ...AQUA } }] }
  const empty = paint(fromRows([], { kinds: { revenue: 'number' } }), spec)
  expect(empty.column('revenue')?.ids).toHaveLength(0)
  expect(paint([{ revenue: null }, { revenue: undefined }], spec).cell(1, 'revenue').fill).toBeNull()
  for (const band of [{ atLeast: 5 }, { equals: 'x' }, { equals: true }, { below: '2025-02-01' }])
    expect(paint([{ revenue: null }], bands({ ...band, ...AQUA })).cell(0, 'revenue').fill).toBeNull()
  // Created for one day, it works for a day without rows or values, and for the next one.
  const painter = createPainter(ROWS, bands({ atLeast: 15, ...AQUA }))
  expect(painter.paint([]).column('revenue')?.ids).toHaveLength(0)
  expect(painter.paint([{ shop: 'Larkmoor', revenue: null, day: null }]).cell(0, 'revenue').fill).toBeNull()
  expect(painter.paint(ROWS).cell(1, 'revenue').fill).toBe('#a7e5e4')
  // Created for a day without values, it takes the kinds of the next one.
  const later = createPainter([{ revenue: null }], bands({ atLeast: 15, ...AQUA }))
  expect(later.paint(ROWS).cell(1, 'revenue').fill).toBe('#a7e5e4')
  expect(await told(() => later.paint([{ revenue: 'high' }]))).toContain('cannot be compared')
  expect(await told(() => painter.paint([{ shop: 'a', revenue: 'high', day: null }]))).toContain(
    'made for a column revenue of numbers',
  )
  const page = await openReport(
    {
      title: 't',
      sources: { s: {} },
      measures: { revenue: 'sum(revenue)' },
      exhibits: [{ table: { rows: 'shop', show: 'revenue' } }],
    },
    { s: fromRows([], { kinds: { shop: 'text', revenue: 'number' } }) },
  )
  expect(page.messages.join()).toContain('no rows')
})

interface Sale {
  shop: string
  revenue: bigint
  day: Date | null
}

test('4.3 rows typed by an interface, ISO dates, moments in a zone, whole numbers of any size, typed arrays', () => {
  const sales: Sale[] = [
    { shop: 'Larkmoor', revenue: 12n, day: new Date('2025-01-30T23:00:00Z') },
    { shop: 'Quay Lane', revenue: 9n, day: null },
  ]
  const day = (table: ReturnType<typeof fromRows>): number[] => {
    const column = table.columns.get('day')?.column
    return column?.kind === 'date' ? [...column.values] : []
  }
  const january = (n: number): number => Date.UTC(2025, 0, n) / 86_400_000
  expect(day(fromRows(sales))).toEqual([january(30), Number.NaN])
  // Midnight in Berlin is the day that begins there.
  expect(day(fromRows(sales, { zone: 'Europe/Berlin' }))[0]).toBe(january(31))
  expect(day(fromRows([{ day: '2025-01-31' }, { day: ' 2025-01-01 ' }]))).toEqual([january(31), january(1)])
  expect(day(fromRows([{ day: '2025-01-30T23:30:00Z' }], { zone: 'Europe/Berlin' }))).toEqual([january(31)])
  expect(fromRows([{ day: '2025-02-30' }]).columns.get('day')?.column.kind).toBe('text')
  expect(fromRows([{ day: '2025-01-31' }], { kinds: { day: 'text' } }).columns.get('day')?.column.kind).toBe('text')
  expect(paint(sales, bands({ above: 10, ...AQUA })).cell(0, 'revenue').fill).toBe('#a7e5e4')
  const arrays = [
    Float32Array,
    Int32Array,
    Uint32Array,
    Int16Array,
    Uint16Array,
    Int8Array,
    Uint8Array,
    Uint8ClampedArray,
  ]
  for (const Numbers of arrays)
    expect(paint(fromColumns({ revenue: Numbers.of(9, 11) }), bands({ above: 10, ...AQUA })).tally().parts[0]).toEqual(
      expect.objectContaining({ painted: 1 }),
    )
  const big = fromColumns({ a: BigInt64Array.of(-1n, 2n), b: BigUint64Array.of(1n, 2n) })
  expect([...big.columns.values()].map(({ column }) => column.kind === 'number' && [...column.values])).toEqual([
    [-1, 2],
    [1, 2],
  ])
})

test('4.3 texts among numbers are reported with their row, and dates are compared with written ones', async () => {
  const mixed = await told(() => fromRows([{ a: 1 }, { a: 'n/a' }, { a: 3 }, { a: '4' }]))
  expect(mixed).toContain("rows[2].a: a is numbers, and row 2 holds 'n/a', the first of 2 others")
  expect(mixed).toContain("kinds: { a: 'text' }")
  expect(fromRows([{ a: 1 }, { a: 'n/a' }], { kinds: { a: 'text' } }).columns.get('a')?.column.kind).toBe('text')
  const texts = await told(() => paint([{ revenue: '10' }, { revenue: '20' }], bands({ atLeast: 15, ...AQUA })))
  expect(texts).toContain("revenue holds numbers as texts, as row 1: '10'; turn them into numbers")
  expect(await told(() => fromRows([{ a: 1 }, { a: { b: 1 } }] as never))).toContain('row 2 holds an object as a')
  const looks = (sign: string, limit: string): (string | null)[] => {
    const painting = paint(ROWS, { rules: [{ paint: 'day', bands: [{ [sign]: limit, ...AQUA }] }] })
    return [0, 1].map((row) => painting.cell(row, 'day').fill)
  }
  expect(looks('below', '2025-02-01')).toEqual(['#a7e5e4', null])
  expect(looks('atLeast', '2025-02-01')).toEqual([null, '#a7e5e4'])
  expect(looks('atMost', '2025-01')).toEqual(['#a7e5e4', null])
  expect(looks('above', '2025-01')).toEqual([null, '#a7e5e4'])
})

test('4.5 every key of a report and of a rule says what it means, and what is reported of a report can be cloned', async () => {
  const written = ['rules', 'sources', 'exhibits', 'report'].map((name) =>
    readFileSync(join(ROOT, `src/spec/${name}.ts`), 'utf8'),
  )
  const lines = written.join('\n').split('\n')
  expect(lines.length).toBeGreaterThan(400)
  const bare = lines.flatMap((line, i) =>
    /^ +\w+\??: /.test(line) && !/\?: undefined$/.test(line) && !/\*\/$/.test(lines[i - 1] ?? '') ? [line.trim()] : [],
  )
  expect(bare).toEqual([])
  const page = await openReport(
    {
      title: 't',
      sources: { s: {} },
      measures: { revenue: 'sum(revenue)' },
      rules: [{ paint: 'revenue', bands: [{ above: 15, style: { fill: 'indigo' } }] }],
      exhibits: [
        { table: { rows: 'shop', show: 'revenue', totals: 'bottom' } },
        { chart: { along: 'shop', show: 'revenue' } },
        { cards: [{ show: 'revenue' }] },
        { records: { show: ['shop', 'revenue'] } },
      ],
    },
    { s: ROWS },
  )
  expect(toJson(structuredClone(page))).toBe(toJson(page))
  expect(await toHtml(structuredClone(page))).toBe(await toHtml(page))
})

test('4.5 types and shapes are what the schema makes', async () => {
  // Ignoring formatting.
  const plain = (text: string): string => text.replace(/[\s,;'"()|`]+/g, '')
  const print = "import { made } from './scripts/schema/make.js'; process.stdout.write(JSON.stringify(made()))"
  const { stdout } = await promisify(execFile)(process.execPath, ['--input-type=module', '-e', print], { cwd: ROOT })
  const files = JSON.parse(stdout) as [path: string, text: string][]
  expect(files.map(([path]) => path)).toEqual([
    ...['rules', 'sources', 'exhibits', 'report'].map((name) => `src/spec/${name}.ts`),
    'src/shape/rule-table.ts',
    'src/shape/table.ts',
    ...['registry', 'load', 'checks', 'trials'].map((name) => `src/rule/kinds/${name}.ts`),
    'src/report/bind/kinds/registry.ts',
    'src/report/layout/kinds/registry.ts',
    'src/source/formats/registry.ts',
    'src/output/registry.ts',
  ])
  for (const [path, text] of files) expect(plain(readFileSync(join(ROOT, path), 'utf8'))).toBe(plain(text))
})

test('4.5 work that takes long reports its progress, and stops when it is cancelled', async () => {
  const csv = `shop,revenue\n${Array.from({ length: 140_000 }, (_, i) => `s${i % 9},${i}`).join('\n')}\n`
  const report = {
    title: 't',
    sources: { s: {} },
    measures: { revenue: 'sum(revenue)' },
    exhibits: [{ table: { rows: 'shop', show: 'revenue' } }],
  }
  const events: string[] = []
  const stop = new AbortController()
  await openReport(report, { s: csv }, { onProgress: (event) => events.push(Object.keys(event).join(' ')) })
  expect(events.filter((event) => event === 'source rows').length).toBeGreaterThan(1)
  expect(events).toContain('source question')
  const reason = new Error('enough')
  const stopped = openReport(report, { s: csv }, { signal: stop.signal, onProgress: () => stop.abort(reason) })
  await expect(stopped).rejects.toBe(reason)
  await expect(readSource([{ name: 's.csv', content: csv }], { signal: stop.signal })).rejects.toBe(reason)
})

test('4.5 a problem is reported by its code, and names its place in the message', async () => {
  try {
    paint(ROWS, { rules: [{ paint: 'revenu', bands: [{ above: 1, status: 'gone' }] }] })
    expect.unreachable()
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error
    for (const p of error.problems) if (p.code === 'unknown-measure') expect(p.params.nearest).toBe('revenue')
    expect(error.message).toMatch(/^rules\[1\]\.paint: /)
  }
  expect(Object.keys(FINDINGS).length).toBeGreaterThan(20)
})

test('5.8 exhibits that ask the same share one pass over the rows, and rules over the same cells their answers', async () => {
  const rows = Array.from({ length: 500 }, (_, i) => ({ region: `r${i % 7}`, shop: `s${i % 50}`, amount: i % 13 }))
  const ask = async (count: number, where = false): Promise<[questions: number, page: string]> => {
    let questions = 0
    const page = await openReport(
      {
        title: 't',
        sources: { s: {} },
        measures: { revenue: 'sum(amount)', middle: 'median(amount)', share: 'share(revenue)' },
        rules: [{ paint: 'revenue', bands: [{ atLeast: 'mean(value)', style: { wash: 'aqua' } }] }],
        exhibits: Array.from({ length: count }, (_, i) => ({
          name: `e${i}`,
          ...(where && i % 2 === 1 ? { where: "region = 'r1'" } : {}),
          table: { rows: ['region', 'shop'], show: ['revenue', 'middle', 'share'], totals: 'bottom' },
        })),
      },
      { s: rows },
      { onProgress: (event) => (questions += 'question' in event ? 1 : 0) },
    )
    return [questions, toJson(page)]
  }
  const [one, many, mixed] = [await ask(1), await ask(40), await ask(40, true)]
  expect(many[0]).toBe(one[0])
  expect(mixed[0]).toBeLessThan(3 * one[0])
  // Each is what it is alone.
  const exhibit = (text: string, i: number): unknown => ({ ...JSON.parse(text).exhibits[i], name: '', title: '' })
  for (const i of [0, 17, 39]) expect(exhibit(many[1], i)).toEqual(exhibit(one[1], 0))
  expect(exhibit(mixed[1], 2)).toEqual(exhibit(one[1], 0))
  expect(exhibit(mixed[1], 1)).not.toEqual(exhibit(one[1], 0))
})
