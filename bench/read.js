// @ts-check
/** Reading CSV to typed columns, beside the parser alone with an empty callback. */
import { readCsv } from 'acuarela/report'
import Papa from 'papaparse'
import { measure, report } from './measure.js'
import { random } from './random.js'

/** @param {number} rows */
export async function readBench(rows) {
  const text = makeCsv(rows)
  const times = await measure(
    {
      'CSV to typed columns': () => readCsv(text, { date: 'date' }),
      'the parser alone': () => Papa.parse(text, { header: false, delimiter: ',', step: () => {} }),
    },
    { rounds: 7, warm: 2 },
  )
  report(`reading a CSV of ${rows.toLocaleString('en')} rows`, times)
}

/**
 * One text, and nothing of what it was made of: a heap full of lines would be gone through at each
 * collection, whatever caused it.
 * @param {number} rows
 */
function makeCsv(rows) {
  const next = random(3)
  const two = (/** @type {number} */ n) => String(n).padStart(2, '0')
  const lines = ['date,shop,line,amount,cost']
  for (let i = 0; i < rows; i++) {
    const date = `2024-${two(1 + Math.floor(next() * 12))}-${two(1 + Math.floor(next() * 28))}`
    const amount = (next() * 900).toFixed(2)
    lines.push(
      `${date},shop ${Math.floor(next() * 40)},line ${Math.floor(next() * 9)},${amount},${(next() * 90).toFixed(2)}`,
    )
  }
  return Buffer.from(lines.join('\n')).toString()
}
