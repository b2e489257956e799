import { type Cell, type GridExhibit, openReport, type ReportSpec } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'

const FORMULAS: Record<string, string> = {
  total: 'sum(x)',
  average: 'mean(x)',
  middle: 'median(x)',
  low: 'lowest(x)',
  high: 'highest(x)',
  rows: 'count()',
  filled: 'count(x)',
  kinds: 'countDistinct(x)',
  late: 'percentile(x, 90%)',
  spread: 'stdev(x)',
  trade: "sum(x) where shop = 'a'",
  backs: 'count() where x < 0',
  ratio: 'trade / total',
}

interface Row {
  region: string
  shop: string
  month: number
  x: number | null
}

const row: fc.Arbitrary<Row> = fc.record({
  region: fc.constantFrom('North', 'South', ''),
  shop: fc.constantFrom('a', 'b', 'c'),
  month: fc.integer({ min: 1, max: 5 }),
  x: fc.option(
    fc.integer({ min: -50, max: 50 }).map((n) => n / 4),
    { freq: 6 },
  ),
})

/** Each measure computed from the rows of one cell, by its definition. */
function plain(rows: readonly Row[]): Record<string, number | null> {
  if (rows.length === 0) return Object.fromEntries(Object.keys(FORMULAS).map((name) => [name, null]))
  const xs = rows.flatMap((r) => (r.x === null ? [] : [r.x])).sort((a, b) => a - b)
  const n = xs.length
  const sum = (list: number[]): number | null => (list.length === 0 ? null : list.reduce((a, b) => a + b, 0))
  const at = (p: number): number | null => {
    if (n === 0) return null
    const h = (n - 1) * p
    const low = Math.floor(h)
    return xs[low] + (h - low) * (xs[Math.min(n - 1, low + 1)] - xs[low])
  }
  const total = sum(xs)
  const mean = total === null ? null : total / n
  const trade = sum(rows.flatMap((r) => (r.x === null || r.shop !== 'a' ? [] : [r.x])))
  return {
    total,
    average: mean,
    middle: at(0.5),
    low: xs[0] ?? null,
    high: xs.at(-1) ?? null,
    rows: rows.length,
    filled: n,
    kinds: new Set(xs).size,
    late: at(0.9),
    spread: n < 2 ? null : Math.sqrt(xs.reduce((a, x) => a + (x - (mean ?? 0)) ** 2, 0) / (n - 1)),
    trade,
    backs: xs.filter((x) => x < 0).length,
    ratio: trade === null || total === null || total === 0 ? null : trade / total,
  }
}

function csvOf(rows: readonly Row[]): string {
  const lines = rows.map((r) => `2025-0${r.month}-15,${r.region},${r.shop},${r.x ?? ''}`)
  return `date,region,shop,x\n2025-05-20,South,c,1\n${lines.join('\n')}\n`
}

function reportOf(table: object, more: Partial<ReportSpec> = {}): ReportSpec {
  return {
    title: 'T',
    sources: { s: { file: 's.csv', date: 'date', read: { x: 'number' } } },
    measures: FORMULAS,
    exhibits: [{ name: 't', table: { rows: ['region', 'shop'], show: Object.keys(FORMULAS), ...table } }],
    ...more,
  } as ReportSpec
}

async function grid(report: ReportSpec, csv: string): Promise<GridExhibit> {
  const page = await openReport(report, { s: csv })
  const [first] = page.exhibits
  if (!('rows' in first)) throw new Error('a grid was expected')
  return first
}

const key = (cell: Cell, name: string): string | null | undefined =>
  [...cell.row, ...cell.column].find((k) => k.name === name)?.value

test('laws 10 to 12: every cell, subtotal and total is worked out from its own rows', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(row, { maxLength: 40 }),
      fc.constantFrom<('top' | 'bottom')[]>('top', 'bottom'),
      async (some, place) => {
        const rows = [{ region: 'South', shop: 'c', month: 5, x: 1 }, ...some]
        const exhibit = await grid(
          reportOf({ columns: 'month', totals: { rows: place, columns: 'right' } }),
          csvOf(some),
        )
        const cells = exhibit.rows.flatMap((r) => r.cells.filter((c) => c !== null))
        const crossings =
          new Set(rows.map((r) => `${r.region}/${r.shop}`)).size + new Set(rows.map((r) => r.region)).size + 1
        expect(cells).toHaveLength(crossings * (monthsOf(rows) + 1) * Object.keys(FORMULAS).length)
        for (const cell of cells) {
          const [region, shop, month] = ['region', 'shop', 'month'].map((name) => key(cell, name))
          const own = rows.filter(
            (r) =>
              (region === undefined || r.region === (region ?? '')) &&
              (shop === undefined || r.shop === shop) &&
              (month === undefined || `2025-0${r.month}` === month),
          )
          const wanted = plain(own)[cell.measure]
          if (wanted === null) expect(cell.value, `${cell.measure} of ${own.length} rows`).toBeNull()
          else expect(cell.value, `${cell.measure} of ${own.length} rows`).toBeCloseTo(wanted, 9)
        }
      },
    ) as fc.IAsyncProperty<unknown>,
    { seed: 5, numRuns: 40 },
  )
})

test('laws 10 to 12: where every row is a cell of its own, it holds its value; totals add them up', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.uniqueArray(fc.integer({ min: 1, max: 99 }), { minLength: 1, maxLength: 40 }),
      fc.array(fc.option(fc.integer({ min: -5000, max: 5000 }).map((n) => n / 100)), { minLength: 40, maxLength: 40 }),
      async (shops, values) => {
        const rows = shops.map((shop, i): Row => ({ region: '', shop: `s${shop}`, month: 1, x: values[i] }))
        const csv = `region,shop,x\n${rows.map((r) => `${r.region},${r.shop},${r.x ?? ''}`).join('\n')}\n`
        const report = reportOf({ rows: 'shop', totals: 'bottom' })
        report.sources = { s: { file: 's.csv', read: { x: 'number' } } }
        const exhibit = await grid(report, csv)
        const order = [...shops].sort((a, b) => a - b).map((shop) => `s${shop}`)
        expect(exhibit.rows.map((line) => line.heading.text)).toEqual([...order, 'Total'])
        for (const cell of exhibit.rows.flatMap((line) => line.cells)) {
          const shop = cell === null ? undefined : key(cell, 'shop')
          const wanted = plain(rows.filter((r) => shop === undefined || r.shop === shop))[cell?.measure ?? '']
          if (wanted === null) expect(cell?.value).toBeNull()
          else expect(cell?.value, `${cell?.measure} of ${shop}`).toBeCloseTo(wanted, 9)
        }
      },
    ) as fc.IAsyncProperty<unknown>,
    { seed: 6, numRuns: 40 },
  )
})

function monthsOf(rows: readonly Row[]): number {
  // The axis is complete from the first month with data to the last.
  return 5 - Math.min(...rows.map((r) => r.month)) + 1
}

const SHOPS =
  'date,region,shop,x\n2025-01-05,South,b10,4\n2025-01-09,North,ä,9\n2025-03-02,South,b9,1\n2025-03-20,South,B,7\n2025-03-31,,z,5\n'
const heads = (exhibit: GridExhibit): string[] => exhibit.rows.map((r) => `${'  '.repeat(r.depth)}${r.heading.text}`)

test('rows stand in the order of the locale, or of a measure inside each group; a missing key stands last', async () => {
  const table = (more: object) => grid(reportOf({ show: 'total', ...more }), SHOPS)
  expect(heads(await table({}))).toEqual([
    '  North',
    '    ä',
    '  South',
    '    B',
    '    b9',
    '    b10',
    '  (no region)',
    '    z',
  ])
  expect(heads(await table({ sort: '-total' }))).toEqual([
    '  South',
    '    B',
    '    b10',
    '    b9',
    '  North',
    '    ä',
    '  (no region)',
    '    z',
  ])
  expect(heads(await table({ sort: 'total', totals: 'bottom' }))).toEqual([
    '  (no region)',
    '    z',
    '  (no region), total',
    '  North',
    '    ä',
    '  North, total',
    '  South',
    '    b9',
    '    b10',
    '    B',
    '  South, total',
    'Total',
  ])
})

test('a month without a row keeps its place, is missing, and is headed by its year', async () => {
  const exhibit = await grid(reportOf({ rows: 'region', columns: 'month', show: 'total' }), SHOPS)
  expect(exhibit.columnHeadings.map((row) => row.map((h) => `${h.text} ${h.span}`))).toEqual([
    ['2025 3'],
    ['Jan 1', 'Feb 1', 'Mar 1'],
  ])
  expect(exhibit.rows.map((r) => r.cells.map((c) => c?.value))).toEqual([
    [9, null, null],
    [4, null, 8],
    [null, null, 5],
  ])
})

test('nested columns, several measures and totals are headed in as many lines', async () => {
  const exhibit = await grid(
    reportOf({ rows: 'region', columns: ['quarter', 'month'], show: ['total', 'rows'], totals: { columns: 'left' } }),
    SHOPS,
  )
  expect(exhibit.columnHeadings.map((row) => row.map((h) => `${h.text} ${h.span}`))).toEqual([
    ['Total 2', 'Q1 2025 6'],
    [' 2', 'Jan 2025 2', 'Feb 2025 2', 'Mar 2025 2'],
    ['total 1', 'rows 1', 'total 1', 'rows 1', 'total 1', 'rows 1', 'total 1', 'rows 1'],
  ])
  expect(exhibit.rows[1].cells.map((c) => c?.value)).toEqual([12, 3, 4, 1, null, null, 8, 2])
})

test('law 16: a rule is answered where a field agrees inside each cell; elsewhere it is skipped, and said', async () => {
  const rules = [
    {
      name: 'south',
      paint: 'total',
      levels: 'all',
      where: "region = 'South'",
      bands: [{ otherwise: { weight: 'bold' } }],
    },
  ]
  const bold = async (table: object): Promise<{ names: string[]; messages: readonly string[] }> => {
    const exhibit = await grid(reportOf({ show: 'total', ...table }, { rules } as Partial<ReportSpec>), SHOPS)
    return {
      names: exhibit.rows.filter((r) => r.cells[0]?.style.weight === 'bold').map((r) => r.heading.text),
      messages: exhibit.messages,
    }
  }
  expect(await bold({ rows: 'shop', totals: 'top' })).toEqual({
    names: ['B', 'b9', 'b10'],
    messages: ['the rule south is not applied to the grand total: region differs inside its cells'],
  })
  expect((await bold({ rows: ['region', 'shop'], totals: 'top' })).names).toEqual(['South', 'B', 'b9', 'b10'])
})

test('law 16: time may be asked for where it agrees, as a period to compare with', async () => {
  const rules = [{ paint: 'total', where: 'month >= 2025-03', bands: [{ otherwise: { weight: 'bold' } }] }]
  const bold = async (rows: string[]): Promise<(string | null)[]> => {
    const exhibit = await grid(reportOf({ show: 'total', rows }, { rules } as Partial<ReportSpec>), SHOPS)
    return exhibit.rows.filter((r) => r.cells[0]?.style.weight === 'bold').map((r) => r.heading.text)
  }
  expect(await bold(['shop'])).toEqual(['B', 'b9', 'z'])
  expect(await bold(['month'])).toEqual(['Mar 2025'])
  expect(await bold(['region'])).toEqual([])
})

test('law 12: totals are plain unless asked, and each pair of levels is a population of its own', async () => {
  const report = (levels?: string | readonly string[]): ReportSpec =>
    reportOf({ show: 'total', totals: 'top' }, {
      statuses: { best: { wash: 'indigo' } },
      rules: [{ paint: 'total', rank: { top: 1, status: 'best' }, ...(levels && { levels }) }],
    } as Partial<ReportSpec>)
  const best = async (levels?: string | readonly string[]): Promise<string[]> => {
    const exhibit = await grid(report(levels), SHOPS)
    return exhibit.rows.filter((r) => r.cells[0]?.style.status === 'best').map((r) => r.heading.text)
  }
  expect(await best()).toEqual(['ä'])
  expect(await best(['subtotal', 'total'])).toEqual(['South'])
  expect(await best('subtotal')).toEqual(['South'])
  // The grand total is a population of one, and stays unpainted.
  expect(await best('total')).toEqual([])
  expect(await best('all')).toEqual(['ä', 'South'])
})

test('law 14: grain is necessary; more splits are allowed, fewer are not', async () => {
  const rules = [{ paint: 'total', grain: 'shop', levels: 'all', bands: [{ otherwise: { weight: 'bold' } }] }]
  const exhibit = await grid(
    reportOf({ show: 'total', totals: 'top', columns: 'month' }, { rules } as Partial<ReportSpec>),
    SHOPS,
  )
  const bold = new Set(exhibit.rows.filter((r) => r.cells.some((c) => c?.style.weight === 'bold')).map((r) => r.depth))
  expect([...bold]).toEqual([2])
})

test('law 5: the period cuts what counts; asOf ends it; undated rows belong to all alone', async () => {
  const csv = `${SHOPS},South,b9,100\n`
  const total = async (more: Partial<ReportSpec>): Promise<number | null | undefined> =>
    (await grid(reportOf({ rows: 'region', show: 'total', totals: 'top' }, more), csv)).rows[0].cells[0]?.value
  expect(await total({})).toBe(126)
  expect(await total({ period: 'this month' })).toBe(13)
  expect(await total({ period: '2025-01' })).toBe(13)
  expect(await total({ period: 2025 })).toBe(26)
  expect(await total({ period: 2025, asOf: '2025-03-15' })).toBe(14)
  expect(await total({ period: 2024 })).toBeNull()
})

test('law 20: a difference takes the direction of what it is a difference of', async () => {
  const at = (better: string, plan?: string): Promise<unknown> =>
    openReport(
      reportOf({ show: 'gap' }, {
        measures: {
          a: { formula: 'sum(x)', better },
          b: { formula: 'count(x)', ...(plan && { better: plan }) },
          gap: 'a - b * 1',
        },
        rules: [{ paint: 'gap', gradient: { ramp: 'badToGood' } }],
      } as unknown as Partial<ReportSpec>),
      { s: SHOPS },
    )
  await expect(at('higher')).resolves.toBeDefined()
  await expect(at('neither')).rejects.toThrow('gap, which has none')
})
