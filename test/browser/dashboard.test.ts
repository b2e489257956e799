import { join } from 'node:path'
import axe from 'axe-core'
import { build, type PreviewServer, preview } from 'vite'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { useBrowser } from '../support/browser.js'
import { exhibitOf, type Painted } from '../support/painted.js'
import { acuarela, ROOT } from '../support/tool.js'

const APP = join(ROOT, 'examples/dashboard')
const browser = useBrowser()
let server: PreviewServer
let url = ''

beforeAll(async () => {
  const configFile = join(APP, 'vite.config.ts')
  await build({ root: APP, logLevel: 'error', configFile })
  server = await preview({ root: APP, logLevel: 'error', configFile, preview: { port: 0, host: '127.0.0.1' } })
  const address = server.httpServer.address()
  url = `http://127.0.0.1:${typeof address === 'object' ? address?.port : ''}/`
})
afterAll(() => server.close())

test('an app moves the report that it embeds, reads what its reader does, and neither spoils the style of the other', async () => {
  const { page, faults } = await browser.open()
  await page.goto(url)
  await page.locator('#report .tools').waitFor()
  const revenue = page.locator('section:has(#x-shops) tbody tr td:nth-of-type(1)')
  await page.getByRole('button', { name: 'Bold' }).click()
  await page.locator('.main:not([aria-busy=true])').waitFor()
  const { out } = await acuarela([
    'paint',
    'examples/brezal/spring.acuarela.yaml',
    '--to',
    'json',
    '--set',
    'target=75000',
  ])
  const label: Record<string, string> = { ahead: 'On target, ', close: 'Near target, ', behind: 'Behind, ' }
  const expected = exhibitOf(JSON.parse(out) as Painted, 'shops')
    .cells.filter(({ measure }) => measure === 'revenue')
    .map(({ look, text }) => `${label[look.status ?? ''] ?? ''}${text}`)
  expect(await revenue.allTextContents()).toEqual(expected)
  expect(await page.getByRole('button', { name: 'Bold' }).getAttribute('aria-pressed')).toBe('true')
  await page.getByText('Region: all').click()
  await page.getByRole('checkbox', { name: 'Upland' }).check()
  expect(await page.locator('#told').textContent()).toBe('Upland')
  // The page's own rule for cells does not reach into the report, nor the report's style out of it.
  expect(await revenue.first().evaluate((cell) => getComputedStyle(cell).backgroundColor)).toBe('rgba(0, 0, 0, 0)')
  expect(await page.locator('.brand').evaluate((own) => getComputedStyle(own).fontWeight)).toBe('700')
  expect(await page.evaluate(() => document.head.querySelectorAll('style').length)).toBe(0)
  await page.evaluate(axe.source)
  const found = await page.evaluate(() => (window as unknown as { axe: typeof axe }).axe.run(document))
  expect(found.violations.map(({ id, nodes }) => `${id}: ${nodes[0].html.slice(0, 120)}`)).toEqual([])
  expect(faults).toEqual([])
})
