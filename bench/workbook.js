// @ts-check
/**
 * Workbooks: a million rows of eight columns read, beside the XML parser alone over the same
 * content; the peak of the memory of each is told by a process of its own.
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { openReportFile } from 'acuarela/node'
import { openReport, readSource } from 'acuarela/report'
import { toOds } from 'acuarela/workbook'
import { Unzip, UnzipInflate, unzipSync, Zip, ZipDeflate, ZipPassThrough, zipSync } from 'fflate'
import { SaxesParser } from 'saxes'
import { random } from './random.js'

const XMLNS = [
  'office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"',
  'table="urn:oasis:names:tc:opendocument:xmlns:table:1.0"',
  'text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"',
]
  .map((one) => ` xmlns:${one}`)
  .join('')

const text = (/** @type {string} */ value) =>
  `<table:table-cell office:value-type="string"><text:p>${value}</text:p></table:table-cell>`
const number = (/** @type {number | string} */ value, type = 'float', more = '') =>
  `<table:table-cell office:value-type="${type}" office:value="${value}"${more}><text:p>${value}</text:p></table:table-cell>`

/**
 * A workbook of a million orders, written step by step.
 * @param {string} path @param {number} rows
 */
export function writeOrders(path, rows) {
  const file = openSync(path, 'w')
  const next = random(7)
  const zip = new Zip((error, chunk) => {
    if (error) throw error
    writeSync(file, chunk)
  })
  const type = new ZipPassThrough('mimetype')
  zip.add(type)
  const encoder = new TextEncoder()
  type.push(encoder.encode('application/vnd.oasis.opendocument.spreadsheet'), true)
  const content = new ZipDeflate('content.xml', { level: 6 })
  zip.add(content)
  const header = ['order', 'day', 'region', 'shop', 'line', 'pieces', 'amount', 'rebate'].map(text).join('')
  let piece = `<?xml version="1.0" encoding="UTF-8"?><office:document-content${XMLNS} office:version="1.3"><office:body><office:spreadsheet><table:table table:name="Orders"><table:table-column table:number-columns-repeated="8"/><table:table-row>${header}</table:table-row>`
  for (let i = 0; i < rows; i++) {
    const day = new Date(Date.UTC(2023, 0, 1 + (i % 900))).toISOString().slice(0, 10)
    const shop = Math.floor(next() * 40)
    piece += `<table:table-row>${text(`B-${100_000 + i}`)}<table:table-cell office:value-type="date" office:date-value="${day}"><text:p>${day}</text:p></table:table-cell>${text(`Region ${shop % 5}`)}${text(`Shop ${shop}`)}${text(`Line ${Math.floor(next() * 12)}`)}${number(Math.floor(next() * 90))}${number((next() * 900).toFixed(2), 'currency', ' office:currency="EUR"')}${number((next() * 0.3).toFixed(3), 'percentage')}</table:table-row>`
    if (piece.length > 1 << 20) {
      content.push(encoder.encode(piece))
      piece = ''
    }
  }
  piece += '</table:table></office:spreadsheet></office:body></office:document-content>'
  content.push(encoder.encode(piece), true)
  zip.end()
}

/** Unzips and parses the content, and does nothing with it. @param {Uint8Array} bytes */
function parseAlone(bytes) {
  const parser = new SaxesParser({ xmlns: false })
  let elements = 0
  parser.on('opentag', () => {
    elements++
  })
  const decoder = new TextDecoder()
  const unzip = new Unzip((entry) => {
    if (entry.name !== 'content.xml') return
    entry.ondata = (error, chunk, final) => {
      if (error) throw error
      parser.write(decoder.decode(chunk, { stream: !final }))
    }
    entry.start()
  })
  unzip.register(UnzipInflate)
  for (let from = 0; from < bytes.length; from += 1 << 14)
    unzip.push(bytes.subarray(from, from + (1 << 14)), from + (1 << 14) >= bytes.length)
  parser.close()
  return elements
}

/**
 * Does one of the two in a process of its own.
 * @param {"ours" | "alone"} what @param {string} path
 */
async function once(what, path) {
  const bytes = readFileSync(path)
  const start = performance.now()
  if (what === 'alone') parseAlone(bytes)
  else {
    const { table } = await readSource([{ name: 'orders.ods', content: bytes }])
    if (table.columns.size !== 8) throw new Error('not all columns')
  }
  const ms = performance.now() - start
  console.log(JSON.stringify({ ms, mb: process.resourceUsage().maxRSS / 1024 }))
}

/** @param {string} what @param {string} path @returns {{ ms: number, mb: number }} */
function apart(what, path) {
  return JSON.parse(execFileSync(process.execPath, [fileURLToPath(import.meta.url), what, path]).toString())
}

export function workbookBench(rows = 1_000_000) {
  console.log(`workbook: ${rows.toLocaleString('en')} rows × 8 columns of an OpenDocument spreadsheet`)
  const folder = mkdtempSync(join(tmpdir(), 'acuarela-'))
  try {
    const path = join(folder, 'orders.ods')
    writeOrders(path, rows)
    const alone = apart('alone', path)
    const ours = apart('ours', path)
    console.log(
      `  read                         ${(ours.ms / 1000).toFixed(1)} s   ${(ours.ms / alone.ms).toFixed(2)} × unzipping and the XML parser alone (${(alone.ms / 1000).toFixed(1)} s)`,
    )
    console.log(
      `  peak memory of reading       ${Math.round(ours.mb)} MB   ${(ours.mb / 500).toFixed(2)} × of what is asked (parser alone ${Math.round(alone.mb)} MB)`,
    )
  } finally {
    rmSync(folder, { recursive: true })
  }
}

/** A painted table of many rows, and the demo. @param {number} rows */
export async function workbookWriteBench(rows) {
  console.log(`workbook: ${rows.toLocaleString('en')} painted rows written`)
  const next = random(11)
  const lines = Array.from(
    { length: rows },
    (_, i) => `Shop ${i},${(next() * 900).toFixed(2)},${(next() * 500).toFixed(2)}`,
  )
  const page = await openReport(PAINTED, { s: `shop,amount,cost\n${lines.join('\n')}\n` })
  /** @type {number[]} */
  const ratios = []
  /** @type {number[]} */
  const times = []
  for (let round = 0; round < 5; round++) {
    let start = performance.now()
    const bytes = await toOds(page)
    const own = performance.now() - start
    const content = unzipSync(bytes)['content.xml']
    start = performance.now()
    zipSync({ 'content.xml': content })
    const alone = performance.now() - start
    if (round === 0) continue
    times.push(own)
    ratios.push(own / alone)
  }
  const middle = (/** @type {number[]} */ list) => [...list].sort((a, b) => a - b)[list.length >> 1]
  console.log(
    `  written                      ${(middle(times) / 1000).toFixed(1)} s   ${middle(ratios).toFixed(2)} × zipping the same text`,
  )
  const demo = await openReportFile(fileURLToPath(new URL('../examples/brezal/spring.acuarela.yaml', import.meta.url)))
  const start = performance.now()
  await toOds(demo)
  const ms = performance.now() - start
  console.log(
    `  the demo report written      ${(ms / 1000).toFixed(2)} s   ${(ms / 2000).toFixed(2)} × of what is asked`,
  )
}

const PAINTED = `title: t
sources: { s: { file: s.csv } }
measures:
  revenue: { formula: sum(amount), format: money EUR 2 }
  cost: { formula: sum(cost), format: money EUR 2 }
  gap: { formula: revenue - cost, format: money EUR 0 signed }
statuses:
  ahead: { label: Ahead, verdict: good, wash: aqua, icon: tick }
  behind: { label: Behind, verdict: bad, wash: coral, icon: cross }
rules:
  - { paint: revenue, bands: [{ atLeast: 450, status: ahead }, { otherwise: behind }] }
  - { paint: gap, gradient: { ramp: aqua } }
exhibits: [{ table: { rows: shop, show: [revenue, cost, gap] } }]
`

const [, script, what, path] = process.argv
if (script === fileURLToPath(import.meta.url) && (what === 'ours' || what === 'alone')) await once(what, path)
