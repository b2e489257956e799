// @ts-check
/**
 * The workbench in Chromium: what it transfers until the demo is painted and a rule can be
 * selected, how long a dragged limit takes to the screen over the demo's 28,000 rows, beside a page
 * by hand that recolours as many cells, how long the main thread is blocked while a formula is
 * typed, and a report of 200 rules and 50 exhibits.
 */

import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import { extname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { gzipSync } from 'node:zlib'
import { chromium } from 'playwright-core'
import { BROWSER_FLAGS, findBrowser } from '../scripts/browser.js'

const PAGE = fileURLToPath(new URL('../dist/workbench-page', import.meta.url))
const TYPES = /** @type {Record<string, string>} */ ({
  '.html': 'text/html',
  '.js': 'text/javascript',
  '.css': 'text/css',
})

/** A file server that compresses, as one on the web does. */
async function served() {
  const server = createServer((request, response) => {
    const path = request.url === '/' ? '/index.html' : (request.url ?? '')
    try {
      const bytes = gzipSync(readFileSync(join(PAGE, path)))
      response.writeHead(200, { 'content-type': TYPES[extname(path)] ?? 'text/plain', 'content-encoding': 'gzip' })
      response.end(bytes)
    } catch {
      response.writeHead(404).end()
    }
  })
  await new Promise((done) => server.listen(0, '127.0.0.1', () => done(undefined)))
  const address = server.address()
  return { server, url: `http://127.0.0.1:${typeof address === 'object' ? address?.port : ''}/` }
}

/** @param {number[]} times @param {number} share */
function at(times, share) {
  const sorted = [...times].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]
}

/** The shape of a rule that a page by hand recolours: as many cells, a limit that moves. */
const BY_HAND = `<!doctype html><table id="t"></table><script>
const cells = []
for (let r = 0; r < 60; r++) { const row = t.insertRow(); for (let c = 0; c < 6; c++) { const cell = row.insertCell(); cell.textContent = r * 6 + c; cells.push(cell) } }
window.move = (limit) => new Promise((done) => { for (const cell of cells) cell.style.background = +cell.textContent >= limit ? '#a7e5e4' : '#f4a19e'; requestAnimationFrame(() => requestAnimationFrame(done)) })
</script>`

/** @param {import('playwright-core').Page} page */
async function painted(page) {
  await page.locator('html[data-ready=yes]').waitFor()
  await page.locator('.report .main:not([aria-busy=true])').waitFor()
}

/**
 * The time of each step from the pointer to a page that shows it.
 * @param {import('playwright-core').Page} page @param {number} steps
 */
async function dragged(page, steps) {
  const rule = page
    .getByRole('region', { name: 'Rules', exact: true })
    .getByRole('button', { name: /^Against the target/ })
  await rule.click()
  const handle = page.locator('.plot .handle:not(.fixed)').first()
  if ((await handle.count()) === 0) {
    await page
      .getByRole('region', { name: 'Rules', exact: true })
      .getByRole('button', { name: /^Against the month target/ })
      .click()
    await handle.waitFor()
  }
  await page.waitForTimeout(1500)
  await handle.scrollIntoViewIfNeeded()
  const box = await handle.boundingBox()
  if (box === null) throw new Error('no handle')
  const [x, y] = [box.x + box.width / 2, box.y + 20]
  await page.mouse.move(x, y)
  await page.mouse.down()
  // From the question with the newest place of the pointer to the frame that shows its answer.
  await page.evaluate(() => {
    const shadow = /** @type {HTMLElement} */ (document.querySelector('.report .page > div')).shadowRoot
    const main = /** @type {Element} */ (shadow?.querySelector('.main'))
    const log = /** @type {{ times: number[] }} */ (Object.assign(window, { bench: { times: [] } }).bench)
    let asked = 0
    new MutationObserver((list) => {
      if (asked === 0 || list.every(({ attributeName }) => attributeName === 'aria-busy')) return
      const since = asked
      asked = 0
      requestAnimationFrame(() => setTimeout(() => log.times.push(performance.now() - since)))
    }).observe(main, { attributes: true, childList: true, characterData: true, subtree: true })
    const post = MessagePort.prototype.postMessage
    MessagePort.prototype.postMessage = function (/** @type {any} */ message, /** @type {any} */ passed) {
      if (message?.request?.call === 'answer') asked = performance.now()
      return post.call(this, message, passed)
    }
  })
  // As a hand does: it moves on while the page follows.
  for (let i = 1; i <= steps * 4; i++) {
    await page.mouse.move(x + 60 * Math.sin(i / 9), y)
    await page.waitForTimeout(12)
  }
  await page.mouse.up()
  return page.evaluate(
    () => /** @type {{ bench: { times: number[] } }} */ (/** @type {unknown} */ (window)).bench.times,
  )
}

/**
 * The longest task of the main thread while something is done.
 * @param {import('playwright-core').Page} page @param {() => Promise<void>} act
 */
async function longest(page, act) {
  await page.evaluate(() => {
    const found = /** @type {{ tasks: number[] }} */ (Object.assign(window, { tasks: /** @type {number[]} */ ([]) }))
    new PerformanceObserver((list) => found.tasks.push(...list.getEntries().map(({ duration }) => duration))).observe({
      entryTypes: ['longtask'],
    })
  })
  await act()
  return page.evaluate(() => Math.max(0, .../** @type {{ tasks: number[] }} */ (/** @type {unknown} */ (window)).tasks))
}

/**
 * A report of many rules and exhibits over the demo's data.
 * @param {number} rules @param {number} exhibits
 */
function largeReport(rules, exhibits) {
  const spring = readFileSync(new URL('../examples/brezal/spring.acuarela.yaml', import.meta.url), 'utf8')
  const head = spring.slice(0, spring.indexOf('\nrules:'))
  const rows = ['shop', 'line', 'month', 'region', 'channel']
  return `${head.replace(/\nstrip:.*|\nfilters:.*/g, '')}
rules:
${Array.from({ length: rules }, (_, i) => `  - { paint: revenue, only: [e${i % exhibits}], bands: [{ atLeast: ${1000 * (i + 1)}, status: ahead }, { atLeast: ${700 * (i + 1)}, status: close }] }`).join('\n')}
exhibits:
${Array.from({ length: exhibits }, (_, i) => `  - { name: e${i}, table: { rows: ${rows[i % rows.length]}, show: [revenue, margin] } }`).join('\n')}
`
}

/** @param {string} name @param {string} own @param {number} ratio */
function tell(name, own, ratio, what = 'of what is asked') {
  console.log(`  ${name.padEnd(44)} ${own.padStart(22)}   ${ratio.toFixed(2)} × ${what}`)
}

export async function workbenchBench(steps = 60) {
  console.log('workbench: the page in Chromium')
  const { server, url } = await served()
  const executablePath = findBrowser()
  if (executablePath === undefined) throw new Error('no Chromium found; set ACUARELA_BROWSER')
  const browser = await chromium.launch({ executablePath, args: BROWSER_FLAGS })
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    // What the worker loads is not in the network log of its page: the server counts all.
    let sent = 0
    server.prependListener('request', (_, response) => {
      const end = response.end.bind(response)
      response.end = /** @type {typeof response.end} */ (
        (/** @type {Buffer} */ chunk) => {
          sent += chunk?.length ?? 0
          return end(chunk)
        }
      )
    })
    await page.goto(url)
    await painted(page)
    await page.locator('.rules button.rule').first().waitFor()
    const total = sent
    tell('gzip bytes until a rule can be selected', `${(total / 1000).toFixed(0)} kB`, total / 350_000)
    await page.waitForTimeout(3000)
    const times = await dragged(page, steps)
    const hand = await browser.newPage()
    await hand.setContent(BY_HAND)
    /** @type {number[]} */
    const rival = []
    for (let i = 0; i < steps; i++)
      rival.push(
        await hand.evaluate(
          async (limit) => {
            const start = performance.now()
            await /** @type {{ move(limit: number): Promise<void> }} */ (/** @type {unknown} */ (window)).move(limit)
            return performance.now() - start
          },
          (i * 37) % 360,
        ),
      )
    await hand.close()
    tell('a limit dragged, median', `${at(times, 0.5).toFixed(0)} ms`, at(times, 0.5) / 100)
    tell('a limit dragged, 95th percentile', `${at(times, 0.95).toFixed(0)} ms`, at(times, 0.95) / 200)
    tell(
      'a limit dragged, median',
      `${at(rival, 0.5).toFixed(0)} ms by hand`,
      at(times, 0.5) / at(rival, 0.5),
      'a page by hand',
    )
    // The page rests after a drag before its controls are made anew.
    await page.waitForTimeout(2500)
    await page.locator('[data-part="measures.gap"]').click()
    const formula = page.locator(`[data-path='["measures","gap","formula"]'] input`)
    await formula.waitFor()
    const task = await longest(page, async () => {
      await formula.fill('')
      await formula.pressSequentially('sum(amount) - sum(budget.amount)', { delay: 40 })
      await formula.press('Enter')
      await page.waitForTimeout(1500)
    })
    tell('the longest task while a formula is typed', `${task.toFixed(0)} ms`, task / 50)
    const data = ['sales', 'budget', 'shops'].map((name) => ({
      name: `${name}.csv`,
      mimeType: 'text/csv',
      buffer: readFileSync(new URL(`../examples/brezal/${name}.csv`, import.meta.url)),
    }))
    const text = largeReport(200, 50)
    const start = performance.now()
    await page
      .getByLabel('Files', { exact: true })
      .setInputFiles([{ name: 'large.acuarela.yaml', mimeType: 'text/yaml', buffer: Buffer.from(text) }, ...data])
    await page.locator('.brand', { hasText: 'large' }).waitFor()
    await painted(page)
    const opened = performance.now() - start
    await page.locator('[data-part="parameters.slack"]').waitFor()
    const rule = page.locator('.rules button.rule').nth(3)
    await rule.click()
    const limit = page.locator(`[data-path='["rules",3,"bands",0,"atLeast"]'] input`)
    await limit.waitFor()
    const edited = performance.now()
    await limit.fill('5000')
    await limit.press('Enter')
    await page.locator('.brand', { hasText: 'not saved' }).waitFor()
    await painted(page)
    const took = performance.now() - edited
    tell('200 rules and 50 exhibits: opened', `${opened.toFixed(0)} ms`, opened / 5000, 'of five seconds')
    tell('200 rules and 50 exhibits: a limit typed', `${took.toFixed(0)} ms`, took / 1000, 'of a second')
  } finally {
    await browser.close()
    server.close()
  }
}
