import { join } from 'node:path'
import axe from 'axe-core'
import { build, type PreviewServer, preview } from 'vite'
import { afterAll, expect, test } from 'vitest'
import { useBrowser } from '../support/browser.js'
import { openChip } from '../support/controls.js'
import { FULL } from '../support/effort.js'
import { exhibitOf, type Painted } from '../support/painted.js'
import { acuarela, ROOT } from '../support/tool.js'

const browser = useBrowser()
const servers: PreviewServer[] = []
afterAll(() => Promise.all(servers.map((server) => server.close())))

/** Builds an example app and serves it. */
async function serve(name: string): Promise<string> {
  const root = join(ROOT, 'examples', name)
  const configFile = join(root, 'vite.config.ts')
  await build({ root, logLevel: 'error', configFile })
  const server = await preview({ root, logLevel: 'error', configFile, preview: { port: 0, host: '127.0.0.1' } })
  servers.push(server)
  const address = server.httpServer.address()
  return `http://127.0.0.1:${typeof address === 'object' ? address?.port : ''}/`
}

test.runIf(FULL)(
  'an app moves the report that it embeds, reads what its reader does, and neither spoils the style of the other',
  async () => {
    const { page, faults } = await browser.open()
    await page.goto(await serve('dashboard'))
    await page.locator('html[data-ready=yes]').waitFor()
    const revenue = page.locator('section:has(#x-shops) tbody tr td:nth-of-type(1)')
    await page.getByRole('button', { name: 'Bold' }).click()
    await page.locator('.main:not([aria-busy=true])').waitFor()
    const { out } = await acuarela([
      'paint',
      'examples/brezal/spring.acuarela.yaml',
      '--to',
      'json',
      '--set',
      'targetLevel=125%',
    ])
    const label: Record<string, string> = { ahead: 'On target, ', close: 'Near target, ', behind: 'Behind, ' }
    const expected = exhibitOf(JSON.parse(out) as Painted, 'shops')
      .cells.filter(({ measure }) => measure === 'revenue')
      .map(({ style: look, text }) => `${label[look.status ?? ''] ?? ''}${text}`)
    expect(await revenue.allTextContents()).toEqual(expected)
    expect(await page.getByRole('button', { name: 'Bold' }).getAttribute('aria-pressed')).toBe('true')
    await openChip(page, 'Region')
    await page.getByRole('checkbox', { name: 'Upland' }).check()
    await page.locator('.main:not([aria-busy=true])').waitFor()
    expect(await page.locator('#shown').textContent()).toBe('Upland')
    // The page's style for cells does not apply in the report, nor the report's style outside it.
    expect(await revenue.first().evaluate((cell) => getComputedStyle(cell).backgroundColor)).toBe('rgba(0, 0, 0, 0)')
    expect(await page.locator('.brand').evaluate((element) => getComputedStyle(element).fontWeight)).toBe('700')
    expect(await page.evaluate(() => document.head.querySelectorAll('style').length)).toBe(0)
    await page.evaluate(axe.source)
    const results = await page.evaluate(() => (window as unknown as { axe: typeof axe }).axe.run(document))
    expect(results.violations.map(({ id, nodes }) => `${id}: ${nodes[0].html.slice(0, 120)}`)).toEqual([])
    expect(faults).toEqual([])
  },
)

test.runIf(FULL)(
  'a pigment and a parameter that two reports share run through both, each in a tree of its own',
  async () => {
    const { page, faults } = await browser.open()
    await page.goto(await serve('one-rule-many-pages'))
    await page.locator('html[data-ready=yes]').waitFor()
    /** The fill and text of every cell of the shared rule. */
    const cells = (): Promise<string[]> =>
      page
        .locator('#margins tbody td:last-child > span, #buyers tbody td')
        .evaluateAll((all) =>
          all.map((element) => `${element.textContent?.split(',')[0]} ${getComputedStyle(element).backgroundColor}`),
        )
    const well = (list: string[]): string[] => [...new Set(list.filter((text) => text.startsWith('Well')))]
    const before = await cells()
    expect(before.length).toBeGreaterThan(40)
    // The same style in both reports.
    expect(well(before).length).toBe(1)
    await page.locator('#pigment').fill('#8b4aad')
    await expect
      .poll(
        async () => {
          const now = await cells()
          return now.length === before.length && well(now).join() !== well(before).join()
        },
        { timeout: 20_000 },
      )
      .toBe(true)
    const purple = await cells()
    expect(well(purple).length).toBe(1)
    expect(well(purple)).not.toEqual(well(before))
    expect(purple.filter((text) => !text.startsWith('Well'))).toEqual(before.filter((text) => !text.startsWith('Well')))
    await page.locator('#floor').fill('55')
    await page.locator('.main:not([aria-busy=true])').nth(1).waitFor()
    const strict = await cells()
    expect(strict.filter((text) => text.startsWith('Short')).length).toBeGreaterThan(
      purple.filter((text) => text.startsWith('Short')).length,
    )
    // Filtering one report leaves the other as it is.
    const other = await page.locator('#buyers tbody').textContent()
    await openChip(page.locator('#margins'), 'Region')
    await page.getByRole('checkbox', { name: 'Coast' }).check()
    await page.locator('.main:not([aria-busy=true])').nth(1).waitFor()
    expect(await page.locator('#buyers tbody').textContent()).toBe(other)
    expect(faults).toEqual([])
  },
)
