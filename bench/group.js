// @ts-check
/**
 * Grouping coded rows in memory, beside a loop written by hand for just this question, and beside a
 * database in the same process.
 */
import { DuckDBInstance } from '@duckdb/node-api'
import { fromColumns } from 'acuarela'
import { openReport } from 'acuarela/report'
import { measure, report } from './measure.js'
import { random } from './random.js'

const LINES = 24
const MONTHS = 36

/** @param {number} rows */
export async function groupBench(rows) {
  const next = random(7)
  const lineCodes = Int32Array.from(
    { length: rows },
    () => Math.floor(next() * (LINES + 0.2)) - (next() < 0.01 ? 100 : 0),
  )
  const monthCodes = Int32Array.from({ length: rows }, () => Math.floor(next() * MONTHS))
  const amount = Float64Array.from({ length: rows }, () =>
    next() < 0.02 ? Number.NaN : Math.round(next() * 90_000) / 100,
  )
  const line = Array.from(lineCodes, (code) => (code < 0 || code >= LINES ? null : `line ${code}`))
  const month = Array.from(monthCodes, (code) => `month ${100 + code}`)
  const table = fromColumns({ line, month, amount })
  const codes = Int32Array.from(line, (word) => (word === null ? -1 : Number(word.slice(5))))
  const question = {
    title: 'by line and month',
    sources: { sales: { file: 'memory' } },
    measures: { total: 'sum(amount)', average: 'mean(amount)' },
    exhibits: [
      {
        table: {
          rows: 'line',
          columns: 'month',
          show: ['total', 'average'],
          totals: { rows: 'bottom', columns: 'right' },
        },
      },
    ],
  }
  const instance = await DuckDBInstance.create(':memory:', { threads: '2' })
  const database = await instance.connect()
  await database.run('CREATE TABLE sales (line VARCHAR, month VARCHAR, amount DOUBLE)')
  const appender = await database.createAppender('sales')
  for (let i = 0; i < rows; i++) {
    const word = line[i]
    if (word === null) appender.appendNull()
    else appender.appendVarchar(word)
    appender.appendVarchar(month[i])
    if (Number.isNaN(amount[i])) appender.appendNull()
    else appender.appendDouble(amount[i])
    appender.endRow()
  }
  appender.closeSync()
  const sql =
    'SELECT line, month, sum(amount), avg(amount), count(*) FROM sales GROUP BY GROUPING SETS ((line, month), (line), (month), ())'
  const times = await measure(
    {
      'a report in memory': () => openReport(/** @type {any} */ (question), { sales: table }),
      'duckdb from memory, 2 threads': () => database.runAndReadAll(sql),
      'a loop by hand': () => byHand(codes, monthCodes, amount),
    },
    { rounds: 5, warm: 2 },
  )
  report(`sums, means and totals of ${rows.toLocaleString('en')} coded rows by line and month`, times)
  database.closeSync()
  instance.closeSync()
}

/**
 * What one would write for just this: one pass, compensated sums, a place for rows without a line,
 * totals from the groups.
 * @param {Int32Array} line @param {Int32Array} month @param {Float64Array} amount
 */
function byHand(line, month, amount) {
  const width = MONTHS
  const size = (LINES + 1) * width
  const count = new Float64Array(size)
  const rows = new Float64Array(size)
  const sum = new Float64Array(size)
  const rest = new Float64Array(size)
  for (let i = 0; i < amount.length; i++) {
    const slot = (line[i] + 1) * width + month[i]
    rows[slot]++
    const x = amount[i]
    if (Number.isNaN(x)) continue
    count[slot]++
    const s = sum[slot]
    const t = s + x
    rest[slot] += Math.abs(s) >= Math.abs(x) ? s - t + x : x - t + s
    sum[slot] = t
  }
  const totals = new Float64Array(LINES + 1 + width + 1)
  for (let l = 0; l <= LINES; l++)
    for (let m = 0; m < width; m++) {
      const both = sum[l * width + m] + rest[l * width + m]
      totals[l] += both
      totals[LINES + 1 + m] += both
      totals[totals.length - 1] += both
    }
  return { rows, totals, means: sum.map((s, i) => (s + rest[i]) / count[i]) }
}
