import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import axe from 'axe-core'
import type { Locator, Page } from 'playwright-core'
import { type PreviewServer, preview } from 'vite'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { useBrowser } from '../support/browser.js'
import { ROOT } from '../support/tool.js'

const browser = useBrowser()
/** Machines differ in speed: what is waited for comes in the end. */
const SOON = { timeout: 20_000 }
let server: PreviewServer | undefined
let address = ''
beforeAll(async () => {
  const root = join(ROOT, 'examples/workbench')
  // As it was built for the package.
  const build = { outDir: join(ROOT, 'dist/workbench-page') }
  const options = { root, logLevel: 'error' as const, configFile: join(root, 'vite.config.ts'), build }
  server = await preview({ ...options, preview: { port: 0, host: '127.0.0.1' } })
  const own = server.httpServer.address()
  address = `http://127.0.0.1:${typeof own === 'object' ? own?.port : ''}/`
})
afterAll(async () => server?.close())

async function opened(): Promise<{ page: Page; faults: string[] }> {
  const { page, faults } = await browser.open()
  await page.goto(address)
  await painted(page)
  return { page, faults }
}

/** The page shows what the text says. */
async function painted(page: Page): Promise<void> {
  await page.locator('html[data-ready=yes]').waitFor()
  await page.locator('.report .main:not([aria-busy=true])').waitFor()
}

const region = (page: Page, name: string): Locator => page.getByRole('region', { name, exact: true })
const button = (page: Page, name: string): Locator => page.getByRole('button', { name, exact: true })
/** The whole text of the editor, which draws the lines in view alone. */
const textOf = (page: Page): Promise<string> =>
  page.locator('.cm-content').evaluate((element) => {
    const { cmTile } = element as unknown as { cmTile: { root: { view: { state: { doc: object } } } } }
    return String(cmTile.root.view.state.doc)
  })
const SPRING = readFileSync(join(ROOT, 'examples/brezal/spring.acuarela.yaml'), 'utf8')

async function violations(page: Page): Promise<string[]> {
  await page.evaluate(axe.source)
  const { violations: found } = await page.evaluate(() => (window as unknown as { axe: typeof axe }).axe.run(document))
  return found.map(({ id, nodes }) => `${id}: ${nodes[0].html.slice(0, 140)}`)
}

test('a rule is chosen, its limit dragged and moved by keys, undone, and every step is in the text', async () => {
  const { page, faults } = await opened()
  await button(page, 'Text').click()
  expect(await textOf(page)).toBe(SPRING)
  await region(page, 'Rules')
    .getByRole('button', { name: /^Against the month target/ })
    .click()
  const rule = region(page, 'Rule')
  const handle = rule.getByRole('slider', { name: 'At least, Month target' })
  await handle.focus()
  await page.keyboard.press('ArrowRight')
  await expect.poll(async () => handle.getAttribute('aria-valuenow'), SOON).toBe('142000')
  await expect.poll(() => textOf(page), SOON).toBe(SPRING.replace('value: 140000', 'value: 142000'))
  expect(await page.locator('.last').textContent()).toBe('Month target 140,000 → 142,000')
  // A limit that follows another does not move alone.
  const follower = rule.getByRole('slider', { name: 'At least, 80% of Month target' })
  expect(await follower.getAttribute('aria-disabled')).toBe('true')
  await follower.focus()
  await page.keyboard.press('ArrowRight')
  await handle.scrollIntoViewIfNeeded()
  const box = await handle.boundingBox()
  if (box === null) throw new Error('the handle is not drawn')
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
  await page.mouse.down()
  for (let i = 1; i <= 10; i++) await page.mouse.move(box.x + box.width / 2 + i * 3, box.y + box.height / 2)
  await page.mouse.up()
  await expect.poll(async () => Number(await handle.getAttribute('aria-valuenow')), SOON).toBeGreaterThan(143_000)
  await painted(page)
  // A drag is one entry.
  await button(page, 'Undo').click()
  await expect.poll(() => textOf(page), SOON).toBe(SPRING)
  await button(page, 'Redo').click()
  await expect.poll(() => textOf(page), SOON).not.toBe(SPRING)
  expect(faults).toEqual([])
})

test('a rule is said, completed and tried, then ordered, switched off and removed by keys', async () => {
  const { page, faults } = await opened()
  await button(page, 'Text').click()
  const say = page.getByRole('combobox', { name: 'Say a rule' })
  await say.fill('margin of each shop: below 42% → beh')
  await page.getByRole('option', { name: /^behind/ }).click()
  await expect.poll(() => say.inputValue(), SOON).toBe('margin of each shop: below 42% → behind ')
  const tried = region(page, 'Rules').getByRole('status')
  await expect.poll(() => tried.textContent(), SOON).toMatch(/paints [1-9] cells/)
  await page.keyboard.press('Escape')
  await button(page, 'Add rule').click()
  await expect.poll(() => textOf(page), SOON).toContain('- margin of each shop: below 42% → behind\n')
  await say.fill('margin red if it is below plan')
  await expect.poll(() => tried.textContent(), SOON).toContain('did you mean')
  await say.fill('')
  await page.keyboard.press('Escape')
  const first = region(page, 'Rules').getByRole('listitem').first().getByRole('button').first()
  await first.focus()
  await page.keyboard.press('Alt+ArrowDown')
  await expect
    .poll(async () => (await textOf(page)).indexOf('below 42%') > (await textOf(page)).indexOf('againstTarget'))
    .toBe(true)
  await button(page, 'Switch off').click()
  await expect.poll(() => textOf(page), SOON).toContain('below 42% → behind, paused\n')
  await button(page, 'Remove').click()
  await expect.poll(() => textOf(page), SOON).toBe(SPRING)
  expect(faults).toEqual([])
})

test('a data file becomes a painted report; a draft is still there after a reload; axe finds nothing', async () => {
  const { page, faults } = await opened()
  const csv = 'market,stall,takings,goal\nNorth,Ash,120,100\nNorth,Elm,80,100\nSouth,Oak,140,130\nSouth,Fir,60,90\n'
  await page
    .getByLabel('Files', { exact: true })
    .setInputFiles({ name: 'stalls.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) })
  await expect.poll(() => page.locator('.brand').textContent(), SOON).toContain('stalls.acuarela.yaml')
  await painted(page)
  expect(await region(page, 'Data').textContent()).toContain('takings')
  expect(await page.locator('.report td').count()).toBeGreaterThan(4)
  await button(page, 'Text').click()
  const before = await textOf(page)
  await page.getByRole('combobox', { name: 'Say a rule' }).fill('takings: top 1 → bold')
  await expect.poll(() => region(page, 'Rules').getByRole('status').textContent(), SOON).toContain('paints')
  await page.keyboard.press('Escape')
  await button(page, 'Add rule').click()
  await expect.poll(() => textOf(page), SOON).not.toBe(before)
  const drafted = await textOf(page)
  expect(await violations(page)).toEqual([])
  await page.waitForTimeout(900)
  await page.reload()
  await painted(page)
  await button(page, 'Text').click()
  expect(await textOf(page)).toBe(drafted)
  await button(page, 'Undo').click()
  await expect.poll(() => textOf(page), SOON).toBe(before)
  // Mistakes are told with their line, and the page stays.
  await page.getByRole('textbox', { name: 'Text of the file' }).fill(before.replace('rules:', 'rulse:'))
  await expect.poll(() => region(page, 'File').textContent(), SOON).toContain('did you mean rules?')
  expect(await page.locator('.report td').count()).toBeGreaterThan(4)
  expect(faults).toEqual([])
})
