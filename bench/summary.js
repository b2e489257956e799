// @ts-check
/** How long does the demo report take from CSV text to page, beside the CSV parser alone with an empty callback? */
import { readFileSync } from 'node:fs'
import { openReport, readCsv } from 'acuarela/report'
import Papa from 'papaparse'
import { generateBudget, generateSales } from '../examples/brezal/generate.js'
import { report } from './measure.js'

/** @param {() => unknown} run */
async function timed(run) {
  const times = []
  for (let round = -2; round < 7; round++) {
    const start = performance.now()
    await run()
    if (round >= 0) times.push(performance.now() - start)
  }
  return times.sort((a, b) => a - b)[times.length >> 1]
}

export async function summaryBench() {
  const csv = generateSales()
  const yaml = readFileSync(new URL('../examples/brezal/spring.acuarela.yaml', import.meta.url), 'utf8')
  const table = readCsv(csv, { date: 'date' })
  const parser = await timed(() => Papa.parse(csv, { header: false, step: () => {} }))
  const reading = await timed(() => readCsv(csv, { date: 'date' }))
  const budget = readCsv(generateBudget(), { date: 'month' })
  const answering = await timed(() => openReport(yaml, { sales: table, budget }))
  report(`the demo report, ${table.table.length.toLocaleString('en')} order lines`, {
    'CSV to typed columns': reading,
    'columns to page': answering,
    'the CSV parser alone': parser,
  })
}
