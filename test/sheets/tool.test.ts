import { readFileSync } from 'node:fs'
import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { FULL } from '../support/effort.js'
import { type SheetCell, workbook } from '../support/sheets.js'
import { acuarela, folder, ROOT } from '../support/tool.js'
import { readBook } from '../support/workbook-reading.js'

const SHOPS = ['Larkmoor', 'Saltmarsh', 'Quay Lane', 'Fennel Row']
const orders = (year: number): SheetCell[][] => [
  ['Orders of Brezal Nurseries'],
  [],
  ['day', 'shop', 'line', 'amount'],
  ...Array.from({ length: 240 }, (_, i): SheetCell[] => [
    {
      type: 'date',
      value: `${year}-${String(1 + (i % 12)).padStart(2, '0')}-${String(1 + (i % 28)).padStart(2, '0')}`,
    },
    SHOPS[i % 4],
    ['Roses', 'Ferns', 'Bulbs'][i % 3],
    { type: 'currency', value: 40 + ((i * 37) % 90), currency: 'EUR' },
  ]),
]
const book = workbook([
  { name: 'Read me', rows: [['Ask Lea before you change anything']] },
  { name: 'Orders 2024', rows: orders(2024) },
  { name: 'Orders 2025', rows: orders(2025) },
])

async function withBook(files: Record<string, string> = {}): Promise<string> {
  const cwd = await folder(files)
  await writeFile(join(cwd, 'orders.ods'), book)
  return cwd
}

const report = (source: string): string => `title: Orders
sources: { orders: { ${source}, date: day } }
measures: { revenue: { formula: sum(amount), label: Revenue, format: money EUR 0 } }
rules: [{ name: good, title: Good shops, paint: revenue, bands: [{ atLeast: 5000, style: { wash: aqua, icon: tick } }] }]
exhibits: [{ name: shops, table: { rows: shop, show: [revenue], totals: bottom } }]
`

test('a report paints a sheet of a workbook, or several by a pattern', async () => {
  const cwd = await withBook({
    'one.acuarela.yaml': report('file: orders.ods, sheet: Orders 2025, header: 3'),
    'all.acuarela.yaml': report("file: orders.ods, sheet: 'Orders *', header: 3"),
    'wrong.acuarela.yaml': report('file: orders.ods, sheet: Orders 2026, header: 3'),
  })
  const total = async (name: string): Promise<string | undefined> =>
    /^Total +(\S+)$/m.exec((await acuarela(['paint', name], cwd)).out)?.[1]
  const sum = orders(2025)
    .slice(3)
    .reduce((all, row) => all + (row[3] as { value: number }).value, 0)
  expect(await total('one.acuarela.yaml')).toBe(`€${sum.toLocaleString('en')}`)
  expect(await total('all.acuarela.yaml')).toBe(`€${(2 * sum).toLocaleString('en')}`)
  const { code, err } = await acuarela(['paint', 'wrong.acuarela.yaml'], cwd)
  expect(code).toBe(2)
  expect(err).toContain(
    "there is no sheet 'Orders 2026'; did you mean 'Orders 2024'? (sheets: Read me, Orders 2024, Orders 2025)",
  )
  expect(err).toMatch(/wrong\.acuarela\.yaml:2:\d+/)
})

test('a sketch says which sheet it has read, and its report has no finding', async () => {
  const cwd = await withBook()
  const own = workbook([
    { name: 'Orders 2025', rows: orders(2025) },
    { name: 'Notes', rows: [['x']] },
  ])
  await writeFile(join(cwd, 'orders.ods'), own)
  expect((await acuarela(['sketch', 'orders.ods', '--out', 'o.acuarela.yaml'], cwd)).code).toBe(0)
  expect(await readFile(join(cwd, 'o.acuarela.yaml'), 'utf8')).toContain(
    '  orders: { file: orders.ods, date: day, sheet: Orders 2025, header: 3 }\n',
  )
  expect(await acuarela(['proof', 'o.acuarela.yaml'], cwd)).toMatchObject({ code: 0 })
})

test('a sketch of a workbook with merged regions fills them, and says so', async () => {
  const cwd = await folder()
  await writeFile(join(cwd, 'plans.fods'), readFileSync(join(ROOT, 'examples/brezal/plans.fods')))
  const { code, out } = await acuarela(['sketch', 'plans.fods', '--brief'], cwd)
  expect(code).toBe(0)
  expect(out).toContain('    header: 3\n    merged: repeat\n    stack: { columns: ["2025-04", "2025-05", "2025-06"]')
  expect(out).toContain('format: money EUR 0')
})

test('paint writes a workbook by its ending, with the rules as sentences, and annotations where asked', async () => {
  const cwd = await withBook({ 'r.acuarela.yaml': report('file: orders.ods, sheet: Orders 2025, header: 3') })
  expect(await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.ods', '--with-why'], cwd)).toEqual({
    code: 0,
    out: '',
    err: 'wrote r.ods\n',
  })
  const { sheets } = readBook(readFileSync(join(cwd, 'r.ods')))
  expect(sheets.map(({ name }) => name)).toEqual(['shops', 'Legend and rules', 'Sources'])
  expect(
    sheets[1].rows.map(({ cells }) =>
      cells
        .map(({ text }) => text)
        .join(' ')
        .trim(),
    ),
  ).toContain('revenue: at least 5000 → aqua and icon tick')
  expect(
    sheets[0].rows.flatMap(({ cells }) => cells).filter(({ annotation }) => annotation.includes('Good shops')).length,
  ).toBeGreaterThan(0)
  // Its own report, and other outputs than workbooks, are refused.
  const refused = await acuarela(['paint', 'r.acuarela.yaml', '--with-why'], cwd)
  expect([refused.code, refused.err]).toEqual([
    2,
    '--with-why annotates the cells of a workbook; write it with --to ods\n',
  ])
  const over = await acuarela(['paint', 'r.acuarela.yaml', '--to', 'ods', '--out', 'orders.ods'], cwd)
  expect([over.code, readFileSync(join(cwd, 'orders.ods')).equals(Buffer.from(book))]).toEqual([2, true])
})

test('what was written reads back as a source of the next report', async () => {
  const cwd = await withBook({
    'r.acuarela.yaml': report('file: orders.ods, sheet: Orders 2025, header: 3'),
    'again.acuarela.yaml': `title: Again
sources: { painted: { file: r.ods } }
measures: { revenue: { formula: sum(Revenue), label: Revenue, format: money EUR 0 } }
exhibits: [{ name: shops, table: { rows: Shop, show: [revenue], totals: bottom } }]
`,
  })
  await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.ods'], cwd)
  const rows = (text: string): string[] =>
    [...text.matchAll(/^(\w[\w ]*?) {2,}\S? *(€[\d,]+)$/gm)].map(([, name, sum]) => `${name} ${sum}`)
  const first = await acuarela(['paint', 'r.acuarela.yaml'], cwd)
  const again = await acuarela(['paint', 'again.acuarela.yaml'], cwd)
  expect(rows(again.out)).toEqual(rows(first.out))
  expect(rows(again.out).length).toBe(5)
})

test.runIf(FULL)('the demo writes a workbook beside its page', async () => {
  const cwd = await folder()
  const { code, out } = await acuarela(['demo', '--out', 'out'], cwd)
  expect([code, out]).toEqual([0, expect.stringContaining('spring.ods')])
  const { sheets } = readBook(readFileSync(join(cwd, 'out/spring.ods')))
  const { exhibits } = JSON.parse(readFileSync(join(cwd, 'out/spring.json'), 'utf8')) as { exhibits: unknown[] }
  // Legends and sources have a sheet each.
  expect(sheets.length).toBe(exhibits.length + 2)
  expect(sheets[0].rows[0].cells[0].text).toBe('Brezal Nurseries, spring review')
})
