// @ts-check
/** Makes the pictures in docs/screenshots/ anew, from the demo data: `npm run screenshots`. */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { chromium } from 'playwright-core'
import { build, preview } from 'vite'
import { BROWSER_FLAGS, findBrowser } from './browser.js'

const root = fileURLToPath(new URL('..', import.meta.url))
const shots = join(root, 'docs/screenshots')
const made = mkdtempSync(join(tmpdir(), 'acuarela-'))
const executablePath = findBrowser()
if (executablePath === undefined) throw new Error('no Chromium found; set ACUARELA_BROWSER')

execFileSync(process.execPath, [join(root, 'dist/cli/bin.js'), 'demo', '--quiet', '--out', made])
const tool = (/** @type {string[]} */ ...args) =>
  execFileSync(process.execPath, [join(root, 'dist/cli/bin.js'), ...args], {
    cwd: made,
    stdio: ['ignore', 'ignore', 'ignore'],
  })
tool('sketch', 'sales.csv', 'budget.csv', '--out', 'sketch.acuarela.yaml')
tool('paint', 'sketch.acuarela.yaml', '--out', 'sketch.html')
for (const name of ['footfall', 'prices'])
  tool('paint', join(root, `examples/brezal/${name}.acuarela.yaml`), '--out', join(made, `${name}.html`))
const app = join(root, 'examples/first-paint')
const configFile = join(app, 'vite.config.ts')
await build({ root: app, configFile, logLevel: 'error' })
const server = await preview({ root: app, configFile, logLevel: 'error', preview: { port: 0, host: '127.0.0.1' } })
const address = server.httpServer.address()
const port = typeof address === 'object' && address !== null ? address.port : 0

const browser = await chromium.launch({ executablePath, args: BROWSER_FLAGS })
/** @param {string} url @param {string} name @param {{ fullPage?: boolean, target?: string }} [options] */
async function shoot(url, name, { fullPage = false, target } = {}) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await page.goto(url)
  if (target !== undefined) await page.getByLabel('Shop target').fill(target)
  await page.waitForTimeout(300)
  await page.screenshot({ path: join(shots, name), fullPage })
  await page.close()
}
await shoot(pathToFileURL(join(made, 'spring.html')).href, 'demo-page.png', { fullPage: true })
await shoot(pathToFileURL(join(made, 'sketch.html')).href, 'sketch-page.png', { fullPage: true })
await shoot(pathToFileURL(join(made, 'footfall.html')).href, 'footfall-page.png', { fullPage: true })
await shoot(pathToFileURL(join(made, 'prices.html')).href, 'prices-page.png')
await shoot(`http://127.0.0.1:${port}/`, 'first-paint.png', { target: '70000' })
await browser.close()
await server.close()
rmSync(made, { recursive: true })
