import { spawn } from 'node:child_process'
import { mkdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { expect, test } from 'vitest'
import type { Painted } from '../support/painted.js'
import { acuarela, folder, ROOT } from '../support/tool.js'

const ROWS = [
  ['2025-01-05', 'Larkmoor', '1234.5'],
  ['2025-02-07', 'Quay Lane', '30'],
]
const CSV = `date,shop,amount\n${ROWS.map((r) => r.join(',')).join('\n')}\n`
const report = (source: string): string => `title: T
sources: { sales: ${source} }
measures: { revenue: sum(amount) }
exhibits: [ { table: { rows: shop, show: revenue } } ]
`

/** The rows shown, painted from a source of some kind. */
async function paint(
  cwd: string,
  source: string,
): Promise<{ code: number | null; err: string; rows: string[]; messages: string[] }> {
  await writeFile(join(cwd, 'r.yaml'), report(source))
  const { code, out, err } = await acuarela(['paint', 'r.yaml', '--to', 'json'], cwd)
  if (code !== 0) return { code, err, rows: [], messages: [] }
  const painted = JSON.parse(out) as Painted
  return {
    code,
    err,
    rows: painted.exhibits[0].cells.map((c) => `${c.row.shop} ${c.value}`),
    messages: painted.messages,
  }
}

const WANTED = ['Larkmoor 1234.5', 'Quay Lane 30']

test('the same rows in any form give the same report', async () => {
  const cwd = await folder({
    'a.csv': CSV,
    'a.tsv': CSV.replaceAll(',', '\t'),
    'a.json': JSON.stringify(ROWS.map(([date, shop, amount]) => ({ date, shop, amount: Number(amount) }))),
    'a.ndjson': ROWS.map(([date, shop, amount]) => JSON.stringify({ date, shop, amount: Number(amount) })).join('\n'),
    'es.csv': 'date;shop;amount\n05/01/2025;Larkmoor;1.234,50 €\n17/02/2025;Quay Lane;30,00 €\n',
  })
  await writeFile(join(cwd, 'a.csv.gz'), gzipSync(CSV))
  await mkdir(join(cwd, 'months'))
  for (const [i, row] of ROWS.entries())
    await writeFile(join(cwd, `months/2025-0${i + 1}.csv`), `date,shop,amount\n${row.join(',')}\n`)
  for (const file of ['a.csv', 'a.tsv', 'a.json', 'a.ndjson', 'a.csv.gz', 'months/*.csv', './months/2025-0{1,2}.csv'])
    expect(await paint(cwd, `{ file: '${file}', date: date }`), file).toEqual({
      code: 0,
      err: '',
      rows: WANTED,
      messages: [],
    })
  const spanish = await paint(cwd, '{ file: es.csv, date: date }')
  expect(spanish.rows).toEqual(WANTED)
  expect(spanish.messages).toEqual([
    "date is read as date dd/mm/yyyy, as in '05/01/2025'; write read: { date: date dd/mm/yyyy } to confirm it",
    "amount is read as number comma, as in '1.234,50 €'; write read: { amount: number comma } to confirm it",
  ])
})

test('rows are read from standard input', async () => {
  const cwd = await folder({ 'r.yaml': report('{ file: stdin, date: date }') })
  const run = (input: string | Buffer): Promise<string> =>
    new Promise((resolve, reject) => {
      const child = spawn(process.execPath, [join(ROOT, 'dist/cli/acuarela.js'), 'paint', 'r.yaml', '--to', 'json'], {
        cwd,
      })
      let out = ''
      child.stdout.on('data', (text) => {
        out += text
      })
      child.stderr.on('data', (text) => {
        out += text
      })
      child.on('error', reject)
      child.on('close', () => resolve(out))
      child.stdin.end(input)
    })
  expect((JSON.parse(await run(CSV)) as Painted).exhibits[0].cells.map((c) => c.value)).toEqual([1234.5, 30])
  expect((JSON.parse(await run(gzipSync(CSV))) as Painted).exhibits[0].cells.map((c) => c.value)).toEqual([1234.5, 30])
  expect(await run('')).toBe('standard input: the file is empty\n')
})

test('files that cannot be used are each reported in their own words', async () => {
  const cwd = await folder({ 'bin.csv': '\u0000\u0001PNG\u0000', 'a.json': '{"rows": 5}' })
  await writeFile(join(cwd, 'cut.csv.gz'), gzipSync(CSV.repeat(50)).subarray(0, 60))
  await mkdir(join(cwd, 'sub'))
  const says = async (source: string): Promise<string> => (await paint(cwd, source)).err
  expect(await says('{ file: bin.csv }')).toContain('bin.csv: this is not a text file')
  expect(await says('{ file: cut.csv.gz }')).toContain('cut.csv.gz: this cannot be decompressed')
  expect(await says('{ file: sub }')).toContain('r.yaml:2:27 (sources.sales.file): sub cannot be read: it is a folder')
  expect(await says("{ file: 'x-*.csv' }")).toContain('no file matches x-*.csv; check the path and the pattern')
  expect(await says('{ file: a.json }')).toContain('amount')
  await writeFile(join(cwd, 'a.csv'), CSV)
  expect(await says('{ file: a.csv, read: { amount: money } }')).toContain(
    "r.yaml:2:50 (sources.sales.read.amount): 'money' is not a read format",
  )
  await writeFile(join(cwd, 'b.csv'), CSV.replace(',30', ',thirty'))
  expect(await says('{ file: b.csv, read: { amount: number }, strict: true }')).toContain(
    "1 value of amount cannot be read, the first 'thirty' in line 3",
  )
})
