import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Locator, Page } from 'playwright-core'
import { expect, test } from 'vitest'
import { FULL } from '../support/effort.js'
import { workbook } from '../support/sheets.js'
import { ROOT } from '../support/tool.js'
import { painted, textOf, usePage, violations } from '../support/workbench.js'
import { readBook } from '../support/workbook-reading.js'

const { opened, give } = usePage()
/** Machines differ in speed: what is waited for comes in the end. */
const SOON = { timeout: 20_000 }
const region = (page: Page, name: string): Locator => page.getByRole('region', { name, exact: true })
const button = (page: Page, name: string): Locator => page.getByRole('button', { name, exact: true })
const SPRING = readFileSync(join(ROOT, 'examples/brezal/spring.acuarela.yaml'), 'utf8')

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
  // A drag is one entry, and what was done before it another.
  await button(page, 'Undo').click()
  await expect.poll(() => textOf(page), SOON).toBe(SPRING.replace('value: 140000', 'value: 142000'))
  await button(page, 'Redo').click()
  await expect.poll(() => textOf(page), SOON).not.toContain('value: 142000')
  expect(faults).toEqual([])
})

test.runIf(FULL)('a rule is said, completed and tried, then ordered, switched off and removed by keys', async () => {
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
  expect(await violations(page, FULL)).toEqual([])
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

test.runIf(FULL)('a workbook becomes a report, and its page a workbook', async () => {
  const { page, faults } = await opened()
  const shops = ['Larkmoor', 'Saltmarsh', 'Quay Lane']
  const rows = shops.flatMap((shop, s) =>
    ['2025-04-01', '2025-05-01', '2025-06-01'].map((value, m) => [
      shop,
      { type: 'date' as const, value },
      100 * (s + m + 1),
    ]),
  )
  await give(page, {
    'stalls.ods': workbook([
      { name: 'Stalls', rows: [['What the stalls took'], [], ['shop', 'day', 'amount'], ...rows] },
    ]),
  })
  expect(await textOf(page)).toContain('file: stalls.ods')
  expect(await textOf(page)).toContain('header: 3')
  await button(page, 'Export').click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /^ods/ }).click(),
  ])
  const { sheets } = readBook(readFileSync(await download.path()))
  const numbers = sheets.flatMap((sheet) => sheet.rows.flatMap(({ cells }) => cells.map(({ value }) => Number(value))))
  expect(numbers).toContain(100 + 200 + 300)
  // The rules of the starter, as sentences.
  const words = sheets.find(({ name }) => name === 'Legend and rules')?.rows.flatMap(({ cells }) => cells) ?? []
  expect(words.some(({ text }) => text.includes('at least'))).toBe(true)
  expect(faults).toEqual([])
})
