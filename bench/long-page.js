// @ts-check
/**
 * A page of 100,000 rows and six measures with statuses in Chromium: its bytes, and the time from
 * navigation until a moved target shows its counts, beside a page by hand that does the least for
 * the same rules: the same columns as bytes, a loop for each decision, the rows in sight.
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { deflateRawSync } from 'node:zlib'
import { chromium } from 'playwright-core'
import { build } from 'vite'
import { BROWSER_FLAGS, findBrowser } from '../scripts/browser.js'
import { random } from './random.js'

const BIN = fileURLToPath(new URL('../dist/cli/acuarela.js', import.meta.url))
const MEASURES = ['amount', 'cost', 'pieces', 'orders', 'rating', 'stock']
/** The goals: bytes, and times a page by hand. */
const MOST_BYTES = 4_000_000
const MOST_TIMES = 1.3

const STATUSES = {
  good: { wash: 'aqua', icon: 'tick' },
  fair: { wash: 'straw', icon: 'dash' },
  bad: { wash: 'coral', icon: 'cross' },
}
const BANDS = [
  { atLeast: 'target', status: 'good' },
  { atLeast: '50% of target', status: 'fair' },
  { otherwise: 'bad' },
]
const RULES = MEASURES.map((name) => ({ name: `${name}Rule`, paint: name, bands: BANDS }))
const REPORT = `title: Every plant
sources: { s: { file: p.csv } }
parameters: { target: { value: 500, from: 100, to: 900, step: 10 } }
measures: { ${MEASURES.map((name) => `${name}: sum(${name})`).join(', ')} }
statuses: ${JSON.stringify(STATUSES)}
rules: ${JSON.stringify(RULES)}
exhibits:
  - { name: plants, table: { rows: plant, show: [${MEASURES.join(', ')}], totals: bottom } }
`

/** @param {number} rows */
function table(rows) {
  const next = random(3)
  const scales = [1000, 600, 300, 40, 5, 900]
  const names = Array.from({ length: rows }, (_, i) => `Plant ${String(i).padStart(6, '0')}`)
  const columns = scales.map((scale, c) =>
    Float64Array.from({ length: rows }, () => Math.round(next() * scale * (c < 2 ? 100 : 1)) / (c < 2 ? 100 : 1)),
  )
  return { names, columns }
}

/**
 * The columns as whole hundredths and the names, compressed.
 * @param {ReturnType<typeof table>} data
 */
function packed({ names, columns }) {
  const bytes = Buffer.concat([
    Buffer.from(Uint32Array.of(names.length).buffer),
    ...columns.map((column) => Buffer.from(Int32Array.from(column, (x) => Math.round(x * 100)).buffer)),
    Buffer.from(JSON.stringify(names)),
  ])
  return deflateRawSync(bytes, { level: 9 }).toString('base64')
}

/** What both pages by hand begin with. @param {ReturnType<typeof table>} data */
const start = (data) =>
  `<!doctype html><meta charset="utf-8"><style>.long{overflow:auto;height:736px}td{text-align:right}td>span{display:block;padding:6px 14px}tr{height:32px}.good,.l0{background:#a7e5e4}.fair,.l1{background:#f1f8ba}.bad,.l2{background:#f4a19e}</style>
<main><div class="tools"><input disabled type="range" min="100" max="900" step="10" value="500"><p class="counts"></p></div><div class="long"><table><tbody></tbody></table></div></main>
<script type="application/octet-stream" id="data">${packed(data)}</script>`

/** @param {ReturnType<typeof table>} data */
async function leanPage(data) {
  const [bundle] = /** @type {{ output: { code: string }[] }[]} */ (
    await build({
      configFile: false,
      logLevel: 'error',
      build: {
        write: false,
        minify: true,
        lib: { entry: fileURLToPath(new URL('./lean-page.js', import.meta.url)), formats: ['es'] },
      },
    })
  )
  const labels = { good: 'good', fair: 'fair', bad: 'bad' }
  const report = { names: MEASURES, target: 500, rules: RULES, statuses: STATUSES, labels }
  return `${start(data)}<script type="application/json" id="report">${JSON.stringify(report)}</script><script type="module">${bundle.output[0].code.replaceAll('</script', '<\\/script')}</script>`
}

/** @param {ReturnType<typeof table>} data */
function leastPage(data) {
  return `${start(data)}<script>
const n = ${data.names.length}, m = ${data.columns.length}, print = new Intl.NumberFormat('en', { maximumFractionDigits: 2 })
const box = document.querySelector('.long'), body = document.querySelector('tbody'), input = document.querySelector('input')
const bands = Array.from({ length: m }, () => new Uint8Array(n))
let values, names, before
function decide() {
  const target = Number(input.value) * 100, counts = [0, 0, 0]
  for (let c = 0; c < m; c++) for (let i = 0, v = values[c], b = bands[c]; i < n; i++) { const k = v[i] >= target ? 0 : v[i] >= target / 2 ? 1 : 2; b[i] = k; if (c === 0) counts[k]++ }
  if (before !== undefined) document.querySelector('.counts').textContent = counts.map((x, k) => before[k] + ' → ' + x).join(', ')
  before ??= counts
}
function draw() {
  const from = Math.max(0, Math.floor(box.scrollTop / 32) - 3), to = Math.min(n, from + 30)
  let out = '<tr style="height:' + from * 32 + 'px"></tr>'
  for (let i = from; i < to; i++) { out += '<tr><th>' + names[i] + '</th>'; for (let c = 0; c < m; c++) out += '<td><span class="l' + bands[c][i] + '">' + print.format(values[c][i] / 100) + '</span></td>'; out += '</tr>' }
  body.innerHTML = out + '<tr style="height:' + (n - to) * 32 + 'px"></tr>'
}
(async () => {
  const text = atob(document.getElementById('data').textContent), packed = new Uint8Array(text.length)
  for (let i = 0; i < packed.length; i++) packed[i] = text.charCodeAt(i)
  const bytes = new Uint8Array(await new Response(new Blob([packed]).stream().pipeThrough(new DecompressionStream('deflate-raw'))).arrayBuffer())
  values = Array.from({ length: m }, (_, c) => new Int32Array(bytes.buffer, 4 + 4 * n * c, n))
  names = JSON.parse(new TextDecoder().decode(bytes.subarray(4 + 4 * n * m)))
  input.addEventListener('input', () => { decide(); draw() })
  box.addEventListener('scroll', draw)
  decide()
  draw()
  input.disabled = false
})()
</script>`
}

/** @param {number} [rows] @param {number} [runs] */
export async function longPageBench(rows = 100_000, runs = 9) {
  const executablePath = findBrowser()
  if (executablePath === undefined) throw new Error('no Chromium found: set ACUARELA_BROWSER')
  const folder = mkdtempSync(join(tmpdir(), 'acuarela-bench-'))
  const browser = await chromium.launch({ executablePath, args: BROWSER_FLAGS })
  try {
    const data = table(rows)
    const lines = data.names.map((name, i) => `${name},${data.columns.map((column) => column[i]).join(',')}`)
    writeFileSync(join(folder, 'p.csv'), `plant,${MEASURES.join(',')}\n${lines.join('\n')}\n`)
    writeFileSync(join(folder, 'r.acuarela.yaml'), REPORT)
    const files = ['own', 'lean', 'least'].map((name) => join(folder, `${name}.html`))
    execFileSync(process.execPath, [BIN, 'paint', join(folder, 'r.acuarela.yaml'), '--out', files[0], '--quiet'])
    writeFileSync(files[1], await leanPage(data))
    writeFileSync(files[2], leastPage(data))
    /** @type {number[][]} */
    const times = files.map(() => [])
    /** @type {number[][]} */
    const heard = files.map(() => [])
    for (let run = 0; run < runs; run++)
      for (const [k, file] of files.entries()) {
        const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
        await page.addInitScript(moveOnce)
        await page.goto(pathToFileURL(file).href)
        await page.waitForFunction(() => 'shown' in window, null, { timeout: 120_000 })
        const noted = await page.evaluate(() => {
          const { shown, moved } = /** @type {any} */ (window)
          return [Number(shown), Number(moved)]
        })
        times[k].push(noted[0])
        heard[k].push(noted[1])
        await page.close()
      }
    const middle = (/** @type {number[]} */ list) => [...list].sort((a, b) => a - b)[list.length >> 1]
    const medians = times.map(middle)
    console.log(`a page of ${rows.toLocaleString('en')} rows × 6 measures, from navigation to the first changed count`)
    const line = (/** @type {string} */ name, /** @type {number} */ k, /** @type {string} */ said, goal = '') =>
      console.log(
        `  ${name.padEnd(28)} ${medians[k].toFixed(0).padStart(9)} ms   ${said}; its control is heard after ${middle(heard[k]).toFixed(0)} ms; ${(statSync(files[k]).size / 1e6).toFixed(2)} MB${goal}`,
      )
    line(
      'acuarela',
      0,
      `${(medians[0] / medians[1]).toFixed(2)} × a lean page by hand (goal: ${MOST_TIMES})`,
      ` (goal: ${MOST_BYTES / 1e6})`,
    )
    line('a lean page by hand', 1, 'the measure: the library’s painter and a windowed table')
    line('the least page by hand', 2, 'a loop with the limits written into it')
  } finally {
    await browser.close()
    rmSync(folder, { recursive: true, force: true })
  }
}

/** In the page: moves the target as soon as that is heard; notes the frame with the counts. */
function moveOnce() {
  const shown = () => {
    if (!/→/.test(document.querySelector('.counts')?.textContent ?? '')) requestAnimationFrame(shown)
    else Object.assign(window, { shown: performance.now() })
  }
  const move = () => {
    const input = /** @type {HTMLInputElement | null} */ (document.querySelector('.tools input[type=range]'))
    if (input === null || input.disabled) return setTimeout(move, 4)
    Object.assign(window, { moved: performance.now() })
    input.value = '600'
    input.dispatchEvent(new Event('input', { bubbles: true }))
    requestAnimationFrame(shown)
  }
  move()
}
