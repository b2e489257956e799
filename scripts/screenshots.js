// @ts-check
/** Makes the pictures in docs/screenshots/ again, from the demo data: `npm run screenshots`. */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { chromium } from 'playwright-core'
import { build, preview } from 'vite'
import { BROWSER_FLAGS, findBrowser } from './browser.js'

const root = fileURLToPath(new URL('..', import.meta.url))
const shots = join(root, 'docs/screenshots')
const folder = mkdtempSync(join(tmpdir(), 'acuarela-'))
const executablePath = findBrowser()
if (executablePath === undefined) throw new Error('no Chromium found; set ACUARELA_BROWSER')

execFileSync(process.execPath, [join(root, 'dist/cli/acuarela.js'), 'demo', '--quiet', '--out', folder])
const tool = (/** @type {string[]} */ ...args) =>
  execFileSync(process.execPath, [join(root, 'dist/cli/acuarela.js'), ...args], {
    cwd: folder,
    stdio: ['ignore', 'ignore', 'ignore'],
  })
tool('sketch', 'sales.csv', 'budget.csv', '--out', 'sketch.acuarela.yaml')
tool('paint', 'sketch.acuarela.yaml', '--out', 'sketch.html')
/**
 * What the tool prints, in a window as wide as a terminal.
 * @param {string} name
 * @param {string[]} args
 */
function terminal(name, ...args) {
  let text = ''
  try {
    text = execFileSync(process.execPath, [join(root, 'dist/cli/acuarela.js'), ...args, '--color'], {
      cwd: join(root, 'examples/brezal'),
      env: { ...process.env, NO_COLOR: '' },
    }).toString()
  } catch (error) {
    // Exit code 1 means findings, which are wanted here.
    text = String(/** @type {{ stdout?: Buffer }} */ (error).stdout)
  }
  const body = text
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(ESCAPES, (_, codes) => spanOf(codes))
  const prompt = `<b>$ acuarela ${args.map((arg) => (/[\s<]/.test(arg) ? `'${arg.replace(/</g, '&lt;')}'` : arg)).join(' ')}</b>\n\n`
  writeFileSync(
    join(folder, `${name}.html`),
    `<meta charset="utf-8"><style>body{margin:0;background:#fbfcfd;color:#1b2340}pre{font:14px/1.5 "DejaVu Sans Mono","Liberation Mono",monospace;padding:22px 26px;margin:0}</style><pre>${prompt}${body}</pre>`,
  )
}
// biome-ignore lint/suspicious/noControlCharactersInRegex: the escape codes of a terminal begin with one
const ESCAPES = /\u001b\[([\d;]*)m/g
/** @param {string} codes */
function spanOf(codes) {
  if (codes === '0') return '</span>'
  const style = []
  const list = codes.split(';')
  for (let i = 0; i < list.length; i++) {
    if (list[i] === '1') style.push('font-weight:700')
    if (list[i] === '2') style.push('opacity:.6')
    if (list[i] === '48' || list[i] === '38') {
      const color = `rgb(${list.slice(i + 2, i + 5).join(',')})`
      style.push(`${list[i] === '48' ? 'background' : 'color'}:${color}`)
      i += 4
    }
  }
  return `<span style="${style.join(';')}">`
}
const TERMINALS = {
  'tool-why': ['why', 'spring.acuarela.yaml', 'shops.revenue', 'shop=Larkmoor'],
  'tool-rules': ['rules', 'spring.acuarela.yaml'],
  'tool-tally': ['tally', 'spring.acuarela.yaml', '--against', 'targetLevel=125%', '--expect', 'behind <= 3'],
  'tool-rehearse': ['rehearse', 'spring.acuarela.yaml'],
  'tool-paint': ['paint', 'spring.acuarela.yaml', '--exhibit', 'shops', '--exhibit', 'lines'],
  'tool-proof': ['proof', 'careless.acuarela.yaml'],
}
for (const [name, args] of Object.entries(TERMINALS)) terminal(name, ...args)
const browser = await chromium.launch({ executablePath, args: BROWSER_FLAGS })
/**
 * @param {string} url
 * @param {string} name of the file; '' for none
 * @param {{ fullPage?: boolean, dark?: boolean, width?: number, paper?: boolean }}
 *   [options]
 */
async function shoot(url, name, { fullPage = false, dark = false, width = 1280, paper = false } = {}) {
  const page = await browser.newPage({
    // A sheet of A4 without its margins.
    viewport: paper ? { width: 688, height: 1016 } : { width, height: 800 },
    colorScheme: dark ? 'dark' : 'light',
  })
  await page.goto(url)
  if ((await page.locator('#acuarela').count()) > 0)
    await page.locator('main:not([aria-busy=true]) .exhibits').waitFor()
  if (paper) await page.emulateMedia({ media: 'print' })
  await page.waitForTimeout(300)
  const picture = await page.screenshot({ ...(name !== '' && { path: join(shots, name) }), fullPage })
  await page.close()
  return picture
}
await shoot(pathToFileURL(join(folder, 'spring.html')).href, 'demo-page.png', { fullPage: true })
await shoot(pathToFileURL(join(folder, 'spring.html')).href, 'demo-first.png')
await shoot(`${pathToFileURL(join(folder, 'spring.html')).href}#set.targetLevel=1.25`, 'demo-moved.png')
await shoot(pathToFileURL(join(folder, 'spring.html')).href, 'demo-dark.png', { dark: true })
const onPhone = await shoot(pathToFileURL(join(folder, 'spring.html')).href, '', { width: 390 })
const onPaper = await shoot(pathToFileURL(join(folder, 'spring.html')).href, '', { paper: true })
await shoot(pathToFileURL(join(folder, 'sketch.html')).href, 'sketch-page.png', { fullPage: true })
for (const name of Object.keys(TERMINALS)) await shoot(pathToFileURL(join(folder, `${name}.html`)).href, `${name}.png`)
/** The dashboard, once its reader has chosen, and why a cell of the live page looks so. */
const board = join(root, 'examples/dashboard')
const boardConfig = join(board, 'vite.config.ts')
await build({ root: board, configFile: boardConfig, logLevel: 'error' })
const boardServer = await preview({
  root: board,
  configFile: boardConfig,
  logLevel: 'error',
  preview: { port: 0, host: '127.0.0.1' },
})
const boardAddress = boardServer.httpServer.address()
const dashboard = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await dashboard.goto(
  `http://127.0.0.1:${typeof boardAddress === 'object' && boardAddress !== null ? boardAddress.port : 0}/`,
)
await dashboard.locator('html[data-ready=yes]').waitFor()
await dashboard.getByRole('button', { name: 'Bold' }).click()
await dashboard.locator('td.moved').first().waitFor()
await dashboard.screenshot({ path: join(shots, 'dashboard.png') })
const cell = dashboard.locator('section:has(#x-shops) td.moved').first()
await cell.evaluate((element) => element.scrollIntoView({ block: 'center' }))
await cell.hover()
// The trend of a cell is loaded when the pointer rests.
await dashboard.locator('.whybox svg.trend').waitFor()
await dashboard.screenshot({ path: join(shots, 'live-why.png') })
await boardServer.close()
/**
 * The workbench: as it opens, a rule with its plot, the text beside the page, as deuteranopia sees
 * it, what proof finds in a careless report, and on a phone.
 */
const bench = join(root, 'examples/workbench')
const benchServer = await preview({
  root: bench,
  configFile: join(bench, 'vite.config.ts'),
  logLevel: 'error',
  build: { outDir: join(root, 'dist/workbench-page') },
  preview: { port: 0, host: '127.0.0.1' },
})
const benchAddress = benchServer.httpServer.address()
const workbench = await browser.newPage({ viewport: { width: 1280, height: 800 } })
await workbench.goto(
  `http://127.0.0.1:${typeof benchAddress === 'object' && benchAddress !== null ? benchAddress.port : 0}/`,
)
await workbench.locator('html[data-ready=yes]').waitFor()
await workbench.locator('.report .chart svg').first().waitFor()
await workbench.getByRole('combobox', { name: 'Say a rule' }).waitFor()
await workbench.waitForTimeout(800)
await workbench.screenshot({ path: join(shots, 'workbench-first.png') })
await workbench.getByRole('button', { name: /^Against the month target/ }).click()
await workbench.getByRole('slider').first().waitFor()
await workbench.locator('.samples').waitFor()
await workbench.waitForTimeout(800)
await workbench.screenshot({ path: join(shots, 'workbench-rule.png') })
await workbench.getByRole('button', { name: 'Text', exact: true }).click()
await workbench.locator('.cm-content').waitFor()
await workbench.waitForTimeout(500)
await workbench.screenshot({ path: join(shots, 'workbench-text.png') })
await workbench.getByRole('button', { name: 'Text', exact: true }).click()
await workbench.locator('[data-part="statuses.ahead"]').evaluate((element) => {
  const section = element.closest('details')
  if (section !== null) section.open = true
})
await workbench.locator('[data-part="statuses.ahead"]').click()
await workbench.locator('.distances').waitFor()
await workbench.locator('[data-part="statuses.ahead"]').evaluate((element) => element.scrollIntoView())
await workbench.getByLabel('View as').selectOption('deuteranopia')
await workbench.waitForTimeout(500)
await workbench.screenshot({ path: join(shots, 'workbench-vision.png') })
const careless = readFileSync(join(root, 'examples/brezal/careless.acuarela.yaml'), 'utf8')
await workbench.getByLabel('View as').selectOption('as it is')
await workbench.getByLabel('Files', { exact: true }).setInputFiles([
  { name: 'careless.acuarela.yaml', mimeType: 'text/yaml', buffer: Buffer.from(careless) },
  ...[...new Set([...careless.matchAll(/file: ([\w-]+\.csv)/g)].map(([, file]) => file))].map((file) => ({
    name: file,
    mimeType: 'text/csv',
    buffer: readFileSync(join(root, 'examples/brezal', file)),
  })),
])
await workbench.locator('.brand', { hasText: 'careless' }).waitFor()
const findings = workbench.getByRole('region', { name: 'Findings' })
await findings.getByRole('button', { name: 'Fix', exact: true }).first().waitFor()
await findings.evaluate((element) => element.scrollIntoView())
await workbench.waitForTimeout(500)
await workbench.screenshot({ path: join(shots, 'workbench-findings.png') })
const phone = await browser.newPage({ viewport: { width: 390, height: 800 } })
await phone.goto(workbench.url())
await phone.locator('html[data-ready=yes]').waitFor()
await phone.getByRole('combobox', { name: 'Say a rule' }).waitFor()
await phone.waitForTimeout(500)
const benchOnPhone = await phone.screenshot()
/** Side by side, as each is narrow. */
const small = await browser.newPage({ viewport: { width: 1380, height: 824 } })
await small.setContent(
  `<body style="margin:0;padding:12px;display:flex;gap:12px;background:#dfe4ec">${[onPhone, benchOnPhone, onPaper].map((picture) => `<img height="800" src="data:image/png;base64,${picture.toString('base64')}">`).join('')}</body>`,
)
await small.screenshot({ path: join(shots, 'small.png') })
await benchServer.close()
await browser.close()
rmSync(folder, { recursive: true })
