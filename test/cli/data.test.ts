import { readFileSync, writeFileSync } from 'node:fs'
import { readdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { expect, test } from 'vitest'
import { FULL } from '../support/effort.js'
import { type Row, type Types, writeParquet } from '../support/engines.js'
import { exhibitOf, nameOf, type Painted } from '../support/painted.js'
import { acuarela, folder, ROOT } from '../support/tool.js'

const BREZAL = join(ROOT, 'examples/brezal')

const report = (source: string, show = 'sum(amount)'): string =>
  `title: T\nsources: { sales: ${source} }\nmeasures: { x: ${show} }\nexhibits: [{ table: { rows: shop, show: x, totals: bottom } }]\n`

const values = (out: string): (number | null)[] => (JSON.parse(out) as Painted).exhibits[0].cells.map((c) => c.value)

test('sketch: what it writes is painted at once, whatever the data', async () => {
  const shapes: Record<string, string> = {
    'plain.csv': 'shop,amount\na,1\nb,2\n',
    'dated.csv': readFileSync(join(BREZAL, 'sales.csv'), 'utf8').split('\n').slice(0, 4000).join('\n'),
    'written.csv':
      'Datum;Filiale;Umsatz, netto\n13.01.2025;Köln;"1.234,50 €"\n14.02.2025;Bonn;"99,00 €"\n28.02.2025;Bonn;"1,5 €"\n',
    'odd "names".csv': 'net sales,#: where,a\'b\n1,x,true\n2,"y: z",false\n3,{x},true\n',
    'texts.csv': 'shop,line\na,x\nb,y\na,y\n',
    'numbers.csv': 'id,price\n1,5\n2,6\n',
    'percent.csv': 'shop,margin\na,12%\nb,15%\n',
    'hostile.csv': 'shop,amount\n"<script>\u001b[31m # x: {",1\n"- y\n  z",2\n',
    'rows.json': '[{"shop":"a","amount":1,"day":"2025-01-01"},{"shop":"b","amount":2,"day":"2025-02-01"}]',
  }
  const cwd = await folder(shapes)
  for (const name of Object.keys(shapes)) {
    const sketched = await acuarela(['sketch', name, '--out', 'made.acuarela.yaml', '--force'], cwd)
    expect(sketched, name).toMatchObject({ code: 0, out: '' })
    const painted = await acuarela(['paint', 'made.acuarela.yaml', '--to', 'json'], cwd)
    expect(painted.err, name).toBe('')
    const page = JSON.parse(painted.out) as Painted
    const cells = page.exhibits.flatMap((exhibit) => exhibit.cells)
    expect(
      cells.some((c) => c.value !== null),
      name,
    ).toBe(true)
    // Something is painted: by a status, a bar or a shade.
    expect(
      cells.some((c) => c.style.status !== null || c.style.fill !== null || c.paintedBy.bar !== undefined),
      name,
    ).toBe(true)
    const text = readFileSync(join(cwd, 'made.acuarela.yaml'), 'utf8')
    expect(text).not.toContain('\u001b')
  }
})

test('sketch: several sources are joined, files of the same columns are one; nothing is written over unasked', async () => {
  const cwd = await folder({
    'sales.csv': 'date,shop,amount\n2025-01-05,a,1\n2025-02-05,b,2\n',
    'plan.csv': 'month,shop,plan\n2025-01,a,5\n2025-02,b,6\n',
    'orders-1.csv': 'shop,amount\na,1\n',
    'orders-2.csv': 'shop,amount\nb,2\n',
  })
  const both = await acuarela(['sketch', 'sales.csv', 'plan.csv'], cwd)
  expect(both).toMatchObject({ code: 0, err: '' })
  expect(both.out).toContain('match: [shop]')
  await writeFile(join(cwd, 'both.acuarela.yaml'), both.out)
  const page = JSON.parse((await acuarela(['paint', 'both.acuarela.yaml', '--to', 'json'], cwd)).out) as Painted
  expect(exhibitOf(page, 'overview').cells.find((c) => nameOf(c) === 'a planAmount')?.value).toBe(5)
  const joined = await acuarela(['sketch', 'orders-1.csv', 'orders-2.csv', '--out', 'sub/orders.acuarela.yaml'], cwd)
  expect(joined.err).toContain('wrote sub/orders.acuarela.yaml')
  const orders = JSON.parse((await acuarela(['paint', 'sub/orders.acuarela.yaml', '--to', 'json'], cwd)).out) as Painted
  expect(exhibitOf(orders, 'overview').cells.map(({ value }) => value)).toContain(2)
  const again = await acuarela(['sketch', 'sales.csv', '--out', 'sub/orders.acuarela.yaml'], cwd)
  expect(again).toMatchObject({ code: 2 })
  expect(again.err).toContain('exists already')
  const gone = await acuarela(['sketch', 'nothing.csv', 'sales.csv', 'neither.csv'], cwd)
  expect(gone.code).toBe(2)
  expect(gone.err).toContain('nothing.csv')
  expect(gone.err).toContain('neither.csv')
})

test('control totals: --verbose, the data and the page say what was read and left out; other data than expected are refused', async () => {
  const csv = 'date,shop,amount\n2025-01-01,a,1.25\n2025-02-01,b,2.5\n,b,4\n2025-03-01,c,8\n'
  const source = '{ file: s.csv, date: date, expect: { rows: 4, amount: 15.75 } }'
  const cwd = await folder({ 's.csv': csv, 'r.yaml': `asOf: 2025-02-15\n${report(source)}` })
  const run = await acuarela(['paint', 'r.yaml', '--verbose', '--to', 'json', '--where', "shop != 'a'"], cwd)
  expect(run.code).toBe(0)
  expect(run.err).toBe(
    'sales: 4 rows of s.csv, January 1, 2025 to March 1, 2025; 1 row left out by where; 1 row left out after February 15, 2025; 1 row without a date; x 15.75 over all rows\n',
  )
  const [control] = (JSON.parse(run.out) as { sources: Record<string, unknown>[] }).sources
  expect(control).toMatchObject({ source: 'sales', from: 's.csv', rows: 4, undated: 1, filtered: 1, late: 1 })
  const html = await acuarela(['paint', 'r.yaml', '--to', 'html'], cwd)
  expect(html.out).toContain('4 rows of s.csv')
  await writeFile(join(cwd, 's.csv'), `${csv}2025-03-02,c,0.25\n`)
  const other = await acuarela(['paint', 'r.yaml', '--out', 'page.html'], cwd)
  expect(other.code).toBe(2)
  expect(other.err).toContain('(sources.sales.expect.rows): sales has 5 rows, and 4 are expected')
  expect(other.err).toContain('(sources.sales.expect.amount): the sum of amount in sales is 16, and 15.75 is expected')
  expect((await readdir(cwd)).sort()).toEqual(['r.yaml', 's.csv'])
})

const TYPES: Types = {
  shop: 'text',
  day: 'date',
  amount: 'numeric(12,2)',
  weight: 'float8',
  returned: 'boolean',
  month: 'text',
}
const ROWS: Row[] = Array.from({ length: 500 }, (_, i) => ({
  shop: i % 7 === 0 ? null : `shop ${i % 5}`,
  day: i % 11 === 0 ? null : `2025-0${1 + (i % 6)}-1${i % 9}`,
  amount: i % 13 === 0 ? null : (i * 37) / 100 - 20,
  weight: i / 7,
  returned: i % 3 === 0,
  month: `2025-0${1 + (i % 6)}`,
}))

test('Parquet: read into memory and summarised by duckdb, the same; a text of months is a date with its grain', async () => {
  const cwd = await folder()
  await writeParquet(join(cwd, 'a.parquet'), ROWS.slice(0, 300), TYPES)
  await writeParquet(join(cwd, 'b.parquet'), ROWS.slice(300), TYPES)
  const text = (engine: string, date: string): string =>
    `title: T\nsources: { sales: { file: '*.parquet', date: ${date}, engine: ${engine} } }
measures: { x: sum(amount), m: median(weight), n: count() where returned, e: last(weight) }
exhibits: [{ table: { rows: shop, columns: month, show: [x, m, n, e], totals: { rows: bottom, columns: right } } }]\n`
  const painted = async (engine: string, date: string): Promise<unknown> => {
    await writeFile(join(cwd, 'r.yaml'), text(engine, date))
    const run = await acuarela(['paint', 'r.yaml', '--to', 'json'], cwd)
    expect(run.err).toBe('')
    const { cells, messages: notes } = (JSON.parse(run.out) as Painted).exhibits[0]
    expect(cells.length).toBeGreaterThan(100)
    return { cells: cells.map((c) => [nameOf(c), c.value]), notes }
  }
  for (const date of ['day', 'month']) expect(await painted('memory', date)).toEqual(await painted('duckdb', date))
})

test('bad data, each with its own words, and nothing half-written', async () => {
  const parquet = await folder()
  await writeParquet(join(parquet, 'whole.parquet'), ROWS, TYPES)
  const whole = readFileSync(join(parquet, 'whole.parquet'))
  const csv = `shop,amount\n${Array.from({ length: 3000 }, (_, i) => `a${i},${i}`).join('\n')}\n`
  const bad: [string, Buffer | string, string, string?][] = [
    ['cut.parquet', whole.subarray(0, whole.length - 200), 'not readable as Parquet'],
    ['cut.parquet', whole.subarray(0, 3), 'not readable as Parquet'],
    ['cut.parquet', whole.subarray(0, whole.length - 200), 'not readable as Parquet', 'duckdb'],
    ['gone.parquet', '', 'gone.parquet', 'duckdb'],
    ['s.csv.gz', gzipSync(csv).subarray(0, 2000), 'cannot be decompressed'],
    ['s.csv', Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 1, 2, 3]), 'this is not a text file'],
    ['s.csv', 'shop,amount\na,1\nb\nc,2,3\n', 'line 3 has 1 values and the header 2, and 1 more lines differ too'],
    ['s.csv', 'shop,shop,amount\na,b,1\n', "two columns have the name 'shop'"],
    ['s.csv', 'shop,,amount\na,b,1\n', 'column 2 has no name'],
    ['s.csv', '', 'the file is empty'],
    ['s.csv', 'shop,amount\n"a,1\nb,2\n', 'a quote is opened and not closed'],
  ]
  for (const [name, content, says, engine] of bad) {
    const cwd = await folder()
    if (name !== 'gone.parquet') writeFileSync(join(cwd, name), content)
    writeFileSync(join(cwd, 'r.yaml'), report(`{ file: ${name}${engine === undefined ? '' : `, engine: ${engine}`} }`))
    const run = await acuarela(['paint', 'r.yaml', '--out', 'page.json'], cwd)
    expect(run.err, name).toContain(says)
    expect(run.code, name).toBe(2)
    expect(
      (await readdir(cwd)).filter((file) => file.includes('page')),
      name,
    ).toEqual([])
  }
})

test.runIf(FULL)('mixed line ends, 10,000 columns and one line of 50 MB are read as what they are', async () => {
  const mixed = await folder({ 's.csv': 'shop,amount\r\na,1\nb,2\r\nc,4\n', 'r.yaml': report('{ file: s.csv }') })
  expect(values((await acuarela(['paint', 'r.yaml', '--to', 'json'], mixed)).out)).toEqual([1, 2, 4, 7])
  const names = ['shop', 'amount', ...Array.from({ length: 9998 }, (_, i) => `c${i}`)]
  const cells = ['a', '5', ...Array.from({ length: 9998 }, (_, i) => String(i))]
  const wide = await folder({
    's.csv': `${names.join(',')}\n${cells.join(',')}\n`,
    'r.yaml': report('{ file: s.csv }', 'sum(amount) + sum(c9997)'),
  })
  expect(values((await acuarela(['paint', 'r.yaml', '--to', 'json'], wide)).out)).toEqual([10_002, 10_002])
  const misspelt = await folder({
    's.csv': `${names.join(',')}\n${cells.join(',')}\n`,
    'r.yaml': report('{ file: s.csv }', 'sum(amuont)'),
  })
  const painted = await acuarela(['paint', 'r.yaml'], misspelt)
  expect(painted.err).toContain('did you mean amount?')
  expect(painted.err.length).toBeLessThan(1000)
  const long = await folder({
    's.csv': `shop,amount\n${'x'.repeat(50_000_000)},3\n`,
    'r.yaml': report('{ file: s.csv }', 'count()').replace('rows: shop', 'rows: amount'),
  })
  expect(values((await acuarela(['paint', 'r.yaml', '--to', 'json'], long)).out)).toEqual([1, 1])
})

test('progress is shown on a terminal alone', async () => {
  const lines = Array.from({ length: 140_000 }, (_, i) => `shop ${i % 9},${i % 977},"${i}"`)
  const cwd = await folder({ 's.csv': `shop,amount,note\n${lines.join('\n')}\n`, 'r.yaml': report('{ file: s.csv }') })
  const silent = await acuarela(['paint', 'r.yaml', '--to', 'json'], cwd)
  expect(silent.err).toBe('')
  const { main } = await import('../../dist/cli/main.js')
  const watched = async (terminal: boolean, more: string[] = []): Promise<string> => {
    let err = ''
    let time = 0
    const io = {
      cwd,
      out: () => undefined,
      err: (text: string) => {
        err += text
      },
      today: () => 20_000,
      unicode: () => true,
      colors: () => 1 as const,
      width: () => 100,
      terminal,
      isTerminal: false,
      // Each reading of the clock is a second later.
      clock: () => (time += 1000),
    }
    expect(await main({ argv: ['paint', 'r.yaml', '--to', 'json', ...more], io, version: '0' })).toBe(0)
    return err
  }
  const progress = await watched(true)
  expect(progress).toContain('sales: 65,536 rows read …')
  expect(progress).toContain('sales: summarising, question 1 …')
  // Erased at the end.
  expect(progress.endsWith('\r\u001b[2K')).toBe(true)
  expect(await watched(false)).toBe('')
  expect(await watched(true, ['--quiet'])).toBe('')
})

test('the stacked table, the price list and the report of two sources are painted by the tool', async () => {
  for (const [name, exhibits] of Object.entries({
    'footfall.acuarela.yaml': 2,
    'prices.acuarela.yaml': 2,
    'spring.acuarela.yaml': 10,
  })) {
    const run = await acuarela(['paint', name, '--to', 'json'], BREZAL)
    expect(run.err, name).toBe('')
    const page = JSON.parse(run.out) as Painted
    expect(page.exhibits.length, name).toBe(exhibits)
    for (const exhibit of page.exhibits) {
      expect(
        exhibit.cells.some((cell) => cell.value !== null),
        `${name} ${exhibit.name}`,
      ).toBe(true)
    }
    expect(
      page.exhibits.filter(({ cells }) =>
        cells.some((cell) => Object.values(cell.style).some((channel) => channel !== null)),
      ).length,
      name,
    ).toBeGreaterThanOrEqual(Math.min(exhibits, 8))
  }
  const prices = JSON.parse((await acuarela(['paint', 'prices.acuarela.yaml', '--to', 'json'], BREZAL)).out) as Painted
  const values = new Map(exhibitOf(prices, 'list').cells.map((c) => [`${c.row.plant} ${c.measure}`, c.value]))
  const lines = readFileSync(join(BREZAL, 'prices.csv'), 'utf8').trimEnd().split('\n').slice(1)
  for (const plant of ['Camellia', 'Rose, climbing']) {
    const rows = lines
      .map((line) => line.split(/,(?=(?:[^"]*"[^"]*")*[^"]*$)/))
      .filter((row) => row[1].replaceAll('"', '') === plant)
    const start = rows.filter((row) => row[0] <= '2025-01-01').at(-1) ?? rows[0]
    expect(values.get(`${plant} opening`), plant).toBe(Number(start[3]))
    expect(values.get(`${plant} price`), plant).toBe(Number(rows.at(-1)?.[3]))
  }
})
