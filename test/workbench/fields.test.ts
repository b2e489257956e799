import { expect, test } from 'vitest'
import { FULL } from '../support/effort.js'
import { textOf, usePage } from '../support/workbench.js'

const { opened, give } = usePage()
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

test.runIf(FULL)('while a menu is open or a button is pressed, no list or form changes under the pointer', async () => {
  const { page, faults } = await opened()
  page.setDefaultTimeout(20_000)
  const rules = page.getByRole('region', { name: 'Rules', exact: true })
  const form = rules.locator(`[data-path='["rules",0]']`)
  const [first] = await rules.locator('button.rule').all()
  await first.click()
  const add = form.getByRole('button', { name: 'Add a key to Rule', exact: true })
  await add.click()
  await page.getByRole('menu').locator('[data-value=where]').click()
  const where = page.locator(`[data-path='["rules",0,"where"]'] input`)
  const shown = (): Promise<string> => where.inputValue()
  const written = 'revenue > 1'
  await where.fill(written)
  await where.press('Enter')
  await expect.poll(() => textOf(page), SOON).toContain(written)
  await add.click()
  await page.locator('[role=menu] [role=menuitem]').first().waitFor()
  // As undo would while an answer is under way: the text changes at once, the form later.
  const undo = (): Promise<unknown> =>
    page.evaluate(() => window.dispatchEvent(new KeyboardEvent('keydown', { key: 'z', ctrlKey: true })))
  await undo()
  await expect.poll(() => textOf(page), SOON).not.toContain(written)
  await page.waitForTimeout(300)
  expect(await shown()).toBe(written)
  await page.keyboard.press('Escape')
  await where.waitFor({ state: 'detached' })
  // The same for a button that is pressed.
  await page.keyboard.press('Control+Shift+Z')
  await expect.poll(shown, SOON).toBe(written)
  // It takes the focus from a field when it is pressed.
  await where.click()
  await add.hover()
  await page.mouse.down()
  await undo()
  await expect.poll(() => textOf(page), SOON).not.toContain(written)
  await page.waitForTimeout(300)
  expect(await shown()).toBe(written)
  await page.mouse.up()
  await page.keyboard.press('Escape')
  await where.waitFor({ state: 'detached' })
  expect(faults).toEqual([])
})

test.runIf(FULL)(
  'a field keeps the focus when its text is entered, though its rule gets another name by it',
  async () => {
    const { page, faults } = await opened()
    page.setDefaultTimeout(20_000)
    await give(page, {
      'stalls.acuarela.yaml': `title: Stalls
sources: { stalls: { file: stalls.csv } }
measures: { takings: sum(takings) }
rules:
  - { title: Low, paint: takings, bands: [{ below: 90, style: { weight: bold } }] }
exhibits:
  - { table: { rows: stall, show: [takings] } }
`,
      'stalls.csv': 'stall,takings\nAsh,120\nElm,80\n',
    })
    const rules = page.getByRole('region', { name: 'Rules', exact: true })
    await rules.locator('button.rule').click()
    const title = page.locator(`[data-path='["rules",0,"title"]'] input`)
    await title.fill('Few takings')
    await title.press('Enter')
    await expect.poll(() => rules.locator('button.rule b').textContent(), SOON).toBe('Few takings')
    expect(await title.evaluate((element) => element === document.activeElement)).toBe(true)
    expect(faults).toEqual([])
  },
)
