import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { toJson } from 'acuarela/data'
import { openDuckdb } from 'acuarela/engine/duckdb'
import { openReport, readCsv } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { writeParquet } from '../support/engines.js'
import { folder, ROOT } from '../support/tool.js'

const BREZAL = join(ROOT, 'examples/brezal')
const column = (name: string, kind: 'number' | 'text' | 'date' | 'condition') => ({ name, kind })

test('a CSV summarised by duckdb gives the page that it gives in memory, byte for byte', async () => {
  const yaml = readFileSync(join(BREZAL, 'spring.acuarela.yaml'), 'utf8')
  const [sales, budget, outlets] = ['sales.csv', 'budget.csv', 'shops.csv'].map((name) =>
    readFileSync(join(BREZAL, name), 'utf8'),
  )
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
  const byDuckdb = toJson(await openReport(yaml, { sales: tables[0], budget: tables[1], outlets }))
  const inMemory = toJson(await openReport(yaml, { sales, budget, outlets }))
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
    await expect(openDuckdb({ files: [file], date: 'day', csv: kinds }), bad).rejects.toThrow(
      'later values of amount differ',
    )
  }
  writeFileSync(file, `${csv}30/06/2025,a,1\n`)
  await expect(openDuckdb({ files: [file], date: 'day', csv: kinds })).rejects.toThrow('later values of day differ')
  writeFileSync(file, csv.replace('amount', 'sum'))
  await expect(openDuckdb({ files: [file], date: 'day', csv: kinds })).rejects.toThrow('later values of amount differ')
})

test('a value with any Unicode around it and in it is read by duckdb as it is in memory, or refused', async () => {
  const spaces = '\t\u000b\u000c \u00a0\u1680\u2003\u2028\u202f\u205f\u3000\ufeff\u180e\u200b\u0085'
  const odd = fc.constantFrom(...spaces, ...'ſKıİéÅ')
  // Line ends and quotes are tested elsewhere.
  const letter = fc
    .oneof(odd, fc.string({ unit: 'binary', minLength: 1, maxLength: 1 }))
    .filter((text) => !/[\r\n"\0]|\p{Cs}/u.test(text))
  const around = fc.string({ unit: odd, maxLength: 2 })
  const plain = fc.constantFrom(
    '1',
    '-2.5',
    '.5',
    '1e3',
    '007',
    'yes',
    'No',
    'yeſ',
    'TRUE',
    '2025-06',
    '2025-06-30',
    '',
  )
  const value = fc.oneof(
    fc.string({ unit: letter, maxLength: 4 }),
    fc.tuple(around, plain, around).map((pieces) => pieces.join('')),
  )
  const file = join(await folder(), 'words.csv')
  const seen = { same: 0, refused: 0 }
  for (const values of fc.sample(fc.array(value, { minLength: 1, maxLength: 30 }), {
    seed: 20261129,
    numRuns: effort(300, 20),
  })) {
    const csv = `word\n${values.map((value) => `"${value}"`).join('\n')}\n`
    writeFileSync(file, csv)
    const { table } = readCsv(csv)
    const kind = table.columns.get('word')?.column.kind ?? 'text'
    const report = {
      title: 'T',
      sources: { s: { file: 'words.csv' } },
      measures: { n: 'count()', x: kind === 'number' ? 'sum(word)' : 'count()' },
      exhibits: [
        kind === 'number' ? { cards: [{ show: 'n' }, { show: 'x' }] } : { table: { rows: 'word', show: ['n', 'x'] } },
      ],
    }
    const opened = await openDuckdb({ files: [file], csv: [column('word', kind)] }).catch((error: Error) => {
      expect(error.message).toContain('word is not the same')
      return undefined
    })
    if (opened === undefined) {
      seen.refused++
      continue
    }
    const cells = async (source: Parameters<typeof openReport>[1][string]): Promise<unknown> =>
      (JSON.parse(toJson(await openReport(report, { s: source }))) as { exhibits: { cells: object[] }[] }).exhibits[0]
        .cells
    expect(await cells(opened), JSON.stringify(values)).toEqual(await cells(csv))
    seen.same++
    await opened.close()
  }
  expect(seen.same).toBeGreaterThan(effort(200, 10))
})

test('a date column that is missing, or has no dates, is a problem; dates are never ignored', async () => {
  const file = join(await folder(), 'rows.parquet')
  await writeParquet(file, [{ day: '2025-01', code: 7, when: 'soon' }], { day: 'text', code: 'float8', when: 'text' })
  await expect(openDuckdb({ files: [file], date: 'dya' })).rejects.toThrow('did you mean day?')
  await expect(openDuckdb({ files: [file], date: 'code' })).rejects.toThrow('its type is number')
  await expect(openDuckdb({ files: [file], date: 'when' })).rejects.toThrow("'soon'")
  const table = await openDuckdb({ files: [file], date: 'day' })
  expect([...table.grains]).toEqual([['day', 'month']])
  await table.close()
})
