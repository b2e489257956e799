import type { Page } from 'playwright-core'
import { expect, test } from 'vitest'
import { useBrowser } from '../support/browser.js'
import { FULL } from '../support/effort.js'
import { type } from '../support/pointing.js'
import { painted, textOf, usePage, watchText } from '../support/workbench.js'

const { address } = usePage()
const browser = useBrowser()
const SOON = { timeout: 20_000 }

async function setLevel(page: Page, value: string): Promise<void> {
  await page.locator('[data-part="parameters.targetLevel"]').click()
  await type({ page, by: 'mouse' }, page.locator(`[data-path='["parameters","targetLevel","value"]'] input`), value)
  await expect.poll(() => textOf(page), SOON).toContain(`targetLevel: { value: ${value}`)
  // A draft is kept once it rests.
  await page.waitForTimeout(1200)
}

test.runIf(FULL)(
  'each window keeps a draft of its own; the next window opens the newest that no other has open',
  async () => {
    const { page: blank } = await browser.open()
    const context = await blank.context().browser()?.newContext()
    if (context === undefined) throw new Error('no browser')
    const open = async (): Promise<Page> => {
      const page = await context.newPage()
      await watchText(page)
      await page.goto(address())
      await painted(page)
      return page
    }
    const one = await open()
    await setLevel(one, '91%')
    const other = await open()
    // The draft of the first window is in use: this one begins with the demo.
    expect(await textOf(other)).toContain('targetLevel: { value: 100%')
    await setLevel(other, '92%')
    const reloaded = [[one, '91%'] as const, [other, '92%'] as const]
    for (const [page, value] of reloaded) {
      await page.reload()
      await painted(page)
      expect(await textOf(page)).toContain(`targetLevel: { value: ${value}`)
      // A draft that was opened is kept again: the one that was used last is the newest.
      await page.waitForTimeout(1200)
    }
    await one.close()
    await other.close()
    const next = await open()
    expect(await textOf(next)).toContain('targetLevel: { value: 92%')
    expect(await textOf(await open())).toContain('targetLevel: { value: 91%')
    await context.close()
  },
)
