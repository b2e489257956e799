import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fromRows } from 'acuarela'
import { type Cell, type GridExhibit, openReport, type ReportData, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { FULL, some as sampled } from '../support/effort.js'
import { duckdbTable, overHttp, postgresTable, type Row, type Types } from '../support/engines.js'
import { hasPostgres, type Server, startPostgres } from '../support/postgres.js'

// Names that need quoting, and words that a database reserves.
const TYPES: Types = {
  'shop "name"': 'text',
  order: 'text',
  sold: 'date',
  amount: 'numeric(12,2)',
  weight: 'float8',
  pieces: 'integer',
  returned: 'boolean',
}
const DAYS = ['2022-01-01', '2022-12-31', '2023-01-01', '2023-01-02', '2024-02-28', '2024-02-29', '2024-12-29']
DAYS.push(
  '2024-12-30',
  '2024-12-31',
  '2025-01-01',
  '2025-01-05',
  '2025-01-06',
  '2025-02-28',
  '2025-03-01',
  '2025-06-30',
)

const gap = <T>(of: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(of, { freq: 8 })
const rowArbitrary = fc.record({
  'shop "name"': gap(fc.constantFrom("O'Hara", 'Peña', 'peña', 'äpfel', 'Zinnia 10', 'Zinnia 9')),
  order: gap(fc.constantFrom('select', 'Trade; drop table', 'rose', 'ROSE', 'rosé')),
  sold: fc.option(fc.constantFrom(...DAYS), { freq: 25 }),
  amount: gap(fc.integer({ min: -40_000, max: 90_000 }).map((n) => n / 100)),
  weight: gap(fc.double({ min: -3, max: 9, noNaN: true, noDefaultInfinity: true }).map((x) => Number(x.toFixed(6)))),
  pieces: gap(fc.integer({ min: -3, max: 12 })),
  returned: gap(fc.boolean()),
})
const once: Row[] = fc.sample(rowArbitrary, { seed: 20_250_630, numRuns: 700 })
// Duplicates are rows like any others.
const rows: Row[] = [...once, ...once.slice(0, 60)]

type Value = number | null
type Pick = (group: readonly Row[]) => Value

const day = (row: Row): number => Date.parse(String(row.sold)) / 86_400_000
const num = (row: Row, name: string): Value => row[name] as Value
const some = (values: readonly (Value | undefined)[]): number[] =>
  values.filter((v): v is number => typeof v === 'number')
const sum = (values: readonly Value[]): Value => {
  const present = some(values)
  // As whole millionths, which sum without rounding.
  return present.length === 0 ? null : present.reduce((a, v) => a + Math.round(v * 1e6), 0) / 1e6
}
const mean = (values: readonly Value[]): Value => {
  const total = sum(values)
  return total === null ? null : total / some(values).length
}
const quantile = (values: readonly Value[], p: number): Value => {
  const present = some(values).sort((a, b) => a - b)
  if (present.length === 0) return null
  const at = (present.length - 1) * p
  const low = Math.floor(at)
  return present[low] + (at - low) * (present[Math.min(low + 1, present.length - 1)] - present[low])
}
const deviation = (values: readonly Value[]): Value => {
  const present = some(values)
  if (present.length < 2) return null
  const middle = present.reduce((a, b) => a + b, 0) / present.length
  return Math.sqrt(present.reduce((a, b) => a + (b - middle) ** 2, 0) / (present.length - 1))
}
const of =
  (name: string): ((group: readonly Row[]) => Value[]) =>
  (group) =>
    group.map((row) => num(row, name))
const amounts = of('amount')
const weights = of('weight')
const minus = (a: Value, b: Value): Value => (a === null || b === null ? null : a - b)
const over = (a: Value, b: Value): Value => (a === null || b === null || b === 0 ? null : a / b)
const byDate = (group: readonly Row[], last: boolean): Value => {
  const dated = group.filter((row) => row.sold !== null && row.weight !== null)
  dated.sort((a, b) => day(a) - day(b) || (num(a, 'weight') ?? 0) - (num(b, 'weight') ?? 0))
  return num((last ? dated.at(-1) : dated[0]) ?? { weight: null }, 'weight')
}
const half = (x: Value, digits: number): Value =>
  x === null
    ? null
    : (Math.sign(x) * Math.round(Number(`${Number(Math.abs(x).toPrecision(15))}e${digits}`))) / 10 ** digits
const letters = (text: Row[string]): Value => (text === null ? null : [...String(text)].length)

/** Each question with its answer by hand, from the rows of one cell. */
const QUESTIONS: Record<string, [formula: string, pick: Pick]> = {
  total: ['sum(amount)', (group) => sum(amounts(group))],
  loose: ['sum(weight)', (group) => sum(weights(group))],
  whole: ['sum(pieces)', (group) => sum(of('pieces')(group))],
  average: ['mean(amount)', (group) => mean(amounts(group))],
  middle: ['median(amount)', (group) => quantile(amounts(group), 0.5)],
  late: ['percentile(weight, 90%)', (group) => quantile(weights(group), 0.9)],
  low: ['lowest(amount)', (group) => (some(amounts(group)).length === 0 ? null : Math.min(...some(amounts(group))))],
  high: ['highest(weight)', (group) => (some(weights(group)).length === 0 ? null : Math.max(...some(weights(group))))],
  rows: ['count()', (group) => group.length],
  filled: ['count(amount)', (group) => some(amounts(group)).length],
  named: ['count(column(\'shop "name"\'))', (group) => group.filter((row) => row['shop "name"'] !== null).length],
  kinds: ['countDistinct(order)', (group) => new Set(group.map((row) => row.order).filter((v) => v !== null)).size],
  values: ['countDistinct(amount)', (group) => new Set(some(amounts(group))).size],
  truths: [
    'countDistinct(returned)',
    (group) => new Set(group.map((row) => row.returned).filter((v) => v !== null)).size,
  ],
  spread: ['stdev(amount)', (group) => deviation(amounts(group))],
  first: ['first(weight)', (group) => byDate(group, false)],
  last: ['last(weight)', (group) => byDate(group, true)],
  backs: ['count() where returned', (group) => group.filter((row) => row.returned === true).length],
  kept: ['count() where not returned', (group) => group.filter((row) => row.returned === false).length],
  unknown: ['count() where returned is missing', (group) => group.filter((row) => row.returned === null).length],
  refunds: ['sum(amount) where amount < 0', (group) => sum(amounts(group).filter((v) => v !== null && v < 0))],
  quoted: [
    "sum(amount) where column('shop \"name\"') = 'O''Hara'",
    (group) => sum(amounts(group.filter((row) => row['shop "name"'] === "O'Hara"))),
  ],
  other: [
    "sum(amount) where column('shop \"name\"') != 'Peña'",
    (group) => sum(amounts(group.filter((row) => row['shop "name"'] !== null && row['shop "name"'] !== 'Peña'))),
  ],
  listed: [
    "count() where order in ('rose', 'select')",
    (group) => group.filter((row) => row.order === 'rose' || row.order === 'select').length,
  ],
  unlisted: [
    "count() where order not in ('rose', 'select')",
    (group) => group.filter((row) => row.order !== null && row.order !== 'rose' && row.order !== 'select').length,
  ],
  drops: [
    "count() where order contains '; drop'",
    (group) => group.filter((row) => String(row.order).includes('; drop')).length,
  ],
  either: [
    'count() where returned or amount > 500',
    (group) => group.filter((row) => row.returned === true || (num(row, 'amount') ?? 0) > 500).length,
  ],
  both: [
    'count() where not (returned and amount > 0)',
    (group) =>
      group.filter((row) => row.returned === false || (num(row, 'amount') !== null && Number(row.amount) <= 0)).length,
  ],
  ratio: ['sum(amount) / sum(pieces)', (group) => over(sum(amounts(group)), sum(of('pieces')(group)))],
  leaps: ['count() where sold = 2024-02-29', (group) => group.filter((row) => row.sold === '2024-02-29').length],
  firstWeek: [
    'count() where sold = 2025-W01',
    (group) =>
      group.filter((row) => ['2024-12-30', '2024-12-31', '2025-01-01', '2025-01-05'].includes(String(row.sold))).length,
  ],
  before: [
    'count() where sold < 2024-Q4',
    (group) => group.filter((row) => row.sold !== null && String(row.sold) < '2024-10').length,
  ],
  upTo: [
    'count() where sold <= 2024-12',
    (group) => group.filter((row) => row.sold !== null && String(row.sold) < '2025').length,
  ],
  years: [
    'count() where year(sold) in (2022, 2025)',
    (group) => group.filter((row) => /^202[25]/.test(String(row.sold))).length,
  ],
  mondays: [
    'count() where weekday(sold) = 1',
    (group) => group.filter((row) => row.sold !== null && (day(row) + 3) % 7 === 0).length,
  ],
  januaries: [
    'count() where monthOfYear(sold) = 1',
    (group) => group.filter((row) => /-01-/.test(String(row.sold))).length,
  ],
  per: ['sum(per)', (group) => sum(group.map((row) => half(over(num(row, 'amount'), num(row, 'pieces')), 3)))],
  size: [
    'sum(size)',
    (group) => sum(group.map((row) => (num(row, 'amount') === null ? null : Math.abs(Number(row.amount))))),
  ],
  letters: ['sum(letters)', (group) => sum(group.map((row) => letters(row['shop "name"'])))],
  same: [
    "count() where small = 'rose'",
    (group) => group.filter((row) => String(row.order).toLowerCase() === 'rose').length,
  ],
  loud: ["count() where loud = 'ROSÉ'", (group) => group.filter((row) => row.order === 'rosé').length],
  filler: ["count() where shopOr = 'nobody'", (group) => group.filter((row) => row['shop "name"'] === null).length],
  lesser: [
    'sum(lesser)',
    (group) =>
      sum(
        group.map((row) =>
          row.amount === null || row.weight === null ? null : Math.min(Number(row.amount), Number(row.weight)),
        ),
      ),
  ],
  net: [
    'sum(net)',
    (group) =>
      sum(
        group.map((row) =>
          row.returned === null ? null : row.returned ? minus(0, num(row, 'amount')) : num(row, 'amount'),
        ),
      ),
  ],
}

const FIELDS = {
  per: 'round(amount / pieces, 3)',
  size: 'abs(amount)',
  letters: 'length(column(\'shop "name"\'))',
  small: 'lowercase(order)',
  loud: 'uppercase(order)',
  shopOr: "coalesce(column('shop \"name\"'), 'nobody')",
  lesser: 'least(amount, weight)',
  net: 'if returned then -amount else amount',
  opened: 'quarter(sold)',
  dear: 'amount > 100',
}

interface Split {
  rows: string | string[]
  columns?: string
  /** The keys of a row, as painted data writes them. */
  keys: ((row: Row) => string | null)[]
  period?: string
  keep?: (row: Row) => boolean
}

const period =
  (unit: string) =>
  (row: Row): string | null => {
    if (row.sold === null) return null
    const text = String(row.sold)
    if (unit === 'quarter') return `${text.slice(0, 4)}-Q${Math.ceil(Number(text.slice(5, 7)) / 3)}`
    if (unit === 'weekday') return String(((day(row) + 3) % 7) + 1)
    if (unit === 'week') {
      const monday = day(row) - ((day(row) + 3) % 7)
      const year = new Date((monday + 3) * 86_400_000).getUTCFullYear()
      const first = Date.UTC(year, 0, 4) / 86_400_000
      const week = (monday - (first - ((first + 3) % 7))) / 7 + 1
      return `${year}-W${String(week).padStart(2, '0')}`
    }
    return text.slice(0, unit === 'year' ? 4 : unit === 'month' ? 7 : 10)
  }
const text =
  (name: string) =>
  (row: Row): string | null =>
    row[name] === null ? null : String(row[name])

const SPLITS: Record<string, Split> = {
  shop: { rows: 'shop "name"', keys: [text('shop "name"')] },
  orderByYear: { rows: 'order', columns: 'year', keys: [text('order'), period('year')] },
  nested: {
    rows: ['order', 'returned'],
    // Quarters make five times the cells of years.
    columns: FULL ? 'quarter' : 'year',
    keys: [text('order'), text('returned'), period(FULL ? 'quarter' : 'year')],
  },
  week: {
    rows: 'week',
    keys: [period('week')],
    period: '2024 to 2025',
    keep: (row) => /^202[45]/.test(String(row.sold)),
  },
  weekday: { rows: 'weekday', keys: [period('weekday')] },
  pieces: {
    rows: 'pieces',
    columns: 'dear',
    keys: [text('pieces'), (row) => (row.amount === null ? null : String(Number(row.amount) > 100))],
  },
  field: {
    rows: 'opened',
    columns: 'loud',
    keys: [period('quarter'), (row) => (row.order === null ? null : String(row.order).toUpperCase())],
  },
}

function reportOf(split: Split): ReportSpec {
  return {
    title: 'one of many questions',
    period: split.period ?? 'all',
    sources: { sales: { file: 'rows', date: 'sold' } },
    fields: { sales: FIELDS },
    measures: Object.fromEntries(Object.entries(QUESTIONS).map(([name, [formula]]) => [`m_${name}`, formula])),
    exhibits: [
      {
        name: 'answer',
        table: {
          rows: split.rows,
          ...(split.columns === undefined ? {} : { columns: split.columns }),
          show: Object.keys(QUESTIONS).map((name) => `m_${name}`),
          totals: { rows: 'bottom', columns: 'right', subtotals: true },
        },
      },
    ],
  }
}

async function cellsOf(report: ReportSpec, data: ReportData): Promise<Cell[]> {
  const page = await openReport(report, data)
  return (page.exhibits[0] as GridExhibit).rows.flatMap((row) => row.cells.filter((cell) => cell !== null))
}

const place = (cell: Cell): string =>
  JSON.stringify([cell.row.map((k) => [k.name, k.value]), cell.column.map((k) => [k.name, k.value]), cell.measure])

/** Equal up to rounding of a sum in another order. */
function alike(a: Value, b: Value): boolean {
  if (a === null || b === null) return a === b
  return Math.abs(a - b) <= 1e-11 * Math.max(1, Math.abs(a), Math.abs(b))
}

let folder: string
let server: Server | undefined
const engines = new Map<string, () => ReportData>()
const closing: (() => Promise<void>)[] = []
const withServer = hasPostgres()

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'acuarela-engines-'))
  const inMemory = fromRows(
    rows.map((row) => ({ ...row, sold: row.sold === null ? null : new Date(String(row.sold)) })),
  )
  engines.set('memory', () => ({ sales: inMemory }))
  const duckdb = await duckdbTable(join(folder, "rows 'x'.parquet"), rows, TYPES, 'sold')
  closing.push(() => duckdb.close())
  engines.set('duckdb', () => ({ sales: duckdb }))
  const [memoryOverHttp, duckdbOverHttp] = [await overHttp(inMemory), await overHttp(duckdb)]
  engines.set('memory over http', () => ({ sales: memoryOverHttp }))
  engines.set('duckdb over http', () => ({ sales: duckdbOverHttp }))
  if (!withServer) return
  server = await startPostgres()
  const postgres = await postgresTable(server.url, 'order "lines"', rows, TYPES, 'sold')
  closing.push(() => postgres.close())
  engines.set('postgres', () => ({ sales: postgres }))
})

afterAll(async () => {
  for (const close of closing) await close()
  server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const OWN = ['memory', 'duckdb', ...(withServer ? ['postgres'] : [])]
const NAMES = [...OWN, 'memory over http', 'duckdb over http']

test('there are sixty questions and more', () => {
  expect(Object.keys(QUESTIONS).length * Object.keys(SPLITS).length).toBeGreaterThan(60)
  expect(Object.keys(QUESTIONS).length).toBeGreaterThan(40)
})

// In the short run two of them.
describe.each(sampled(Object.entries(SPLITS), 4))('split by %s', (_, split) => {
  test.each(OWN)('%s answers every question as one does by hand, at every level', async (name) => {
    const cells = await cellsOf(reportOf(split), engines.get(name)?.() ?? {})
    const names = [split.rows, split.columns ?? []].flat()
    const counted = rows.filter((row) => split.keep?.(row) ?? true)
    const wrong: string[] = []
    expect(cells.length).toBeGreaterThan(2 * Object.keys(QUESTIONS).length)
    for (const cell of cells) {
      const wanted = new Map([...cell.row, ...cell.column].map((key) => [key.name, key.value]))
      const kept = counted.filter((row) =>
        names.every((key, k) => !wanted.has(key) || wanted.get(key) === split.keys[k](row)),
      )
      const [, pick] = QUESTIONS[cell.measure.slice(2)]
      const expected = kept.length === 0 ? null : pick(kept)
      if (!alike(cell.value, expected)) wrong.push(`${place(cell)} ${cell.value} not ${expected}`)
    }
    expect(wrong.slice(0, 5)).toEqual([])
  })

  test('all engines give the same cells in the same order', async () => {
    const [first, ...others] = await Promise.all(
      NAMES.map(async (name) => cellsOf(reportOf(split), engines.get(name)?.() ?? {})),
    )
    for (const other of others) {
      expect(other.map(place)).toEqual(first.map(place))
      expect(other.filter((cell, i) => !alike(cell.value, first[i].value)).map(place)).toEqual([])
    }
  })
})

test.runIf(FULL)(
  'what looks at other times and other cells, and the rest of a key, are the same by every engine',
  async () => {
    const measures = {
      total: 'sum(amount)',
      soFar: 'sofar(total, year)',
      middle: 'sofar(median(amount), year)',
      ever: 'sofar(last(weight), all)',
      start: 'opening(last(weight), year)',
      back: 'lag(total, 1 year)',
      backSoFar: 'lag(sofar(mean(amount), year), 1 year)',
      part: 'share(total) within month',
      kinds: 'share(countDistinct(order))',
      place: 'rank(total) within month',
      weak: 'streak(total < 2000)',
      ownWeak: 'streak(median(amount) > lag(median(amount), 1 month), month)',
    }
    const report = (columns: string, keep: number): ReportSpec => ({
      title: 'windows',
      period: '2024 to 2025',
      calendar: { yearStarts: 'April' },
      sources: { sales: { file: 'rows', date: 'sold' } },
      measures,
      exhibits: [
        {
          where: 'pieces > -2',
          table: {
            rows: { key: 'shop "name"', first: keep, others: 'Others' },
            columns,
            show: Object.keys(measures),
            totals: { rows: 'bottom', columns: 'right' },
          },
        },
      ],
    })
    for (const columns of sampled(['month', 'quarter', 'year', 'week'], 3)) {
      const [first, ...others] = await Promise.all(
        NAMES.map(async (name) => cellsOf(report(columns, 3), engines.get(name)?.() ?? {})),
      )
      expect(first.filter((cell) => cell.value !== null).length).toBeGreaterThan(100)
      for (const other of others) {
        expect(other.map(place)).toEqual(first.map(place))
        expect(other.filter((cell, i) => !alike(cell.value, first[i].value)).map(place)).toEqual([])
      }
    }
  },
)

test('records that stay in a database are those of memory: numbers, values, fields, looks and totals', async () => {
  const report: ReportSpec = {
    title: 'records',
    period: '2023 to 2025',
    sources: { sales: { file: 'rows', date: 'sold' } },
    fields: { sales: { each: 'amount / pieces', late: 'month(sold)' } },
    measures: { total: 'sum(amount)', light: 'mean(weight)' },
    statuses: { high: { wash: 'aqua' }, low: { wash: 'coral' } },
    rules: [
      { paint: 'total', rank: { top: '10%', status: 'high' } },
      { paint: 'total', bands: [{ below: 'mean(value) within order', status: 'low' }] },
    ],
    exhibits: [
      {
        where: "pieces > -2 and returned and order != 'rose'",
        records: {
          show: ['sold', 'shop "name"', 'order', 'total', 'light', 'pieces', 'returned', 'each', 'late'],
          sort: '-total',
          first: 50,
        },
      },
    ],
  }
  const pages = await Promise.all(
    NAMES.map(async (name) => {
      const [exhibit] = (await openReport(report, engines.get(name)?.() ?? {})).exhibits
      if (exhibit.kind !== 'records') throw new Error('records were expected')
      return { records: exhibit.records, count: exhibit.count, totals: exhibit.totals, averages: exhibit.averages }
    }),
  )
  const fit = rows.filter(
    (row) =>
      /^202[345]/.test(String(row.sold)) &&
      Number(row.pieces) > -2 &&
      row.pieces !== null &&
      row.returned === true &&
      row.order !== null &&
      row.order !== 'rose',
  )
  expect(fit.length).toBeGreaterThan(60)
  expect(pages[0].count).toBe(fit.length)
  // As data: a zero has no sign there.
  for (const other of pages.slice(1))
    expect(JSON.parse(JSON.stringify(other))).toEqual(JSON.parse(JSON.stringify(pages[0])))
})
