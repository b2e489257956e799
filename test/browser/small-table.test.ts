import { join } from 'node:path'
import { fromRows, paint } from 'acuarela'
import { build, type PreviewServer, preview } from 'vite'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { SHOPS } from '../../examples/small-table/shops.js'
import { useBrowser } from '../support/browser.js'
import { ROOT } from '../support/tool.js'

const APP = join(ROOT, 'examples/small-table')
const browser = useBrowser()
let server: PreviewServer
let url = ''

beforeAll(async () => {
  await build({ root: APP, logLevel: 'error', configFile: join(APP, 'vite.config.ts') })
  server = await preview({
    root: APP,
    logLevel: 'error',
    configFile: join(APP, 'vite.config.ts'),
    preview: { port: 0, host: '127.0.0.1' },
  })
  const address = server.httpServer.address()
  url = `http://127.0.0.1:${typeof address === 'object' ? address?.port : ''}/`
})
afterAll(() => server.close())

/** The results of the engine, called here. */
function statusesAt(target: number): (string | null)[] {
  const bands = [
    { atLeast: 'target', status: 'ahead' },
    { atLeast: '80% of target', status: 'close' },
    { otherwise: 'behind' },
  ]
  const painting = paint(fromRows(SHOPS), {
    parameters: { target },
    statuses: { ahead: {}, close: {}, behind: {} },
    rules: [{ paint: 'revenue', bands }],
  })
  return SHOPS.map((_, row) => painting.cell(row, 'revenue').status)
}

test('moving the slider recolours exactly the cells that the engine says', async () => {
  const { page, faults } = await browser.open()
  await page.goto(url)
  const shown = () =>
    page
      .locator('tbody tr td:nth-child(2) .dab')
      .evaluateAll((dabs) => dabs.map((d) => (d as HTMLElement).dataset.status))
  const colors = () =>
    page
      .locator('tbody tr td:nth-child(2) .dab')
      .evaluateAll((dabs) => dabs.map((d) => (d as HTMLElement).style.background))
  expect(await shown()).toEqual(statusesAt(60_000))
  const before = await colors()
  const slider = page.getByLabel('Shop target')
  for (const target of [70_000, 20_000, 120_000]) {
    await slider.fill(String(target))
    expect(await shown()).toEqual(statusesAt(target))
    expect(await page.locator('#shown').textContent()).toBe(`€${target / 1000},000`)
  }
  await slider.fill('70000')
  const after = await colors()
  const [a, b] = [statusesAt(60_000), statusesAt(70_000)]
  expect(before.map((c, i) => c !== after[i])).toEqual(a.map((s, i) => s !== b[i]))
  expect(await page.locator('#counts').textContent()).toBe('On target: 3 · Near target: 1 · Behind: 5')
  expect(faults).toEqual([])
})

test('the slider is moved by keyboard alone, and the counts are announced', async () => {
  const { page } = await browser.open(400, 800)
  await page.goto(url)
  await page.keyboard.press('Tab')
  await page.keyboard.press('ArrowRight')
  expect(await page.locator('#shown').textContent()).toBe('€61,000')
  expect(await page.locator('#counts').getAttribute('role')).toBe('status')
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(400)
})
