import type { Locator, Page } from 'playwright-core'
import { expect, test } from 'vitest'
import { FULL } from '../support/effort.js'
import { textOf, usePage } from '../support/workbench.js'

const { opened } = usePage()
const SOON = { timeout: 20_000 }
const region = (page: Page, name: string): Locator => page.getByRole('region', { name, exact: true })

/** The marked lines of the text, as the editor shows them. */
const marked = (page: Page): Promise<string[]> => page.locator('.cm-line.part-line').allTextContents()

test.runIf(FULL)(
  'what is selected is marked in the text and on the page; what the cursor is in is selected',
  async () => {
    const { page, faults } = await opened()
    page.setDefaultTimeout(20_000)
    // As wide as it has to be for the lists beside the text.
    await page.setViewportSize({ width: 1700, height: 900 })
    await page.getByRole('button', { name: 'Text', exact: true }).click()
    await page.locator('.cm-content').waitFor()
    const text = (await textOf(page)).split('\n')
    // A rule: its lines, its cells.
    await region(page, 'Rules')
      .getByRole('button', { name: /^Against the month target/ })
      .click()
    const first = text.findIndex((line) => line.includes('title: Against the month target'))
    await expect.poll(() => marked(page), SOON).toContain(text[first])
    const lines = await marked(page)
    const from = text.indexOf(lines[0])
    expect(text.slice(from, from + lines.length)).toEqual(lines)
    expect(lines[0]).toMatch(/^ {2}- /)
    expect(lines.slice(1).filter((line) => /^ {0,2}\S/.test(line))).toEqual([])
    const pointed = page.locator('.report .pointed-at')
    await expect.poll(() => pointed.count(), SOON).toBeGreaterThan(3)
    // A status: exactly the cells that have it.
    await page.locator('details.section:has(> ul [data-part="statuses.ahead"]) > summary').click()
    await page.locator('[data-part="statuses.ahead"]').click()
    const cells = page.locator('.report td.pointed-at')
    const having = page.locator('.report tbody td', { hasText: /^On target, / })
    const wanted = await having.count()
    expect(wanted).toBeGreaterThan(2)
    await expect.poll(() => cells.count(), SOON).toBe(wanted)
    expect((await cells.allTextContents()).filter((one) => !one.startsWith('On target, '))).toEqual([])
    expect((await marked(page))[0]).toMatch(/^ {2}ahead:/)
    // An exhibit: its part of the page.
    await page.locator('[data-part="exhibits.3"]').click()
    await expect.poll(() => page.locator('.report section.pointed-at').count(), SOON).toBe(1)
    const title = await page
      .locator('.report section.pointed-at h2, .report section.pointed-at h3')
      .first()
      .textContent()
    expect(await page.locator('[data-part="exhibits.3"]').textContent()).toContain(title ?? 'no title')
    // The cursor in a measure opens it; in a rule, too.
    const line = (part: RegExp): Locator => page.locator('.cm-line', { hasText: part }).first()
    const gap = page.locator('[data-part="measures.gap"]')
    expect(await gap.getAttribute('aria-expanded')).toBe('false')
    await page.locator('.cm-scroller').evaluate((element) => element.scrollTo(0, 200))
    await line(/^ {2}gap:/).click()
    await expect.poll(() => gap.getAttribute('aria-expanded'), SOON).toBe('true')
    await expect.poll(async () => (await marked(page))[0], SOON).toMatch(/^ {2}gap:/)
    expect(faults).toEqual([])
  },
)
