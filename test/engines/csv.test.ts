import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { toJson } from 'acuarela/data'
import { openDuckdb } from 'acuarela/engine/duckdb'
import { openReport } from 'acuarela/report'
import { expect, test } from 'vitest'
import { writeParquet } from '../support/engines.js'
import { folder, ROOT } from '../support/tool.js'

const BREZAL = join(ROOT, 'examples/brezal')
const column = (name: string, kind: 'number' | 'text' | 'date' | 'condition') => ({ name, kind })

test('a CSV summarised by duckdb gives the page that it gives in memory, byte for byte', async () => {
  const yaml = readFileSync(join(BREZAL, 'spring.acuarela.yaml'), 'utf8')
  const [sales, budget] = ['sales.csv', 'budget.csv'].map((name) => readFileSync(join(BREZAL, name), 'utf8'))
  const texts = ['region', 'shop', 'team', 'line', 'plant', 'channel'].map((name) => column(name, 'text'))
  const numbers = ['quantity', 'amount', 'cost'].map((name) => column(name, 'number'))
  const tables = await Promise.all([
    openDuckdb({
      files: [join(BREZAL, 'sales.csv')],
      date: 'date',
      csv: [column('date', 'date'), ...texts, ...numbers, column('returned', 'condition')],
    }),
    openDuckdb({
      files: [join(BREZAL, 'budget.csv')],
      date: 'month',
      csv: [column('month', 'date'), column('shop', 'text'), column('line', 'text'), column('amount', 'number')],
    }),
  ])
  const byDuckdb = toJson(await openReport(yaml, { sales: tables[0], budget: tables[1] }))
  const inMemory = toJson(await openReport(yaml, { sales, budget }))
  expect(byDuckdb === inMemory).toBe(true)
  await Promise.all(tables.map((table) => table.close()))
})

test('white space, blanks and every way to write a plain number are read as in memory; anything else is refused', async () => {
  const cwd = await folder()
  const file = join(cwd, "it's.csv")
  const csv = 'day,shop,amount\n2025-01, a ,1.50\n2025-02,"b, ""x""", -.5\n2025-03,,1e3\n,  ,\n2025-04,a,0\n'
  writeFileSync(file, csv)
  const kinds = [column('day', 'date'), column('shop', 'text'), column('amount', 'number')]
  const report = {
    title: 'T',
    sources: { s: { file: 's.csv', date: 'day' } },
    measures: { x: 'sum(amount)', n: 'count()', h: 'highest(amount)' },
    exhibits: [{ table: { rows: 'shop', columns: 'month', show: ['x', 'n', 'h'], totals: 'bottom' as const } }],
  }
  const table = await openDuckdb({ files: [file], date: 'day', csv: kinds })
  const data = (text: string): unknown => ({ ...JSON.parse(text), sources: [] })
  expect(data(toJson(await openReport(report, { s: table })))).toEqual(
    data(toJson(await openReport(report, { s: csv }))),
  )
  await table.close()
  for (const bad of ['007', '12%', '1,5', 'x', '1 000', 'inf', 'NaN']) {
    writeFileSync(file, `${csv}2025-05,a,"${bad}"\n`)
    await expect(openDuckdb({ files: [file], date: 'day', csv: kinds }), bad).rejects.toThrow('amount is not the same')
  }
  writeFileSync(file, `${csv}30/06/2025,a,1\n`)
  await expect(openDuckdb({ files: [file], date: 'day', csv: kinds })).rejects.toThrow('day is not the same')
  writeFileSync(file, csv.replace('amount', 'sum'))
  await expect(openDuckdb({ files: [file], date: 'day', csv: kinds })).rejects.toThrow('amount is not the same')
})

test('a date column that is not there, or holds no dates, is a problem, never time left out', async () => {
  const file = join(await folder(), 'rows.parquet')
  await writeParquet(file, [{ day: '2025-01', code: 7, when: 'soon' }], { day: 'text', code: 'float8', when: 'text' })
  await expect(openDuckdb({ files: [file], date: 'dya' })).rejects.toThrow('did you mean day?')
  await expect(openDuckdb({ files: [file], date: 'code' })).rejects.toThrow('the data keep it as a number')
  await expect(openDuckdb({ files: [file], date: 'when' })).rejects.toThrow("'soon'")
  const table = await openDuckdb({ files: [file], date: 'day' })
  expect([...table.grains]).toEqual([['day', 'month']])
  await table.close()
})
