// @ts-check
/**
 * Reports that grow: many exhibits that ask the same, and many rules over the same cells, each
 * beside one of its kind in the same run.
 */
import { fromColumns } from 'acuarela'
import { openReport } from 'acuarela/report'
import { random } from './random.js'

const MANY = 200

/** @param {number} rows */
export async function growBench(rows) {
  const next = random(7)
  const columns = {
    region: Array.from({ length: rows }, () => `Region ${Math.floor(next() * 8)}`),
    shop: Array.from({ length: rows }, () => `Shop ${Math.floor(next() * 400)}`),
    amount: Float64Array.from({ length: rows }, () => Math.round(next() * 10_000) / 100),
    plan: Float64Array.from({ length: rows }, () => Math.round(next() * 10_000) / 100),
  }
  const base = {
    title: 'Growth',
    sources: { sales: {} },
    measures: { revenue: 'sum(amount)', plan: 'sum(plan)', gap: 'revenue - plan' },
    statuses: { good: { wash: 'aqua' }, bad: { wash: 'coral' } },
  }
  /** @param {number} count @returns {import('acuarela/report').ReportSpec['exhibits']} */
  const exhibits = (count) =>
    Array.from({ length: count }, (_, i) => ({
      name: `e${i}`,
      table: { rows: 'region', show: ['revenue', 'gap'], totals: 'bottom' },
    }))
  /** @param {number} count @returns {import('acuarela').RuleSpec[]} */
  const rules = (count) =>
    Array.from({ length: count }, (_, i) => ({
      name: `r${i}`,
      paint: 'revenue',
      where: `gap > ${i / 10}`,
      bands: [
        { atLeast: `percentile(value, ${1 + (i % 98)}%)`, status: 'good' },
        { below: 'mean(value) within region', status: 'bad' },
      ],
    }))
  /**
   * From the values of columns to the page: what is known of a column is kept with its array, so
   * each run gets arrays of its own.
   * @param {Partial<import('acuarela/report').ReportSpec>} spec
   */
  const time = async (spec) => {
    const times = []
    for (let i = 0; i < 3; i++) {
      const changed = { ...columns, amount: columns.amount.slice(), plan: columns.plan.slice() }
      const start = performance.now()
      const table = fromColumns(changed)
      await openReport({ ...base, exhibits: exhibits(1), rules: rules(1), ...spec }, { sales: table })
      times.push(performance.now() - start)
    }
    return times.sort((a, b) => a - b)[1]
  }
  /** @param {string} what @param {number} few @param {number} many */
  const say = (what, few, many) =>
    console.log(
      `  ${what.padEnd(28)} ${many.toFixed(0).padStart(7)} ms, one ${few.toFixed(0)} ms: ${(many / few).toFixed(1)} ×`,
    )
  console.log(`grow: ${rows.toLocaleString('en')} rows`)
  const one = await time({})
  say(`${MANY} exhibits of one grain`, one, await time({ exhibits: exhibits(MANY) }))
  say(`${MANY} rules over 8 cells`, one, await time({ rules: rules(MANY) }))
  /** @type {import('acuarela/report').ReportSpec['exhibits']} */
  const records = [{ records: { show: ['region', 'shop', 'revenue', 'gap'], first: 100 } }]
  const single = await time({ exhibits: records })
  say('20 rules over all rows', single, await time({ exhibits: records, rules: rules(20) }))
}
