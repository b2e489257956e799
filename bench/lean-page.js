// @ts-check
/**
 * The script of a lean page by hand, beside which the bench of long pages measures a page of the
 * tool: the same rules by the library's painter over the same columns, a total of each column, and
 * a windowed table. It has no strip, reasons, sorting, filters, links or text search.
 */
import { fromColumns, paint } from 'acuarela'

/** @type {{ names: string[], target: number, rules: (import('acuarela').RuleSpec & { paint: string })[], statuses: Record<string, import('acuarela').Status>, labels: Record<string, string> }} */
const report = JSON.parse(/** @type {string} */ (document.getElementById('report')?.textContent))
const print = new Intl.NumberFormat('en', { maximumFractionDigits: 2 })
const box = /** @type {HTMLElement} */ (document.querySelector('.long'))
const body = /** @type {HTMLElement} */ (document.querySelector('tbody'))
const input = /** @type {HTMLInputElement} */ (document.querySelector('input'))
const counted = /** @type {HTMLElement} */ (document.querySelector('.counts'))

async function read() {
  const text = atob(/** @type {string} */ (document.getElementById('data')?.textContent))
  const packed = new Uint8Array(text.length)
  for (let i = 0; i < packed.length; i++) packed[i] = text.charCodeAt(i)
  const stream = new Blob([packed]).stream().pipeThrough(new DecompressionStream('deflate-raw'))
  return new Uint8Array(await new Response(stream).arrayBuffer())
}

const bytes = await read()
const m = report.names.length
const view = new DataView(bytes.buffer)
const n = view.getUint32(0, true)
/** @type {Record<string, Float64Array>} */
const columns = {}
for (const [c, name] of report.names.entries()) {
  const cents = new Int32Array(bytes.buffer, 4 + 4 * n * c, n)
  const column = new Float64Array(n)
  for (let i = 0; i < n; i++) column[i] = cents[i] / 100
  columns[name] = column
}
/** @type {string[]} */
const plants = JSON.parse(new TextDecoder().decode(bytes.subarray(4 + 4 * n * m)))
const totals = report.names.map((name) => columns[name].reduce((sum, x) => sum + x, 0))
const values = report.names.map((name) => columns[name])

let painting = paint(fromColumns(columns), {
  parameters: { target: report.target },
  statuses: report.statuses,
  rules: report.rules,
})
/** @returns {import('acuarela').Painted[]} */
const painted = () => report.names.map((name) => /** @type {import('acuarela').Painted} */ (painting.column(name)))
let cells = painted()
const before = cells
const counts = () => painting.tally().statuses.filter(({ measure }) => measure === report.names[0])
const first = counts()

function draw() {
  const from = Math.max(0, Math.floor(box.scrollTop / 32) - 3)
  const to = Math.min(n, from + 30)
  let out = `<tr style="height:${from * 32}px"></tr>`
  for (let i = from; i < to; i++) {
    out += `<tr><th>${plants[i]}</th>`
    for (let c = 0; c < m; c++) {
      const status = String(cells[c].styles[cells[c].ids[i]].status)
      out += `<td><span class="${status}">${report.labels[status]} ${print.format(values[c][i])}</span></td>`
    }
    out += '</tr>'
  }
  out += `<tr style="height:${(n - to) * 32}px"></tr><tr><th>Total</th>`
  for (const total of totals) out += `<td>${print.format(total)}</td>`
  body.innerHTML = `${out}</tr>`
}

input.addEventListener('input', () => {
  painting = painting.repaint({ target: Number(input.value) })
  cells = painted()
  let changed = 0
  for (let c = 0; c < m; c++) {
    const [a, b] = [before[c], cells[c]]
    for (let i = 0; i < n; i++) if (a.styles[a.ids[i]].status !== b.styles[b.ids[i]].status) changed++
  }
  const now = counts()
  counted.textContent = `${now.map(({ status, count }, i) => `${status} ${first[i].count} → ${count}`).join(', ')}; ${changed} changed`
  draw()
})
box.addEventListener('scroll', draw)
draw()
input.disabled = false
