import { expect, test } from 'vitest'
import { textOf, usePage } from '../support/workbench.js'

const { opened } = usePage()
const SOON = { timeout: 20_000 }

test('a formula is completed and its mistakes are told while it is typed; nothing is written before Enter', async () => {
  const { page, faults } = await opened()
  page.setDefaultTimeout(20_000)
  const before = await textOf(page)
  await page.locator('[data-part="measures.gap"]').click()
  const formula = page.locator(`[data-path='["measures","gap","formula"]'] input`)
  const problem = page.locator(`[data-path='["measures","gap","formula"]'] .problem`)
  const options = page.getByRole('option')
  await formula.fill('revenue - plam')
  // The mistake is told at its place, and announced politely, as it may not be finished.
  await expect.poll(() => problem.allTextContents(), SOON).toHaveLength(1)
  expect(await problem.textContent()).toBe('revenue - plam\n          ^^^^unknown name: plam; did you mean plan?')
  expect(await problem.getAttribute('role')).toBe('status')
  await formula.press('Backspace')
  await expect.poll(() => options.allTextContents(), SOON).toContain('plan')
  // A click on what is listed completes the text, and leaves the focus where it was.
  await options.filter({ hasText: /^plan$/ }).click()
  expect(await formula.inputValue()).toBe('revenue - plan')
  expect(await formula.evaluate((element) => element === document.activeElement)).toBe(true)
  await expect.poll(() => problem.count(), SOON).toBe(0)
  // By keys: the list is gone through, Enter takes what is marked, Escape takes back.
  await formula.fill('revenue - 2 * pl')
  await expect.poll(() => options.allTextContents(), SOON).toContain('plan')
  const current = (): Promise<string | undefined> =>
    page.evaluate(() => document.querySelector('[role=option][data-active-item]')?.textContent)
  for (let i = 0; i < 12 && (await current()) !== 'plan'; i++) await formula.press('ArrowDown')
  await formula.press('Enter')
  expect(await formula.inputValue()).toBe('revenue - 2 * plan')
  expect(await textOf(page)).toBe(before)
  await formula.press('Enter')
  await expect
    .poll(() => textOf(page), SOON)
    .toBe(before.replace('formula: revenue - plan,', 'formula: revenue - 2 * plan,'))
  expect(faults).toEqual([])
})
