// @ts-check
/**
 * A report over a Parquet file by duckdb, beside the query that one would give the database
 * oneself.
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DuckDBInstance } from '@duckdb/node-api'
import { openDuckdb } from 'acuarela/engine/duckdb'
import { openReport } from 'acuarela/report'
import { measure, report } from './measure.js'

/**
 * @typedef {import('@duckdb/node-api').DuckDBConnection} Connection
 * @typedef {(file: string, database: Connection) => Promise<void>} Run
 */

/**
 * Runs a bench over a Parquet file that a query makes, with a connection of its own beside it.
 * @param {string} query
 * @param {Run} run
 */
export async function withParquet(query, run) {
  const folder = mkdtempSync(join(tmpdir(), 'acuarela-bench-'))
  const file = join(folder, 'sales.parquet')
  const instance = await DuckDBInstance.create(':memory:')
  const database = await instance.connect()
  await database.run(`COPY (${query}) TO '${file}' (FORMAT parquet)`)
  await run(file, database)
  database.closeSync()
  instance.closeSync()
  rmSync(folder, { recursive: true })
}

/** @param {number} rows */
export async function parquetBench(rows) {
  const query = `SELECT DATE '2022-07-01' + CAST(hash(i) % 1095 AS INTEGER) AS date, 'shop ' || (hash(i + 1) % 40) AS shop,
    'line ' || (hash(i + 2) % 9) AS line, CAST(CAST(hash(i + 3) % 90000 AS DOUBLE) / 100 AS DECIMAL(12, 2)) AS amount
    FROM range(${rows}) AS r(i)`
  await withParquet(query, async (file, database) => {
    const source = await openDuckdb({ files: [file], date: 'date' })
    const question = {
      title: 'by shop and month',
      sources: { sales: { file: 'sales.parquet', date: 'date' } },
      measures: { total: 'sum(amount)', average: 'mean(amount)', orders: 'count()' },
      exhibits: [
        {
          period: 'all',
          table: {
            rows: 'shop',
            columns: 'month',
            show: ['total', 'average', 'orders'],
            totals: { rows: 'bottom', columns: 'right' },
          },
        },
      ],
    }
    const sql = `SELECT shop, date_trunc('month', date) AS month, sum(amount), avg(amount), count(*) FROM read_parquet('${file}')
    GROUP BY GROUPING SETS ((1, 2), (1), (2), ())`
    const times = await measure(
      {
        'a report by duckdb': () => openReport(/** @type {any} */ (question), { sales: source }),
        'its own query': () => database.runAndReadAll(sql),
      },
      { rounds: 5, warm: 2 },
    )
    report(`a report over a Parquet file of ${rows.toLocaleString('en')} rows`, times)
    await source.close()
  })
}
