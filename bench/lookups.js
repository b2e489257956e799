// @ts-check
/**
 * A report whose keys and conditions are columns of two lookup tables, beside the same report over
 * rows that have these columns; and a report with `since`, beside the same without.
 */
import { fromColumns } from 'acuarela'
import { openDuckdb } from 'acuarela/engine/duckdb'
import { openReport } from 'acuarela/report'
import { measure, report } from './measure.js'
import { withParquet } from './parquet.js'
import { random } from './random.js'

const SHOPS = Array.from({ length: 40 }, (_, i) => ({ shop: `shop ${i}`, manager: `manager ${i % 6}` }))
const LINES = Array.from({ length: 9 }, (_, i) => ({ line: `line ${i}`, kind: i % 3 === 0 ? 'tree' : 'flower' }))

/** @param {object} sources @param {string} manager @param {string} kind */
const question = (sources, manager, kind) =>
  /** @type {any} */ ({
    title: 'by manager and month',
    sources,
    measures: { total: 'sum(amount)', average: 'mean(amount)', orders: 'count()' },
    exhibits: [
      {
        period: 'all',
        where: `${kind} = 'flower'`,
        table: {
          rows: manager,
          columns: 'month',
          show: ['total', 'average', 'orders'],
          totals: { rows: 'bottom', columns: 'right' },
        },
      },
    ],
  })

/** @param {string} file */
const plain = (file) => ({ sales: { file, date: 'date' } })
/** @param {string} file */
const star = (file) => ({
  ...plain(file),
  shops: { file: 'shops.csv', lookup: true, match: 'shop' },
  lines: { file: 'lines.csv', lookup: true, match: 'line' },
})

/** @param {readonly Record<string, string>[]} rows */
const csv = (rows) => `${[Object.keys(rows[0]), ...rows.map((row) => Object.values(row))].join('\n')}\n`
const TABLES = { shops: csv(SHOPS), lines: csv(LINES) }

/** In a Parquet file, by duckdb. @param {number} rows */
export async function lookupsInParquet(rows) {
  const query = `SELECT DATE '2022-07-01' + CAST(hash(i) % 1095 AS INTEGER) AS date, 'shop ' || s AS shop, 'line ' || l AS line,
    'manager ' || (s % 6) AS manager, CASE WHEN l % 3 = 0 THEN 'tree' ELSE 'flower' END AS kind,
    CAST(CAST(hash(i + 3) % 90000 AS DOUBLE) / 100 AS DECIMAL(12, 2)) AS amount
    FROM (SELECT i, hash(i + 1) % 40 AS s, hash(i + 2) % 9 AS l FROM range(${rows}) AS r(i))`
  await withParquet(query, async (file) => {
    const sales = await openDuckdb({ files: [file], date: 'date' })
    const [looked, own] = [star('sales.parquet'), plain('sales.parquet')]
    const times = await measure(
      {
        'two lookup tables': () => openReport(question(looked, 'shops.manager', 'lines.kind'), { sales, ...TABLES }),
        'columns of the rows': () => openReport(question(own, 'manager', 'kind'), { sales }),
      },
      { rounds: 5, warm: 2 },
    )
    report(`two lookups over a Parquet file of ${rows.toLocaleString('en')} rows`, times)
    await sales.close()
  })
}

/** @param {number} rows */
function inMemory(rows) {
  const next = random(11)
  const days = Array.from({ length: 1095 }, (_, i) =>
    new Date(Date.UTC(2022, 6, 1) + i * 86_400_000).toISOString().slice(0, 10),
  )
  const at = Array.from({ length: rows }, () => [Math.floor(40 * next()), Math.floor(9 * next())])
  return fromColumns({
    date: at.map(() => days[Math.floor(1095 * next())]),
    shop: at.map(([s]) => SHOPS[s].shop),
    line: at.map(([, l]) => LINES[l].line),
    manager: at.map(([s]) => SHOPS[s].manager),
    kind: at.map(([, l]) => LINES[l].kind),
    amount: Float64Array.from(at, () => Math.round(90_000 * next()) / 100),
  })
}

/** Over rows in memory. @param {number} rows */
export async function lookupsInMemory(rows) {
  const sales = inMemory(rows)
  const [looked, own] = [star('sales.csv'), plain('sales.csv')]
  const times = await measure(
    {
      'two lookup tables': () => openReport(question(looked, 'shops.manager', 'lines.kind'), { sales, ...TABLES }),
      'columns of the rows': () => openReport(question(own, 'manager', 'kind'), { sales }),
    },
    { rounds: 5, warm: 2 },
  )
  report(`two lookups over ${rows.toLocaleString('en')} rows in memory`, times)
}

/** A report and its earlier state. @param {number} rows */
export async function sinceBench(rows) {
  const sales = inMemory(rows)
  const ruled = {
    ...question(plain('sales.csv'), 'shop', 'kind'),
    asOf: '2025-05-31',
    statuses: { good: { wash: 'aqua' }, bad: { wash: 'coral' } },
    rules: [{ paint: 'total', bands: [{ atLeast: rows / 10, status: 'good' }, { otherwise: 'bad' }] }],
  }
  const times = await measure(
    {
      'since a month before': () => openReport({ ...ruled, since: '1 month' }, { sales }),
      'the report alone': () => openReport(ruled, { sales }),
    },
    { rounds: 5, warm: 2 },
  )
  report(`a report over ${rows.toLocaleString('en')} rows with its earlier state`, times)
}
