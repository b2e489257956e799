// @ts-check
/**
 * How long does the demo report take from CSV text to page, beside the CSV parser alone with an
 * empty callback?
 */
import { readFileSync } from 'node:fs'
import { openReport, readCsv } from 'acuarela/report'
import Papa from 'papaparse'
import { generateBudget, generateSales, generateShops } from '../examples/brezal/generate.js'
import { measure, report } from './measure.js'

export async function summaryBench() {
  const csv = generateSales()
  const yaml = readFileSync(new URL('../examples/brezal/spring.acuarela.yaml', import.meta.url), 'utf8')
  const table = readCsv(csv, { date: 'date' })
  const budget = readCsv(generateBudget(), { date: 'month' })
  const shops = generateShops()
  const times = await measure({
    'CSV to typed columns': () => readCsv(csv, { date: 'date' }),
    'columns to page': () => openReport(yaml, { sales: table, budget, outlets: shops }),
    'the CSV parser alone': () => Papa.parse(csv, { header: false, step: () => {} }),
  })
  report(`the demo report, ${table.table.length.toLocaleString('en')} order lines`, times)
}
