// @ts-check
/**
 * A live page in Chromium: how long until a moved dial is on screen, beside a page written by hand that does no more than recolour its
 * cells; and how smoothly a long table scrolls.
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { chromium } from 'playwright-core'
import { BROWSER_FLAGS, findBrowser } from '../scripts/browser.js'
import { random } from './random.js'

const BIN = fileURLToPath(new URL('../dist/cli/bin.js', import.meta.url))

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
  ahead: {label: On target, wash: leaf, icon: tick}
  close: {label: Near target, wash: ochre, icon: dash}
  behind: {label: Behind, wash: clay, icon: cross}
rules:
  - name: target
    paint: revenue
    bands: [{atLeast: target, status: ahead}, {atLeast: 80% of target, status: close}, {otherwise: behind}]
  - name: margin
    paint: margin
    gradient: {ramp: [clay, paper, leaf], middle: median(value)}
  - name: pieces
    paint: pieces
    bar: {wash: pebble}
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

/** @param {number} [cells] @param {number} [rows] @param {number} [moves] */
export async function liveBench(cells = 20_000, rows = 100_000, moves = 31) {
  const executablePath = findBrowser()
  if (executablePath === undefined) throw new Error('no Chromium found: set ACUARELA_BROWSER')
  const folder = mkdtempSync(join(tmpdir(), 'acuarela-bench-'))
  const browser = await chromium.launch({ executablePath, args: BROWSER_FLAGS })
  try {
    /** @param {number} count */
    const open = async (count) => {
      writeFileSync(join(folder, 'report.acuarela.yaml'), REPORT)
      writeFileSync(join(folder, 'sales.csv'), sales(count))
      const html = join(folder, 'report.html')
      execFileSync(process.execPath, [BIN, 'paint', join(folder, 'report.acuarela.yaml'), '--out', html, '--quiet'])
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
      const start = performance.now()
      await page.goto(pathToFileURL(html).href)
      await page.locator('.tools').waitFor()
      return { page, alive: performance.now() - start }
    }
    const moved = await open(cells / 4)
    const times = await moved.page.evaluate(dial, moves)
    console.log(`a dial moved over ${cells.toLocaleString('en')} cells in Chromium, ${moves} moves`)
    console.log(
      `  on screen after              ${quantile(times, 0.5).toFixed(0).padStart(9)} ms   median; 95th percentile ${quantile(times, 0.95).toFixed(0)} ms`,
    )
    console.log(`  alive after                  ${moved.alive.toFixed(0).padStart(9)} ms`)
    await moved.page.close()
    const long = await open(rows)
    const scrolled = await long.page.evaluate(scroll, 120)
    console.log(`${rows.toLocaleString('en')} rows scrolled in Chromium`)
    console.log(
      `  a frame                      ${quantile(scrolled.frames, 0.95).toFixed(0).padStart(9)} ms   95th percentile of ${scrolled.frames.length}; longest script task ${scrolled.task.toFixed(0)} ms`,
    )
    console.log(`  alive after                  ${long.alive.toFixed(0).padStart(9)} ms`)
  } finally {
    await browser.close()
    rmSync(folder, { recursive: true, force: true })
  }
}

/** In the page: moves the slider, and waits until what follows is drawn. @param {number} moves */
async function dial(moves) {
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
  for (let i = 0; i < moves + 5; i++) {
    await drawn()
    const start = performance.now()
    slider.value = String(300 + ((i * 70) % 600))
    slider.dispatchEvent(new Event('input', { bubbles: true }))
    while (document.querySelector('main[aria-busy=true]') !== null) await new Promise((next) => setTimeout(next))
    await drawn()
    if (i >= 5) times.push(performance.now() - start)
  }
  return times
}

/** In the page: scrolls the table in large and small steps, a step a frame. @param {number} steps */
async function scroll(steps) {
  const box = /** @type {HTMLElement} */ (document.querySelector('.long'))
  let task = 0
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries()) task = Math.max(task, entry.duration)
  }).observe({ entryTypes: ['longtask'] })
  const frames = []
  let last = await new Promise(requestAnimationFrame)
  for (let i = 0; i < steps; i++) {
    box.scrollTop += i % 10 === 9 ? box.scrollHeight / 12 : 240
    const now = await new Promise(requestAnimationFrame)
    frames.push(now - last)
    last = now
  }
  await new Promise((next) => setTimeout(next, 200))
  return { frames, task }
}
