// @ts-check
/**
 * A live page in Chromium: how long until a moved slider is on screen, beside a page written by
 * hand that does no more than recolour its cells; and how smoothly a long table scrolls.
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { chromium } from 'playwright-core'
import { BROWSER_FLAGS, findBrowser } from '../scripts/browser.js'
import { random } from './random.js'

const BIN = fileURLToPath(new URL('../dist/cli/acuarela.js', import.meta.url))

const REPORT = `title: Every plant on its own
locale: en-GB
sources: {sales: {file: sales.csv}}
measures:
  revenue: {formula: sum(amount), format: money EUR 0, better: higher}
  plan: {formula: sum(planned), format: money EUR 0}
  margin: {formula: (revenue - spent) / revenue, format: percent 1}
  spent: {formula: sum(cost)}
  pieces: {formula: sum(quantity), format: number 0}
parameters:
  target: {label: Plant target, value: 600, from: 0, to: 1200, step: 10, format: money EUR 0}
statuses:
  ahead: {label: On target, wash: aqua, icon: tick}
  close: {label: Near target, wash: straw, icon: dash}
  behind: {label: Behind, wash: coral, icon: cross}
rules:
  - name: target
    paint: revenue
    bands: [{atLeast: target, status: ahead}, {atLeast: 80% of target, status: close}, {otherwise: behind}]
  - name: margin
    paint: margin
    gradient: {ramp: [coral, paper, aqua], middle: median(value)}
  - name: pieces
    paint: pieces
    bar: {color: stone}
exhibits:
  - name: plants
    title: Plants
    table: {rows: plant, show: [revenue, plan, margin, pieces], totals: {rows: top}}
`

/** @param {number} rows */
function sales(rows) {
  const next = random(5)
  const lines = ['plant,amount,planned,cost,quantity']
  for (let i = 0; i < rows; i++) {
    const amount = 1200 * next()
    lines.push(
      [`Plant ${String(i + 1).padStart(6, '0')}`, amount, 600, amount * (0.3 + 0.5 * next()), 200 * next()]
        .map((v) => (typeof v === 'number' ? Math.round(100 * v) / 100 : v))
        .join(','),
    )
  }
  return `${lines.join('\n')}\n`
}

/** @param {number[]} list @param {number} share */
const quantile = (list, share) =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))]

/**
 * A page by hand that does the least that can be done: it decides every cell in a loop, counts, and
 * writes the rows in sight.
 * @param {string} csv
 */
function byHand(csv) {
  return `<!doctype html><meta charset="utf-8"><style>.long{overflow:auto;height:736px}td{text-align:right}td>span{display:block;padding:6px 14px}tr{height:32px}
.l0{background:#d3efe2}.l1{background:#f6e3b4}.l2{background:#f3b8a5}${Array.from({ length: 256 }, (_, i) => `.m${i}{background:rgb(${i},200,${255 - i})}`).join('')}</style>
<main><div class="tools"><input type="range" min="0" max="1200" step="10" value="600"><p></p></div><div class="long"><table><tbody></tbody></table></div></main>
<script type="text/plain" id="csv">${csv}</script><script>
const rows = document.getElementById('csv').textContent.trim().split('\\n').slice(1).map((line) => line.split(','))
const n = rows.length, values = [1, 2, 3, 4].map((c) => Float64Array.from(rows, (row) => Number(row[c])))
const margin = Float64Array.from(values[0], (v, i) => (v - values[2][i]) / v), sorted = Float64Array.from(margin).sort()
const middle = sorted[n >> 1], low = sorted[0], high = sorted[n - 1], bands = new Uint8Array(n), shades = new Uint8Array(n)
const box = document.querySelector('.long'), body = document.querySelector('tbody'), slider = document.querySelector('input')
const money = new Intl.NumberFormat('en-GB', { style: 'currency', currency: 'EUR', maximumFractionDigits: 0 })
const percent = new Intl.NumberFormat('en-GB', { style: 'percent', minimumFractionDigits: 1 })
function decide() {
  const target = Number(slider.value), counts = [0, 0, 0]
  for (let i = 0; i < n; i++) {
    const v = values[0][i]
    bands[i] = v >= target ? 0 : v >= 0.8 * target ? 1 : 2
    counts[bands[i]]++
    const m = margin[i]
    shades[i] = Math.round(255 * (m < middle ? (0.5 * (m - low)) / (middle - low) : 0.5 + (0.5 * (m - middle)) / (high - middle)))
  }
  document.querySelector('p').textContent = counts.join(' ')
}
function draw() {
  const from = Math.max(0, Math.floor(box.scrollTop / 32) - 3), to = Math.min(n, from + 30)
  let out = '<tr style="height:' + from * 32 + 'px"></tr>'
  for (let i = from; i < to; i++)
    out += '<tr><th><span>' + rows[i][0] + '</span></th><td><span class="l' + bands[i] + '">' + money.format(values[0][i]) + '</span></td><td><span>' + money.format(values[1][i]) + '</span></td><td><span class="m' + shades[i] + '">' + percent.format(margin[i]) + '</span></td><td><span>' + Math.round(values[3][i]) + '</span></td></tr>'
  body.innerHTML = out + '<tr style="height:' + (n - to) * 32 + 'px"></tr>'
}
slider.addEventListener('input', () => { decide(); draw() })
box.addEventListener('scroll', draw)
decide()
draw()
</script>`
}

/** @param {number} [cells] @param {number} [rows] @param {number} [moves] */
export async function liveBench(cells = 20_000, rows = 100_000, moves = 31) {
  const executablePath = findBrowser()
  if (executablePath === undefined) throw new Error('no Chromium found: set ACUARELA_BROWSER')
  const folder = mkdtempSync(join(tmpdir(), 'acuarela-bench-'))
  const browser = await chromium.launch({ executablePath, args: BROWSER_FLAGS })
  /** @param {number} count @param {boolean} withWorker */
  const open = async (count, withWorker) => {
    const csv = sales(count)
    const html = join(folder, withWorker ? 'report.html' : 'hand.html')
    if (withWorker) {
      writeFileSync(join(folder, 'report.acuarela.yaml'), REPORT)
      writeFileSync(join(folder, 'sales.csv'), csv)
      execFileSync(process.execPath, [BIN, 'paint', join(folder, 'report.acuarela.yaml'), '--out', html, '--quiet'])
    } else writeFileSync(html, byHand(csv))
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const start = performance.now()
    await page.goto(pathToFileURL(html).href)
    await page.locator('.tools').waitFor()
    await page.waitForFunction(() => document.querySelector('[aria-busy=true]') === null)
    const alive = performance.now() - start
    // Collects garbage, so that loading does not slow down what is timed.
    await page.waitForTimeout(500)
    return { page, alive }
  }
  /**
   * @template T
   * @param {number} count
   * @param {(page: import('playwright-core').Page) => Promise<T>} run
   */
  const both = async (count, run) => {
    const times = []
    for (const isOwn of [true, false]) {
      const { page, alive } = await open(count, isOwn)
      times.push({ alive, got: await run(page) })
      await page.close()
    }
    return times
  }
  try {
    const sliders = await both(cells / 4, (page) => page.evaluate(slider, moves))
    console.log(`a slider moved over ${cells.toLocaleString('en')} cells in Chromium, ${moves} moves`)
    tell(
      sliders.map(({ got }) => got),
      0.5,
      (list) => `95th percentile ${quantile(list, 0.95).toFixed(0)} ms`,
    )
    const scrolls = await both(rows, (page) => page.evaluate(scroll, 120))
    console.log(`${rows.toLocaleString('en')} rows scrolled in Chromium, a frame at the 95th percentile`)
    tell(
      scrolls.map(({ got }) => got.frames),
      0.95,
      (_, k) => `longest script task ${scrolls[k].got.task.toFixed(0)} ms`,
    )
    console.log(
      `  the page is alive after ${scrolls[0].alive.toFixed(0)} ms, that by hand after ${scrolls[1].alive.toFixed(0)} ms`,
    )
  } finally {
    await browser.close()
    rmSync(folder, { recursive: true, force: true })
  }
}

/**
 * @param {number[][]} lists
 * @param {number} share
 * @param {(list: number[], k: number) => string} more
 */
function tell(lists, share, more) {
  const [percentile, hand] = lists.map((list) => quantile(list, share))
  console.log(
    `  acuarela                     ${percentile.toFixed(1).padStart(9)} ms   ${(percentile / hand).toFixed(2)} × a page by hand; ${more(lists[0], 0)}`,
  )
  console.log(`  a page by hand               ${hand.toFixed(1).padStart(9)} ms   the measure; ${more(lists[1], 1)}`)
}

/** In the page: moves the slider, and waits until what follows is drawn. @param {number} moves */
async function slider(moves) {
  const slider = /** @type {HTMLInputElement} */ (document.querySelector('.tools [type=range]'))
  const drawn = () =>
    new Promise((resolve) =>
      requestAnimationFrame(() => {
        const { port1, port2 } = new MessageChannel()
        port1.onmessage = resolve
        port2.postMessage(0)
      }),
    )
  const times = []
  // The first moves warm up and do not count.
  for (let i = -5; i < moves; i++) {
    await drawn()
    const start = performance.now()
    slider.value = String(300 + (((i + 5) * 70) % 600))
    slider.dispatchEvent(new Event('input', { bubbles: true }))
    while (document.querySelector('main[aria-busy=true]') !== null) await new Promise((next) => setTimeout(next))
    await drawn()
    if (i >= 0) times.push(performance.now() - start)
  }
  return times
}

/**
 * In the page: scrolls the table in small steps and now and then far, a step a frame.
 * @param {number} steps
 */
async function scroll(steps) {
  const box = /** @type {HTMLElement} */ (document.querySelector('.long'))
  const far = box.scrollHeight / 12
  let task = 0
  // The scripts of a frame, with the layout that they cause.
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries())
      for (const { duration } of /** @type {any} */ (entry).scripts) task = Math.max(task, duration)
  }).observe({ type: 'long-animation-frame' })
  const frames = []
  let at = 0
  let last = await new Promise(requestAnimationFrame)
  for (let i = 0; i < steps; i++) {
    at += i % 10 === 9 ? far : 240
    box.scrollTop = at
    const now = await new Promise(requestAnimationFrame)
    frames.push(now - last)
    last = now
  }
  await new Promise((next) => setTimeout(next, 200))
  return { frames, task }
}
