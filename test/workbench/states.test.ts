import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { visionMatrix } from 'acuarela/workbench'
import type { Locator, Page } from 'playwright-core'
import { expect, test } from 'vitest'
import { parse } from 'yaml'
import { FULL } from '../support/effort.js'
import { choose, pick, press, put, reach, type } from '../support/pointing.js'
import { ROOT } from '../support/tool.js'
import { painted, textOf, usePage, violations } from '../support/workbench.js'

const { opened, give } = usePage()
const SOON = { timeout: 20_000 }
const BREZAL = join(ROOT, 'examples/brezal')
const region = (page: Page, name: string): Locator => page.getByRole('region', { name, exact: true })
const button = (page: Page, name: string): Locator => page.getByRole('button', { name, exact: true })

const STALLS = `market,stall,takings,goal,visitors
North,Ash,120,100,61
North,Elm,80,100,40
North,Yew,95,90,52
South,Oak,140,130,70
South,Fir,60,90,33
South,Box,101,95,48
`

/** Drops files on the page, as a file manager does. */
async function drop(page: Page, files: Readonly<Record<string, string>>): Promise<void> {
  const transfer = await page.evaluateHandle((entries) => {
    const made = new DataTransfer()
    for (const [name, text] of entries) made.items.add(new File([text], name))
    return made
  }, Object.entries(files))
  await page.dispatchEvent('.bench', 'dragover', { dataTransfer: transfer })
  await page.dispatchEvent('.bench', 'drop', { dataTransfer: transfer })
}

test.each(FULL ? (['mouse', 'keys'] as const) : (['keys'] as const))(
  'the first minute, by %s: data, a rule, its limit, a copy, undo, save, reopen',
  async (by) => {
    const { page, faults } = await opened()
    page.setDefaultTimeout(15_000)
    // By keys the whole way is walked with Tab in the full run.
    const hand = { page, by, walks: FULL }
    await drop(page, { 'stalls.csv': STALLS })
    await expect.poll(() => page.locator('.brand').textContent(), SOON).toContain('stalls.acuarela.yaml')
    await painted(page)
    expect(await page.locator('.report td').count()).toBeGreaterThan(6)
    // A target, and a threshold with it.
    await put(hand, page.getByLabel('Name of a new parameter', { exact: true }), 'crowd')
    await type(hand, page.getByLabel('Value of a new parameter', { exact: true }), '50')
    await expect.poll(() => textOf(page), SOON).toContain('crowd')
    const rules = region(page, 'Rules')
    await press(hand, rules.getByRole('button', { name: 'Add rule', exact: true }))
    await choose(hand, rules.getByRole('combobox', { name: 'Measure of a new rule', exact: true }), 'visitorsTotal')
    await press(hand, rules.getByRole('button', { name: 'limits', exact: true }))
    const limit = page.locator(`[data-path='["rules",0,"bands",0,"atLeast"]'] input`)
    await type(hand, limit, 'crowd')
    const handle = region(page, 'Rule').getByRole('slider', { name: 'At least, crowd' })
    await handle.waitFor()
    const before = await textOf(page)
    expect(before).toContain('atLeast: crowd')
    // The limit moves by hand, and what it paints with it.
    if (by === 'mouse') {
      await handle.scrollIntoViewIfNeeded()
      const box = await handle.boundingBox()
      if (box === null) throw new Error('the handle is not drawn')
      await page.mouse.move(box.x + box.width / 2, box.y + 20)
      await page.mouse.down()
      for (let i = 1; i <= 8; i++) await page.mouse.move(box.x + box.width / 2 + i * 4, box.y + 20)
      await page.mouse.up()
    } else {
      await reach(hand, handle)
      for (let i = 0; i < 4; i++) await page.keyboard.press('PageUp')
    }
    const crowd = async (): Promise<number> =>
      (parse(await textOf(page)) as { parameters: { crowd: { value: number } } }).parameters.crowd.value
    await expect.poll(crowd, SOON).toBeGreaterThan(50)
    // The text follows the handle to its last place.
    await expect.poll(async () => Number(await handle.getAttribute('aria-valuenow')) - (await crowd()), SOON).toBe(0)
    const moved = await textOf(page)
    await pick(
      hand,
      region(page, 'Rule').getByRole('button', { name: 'Copy to another measure', exact: true }),
      'takingsTotal',
    )
    await expect.poll(() => textOf(page), SOON).not.toBe(moved)
    expect(
      (parse(await textOf(page)) as { rules: { paint: string }[] }).rules.slice(0, 2).map(({ paint }) => paint),
    ).toEqual(['visitorsTotal', 'takingsTotal'])
    await press(hand, button(page, 'Undo'))
    await expect.poll(() => textOf(page), SOON).toBe(moved)
    await press(hand, button(page, 'Undo'))
    await expect.poll(crowd, SOON).toBe(50)
    const [download] = await Promise.all([page.waitForEvent('download'), press(hand, button(page, 'Save'))])
    const saved = readFileSync(await download.path(), 'utf8')
    expect([download.suggestedFilename(), saved]).toEqual(['stalls.acuarela.yaml', before])
    await expect.poll(() => page.locator('.brand').textContent(), SOON).toContain('saved')
    // The controls of the page follow a moment after the text.
    await expect.poll(() => page.locator('.report .main').textContent(), SOON).toContain('Crowd 50')
    await painted(page)
    const shown = await page.locator('.report .main').textContent()
    await drop(page, { 'stalls.acuarela.yaml': saved, 'stalls.csv': STALLS })
    await expect.poll(() => button(page, 'Undo').isDisabled(), SOON).toBe(true)
    await painted(page)
    expect(await page.locator('.report .main').textContent()).toBe(shown)
    expect(faults).toEqual([])
  },
)

test.runIf(FULL)(
  'what proof finds is fixed by its buttons; what is meant is ignored for a reason, until it is quiet',
  async () => {
    const { page, faults } = await opened()
    page.setDefaultTimeout(15_000)
    const careless = readFileSync(join(BREZAL, 'careless.acuarela.yaml'), 'utf8')
    const { sources } = parse(careless) as { sources: Record<string, { file: string }> }
    const there = readdirSync(BREZAL)
    const files = Object.values(sources).filter(({ file }) => there.includes(file))
    await give(page, {
      'careless.acuarela.yaml': careless,
      ...Object.fromEntries(files.map(({ file }) => [file, readFileSync(join(BREZAL, file), 'utf8')])),
    })
    await painted(page)
    const findings = region(page, 'Findings')
    const count = (): Promise<number> => findings.getByRole('listitem').count()
    await findings.getByRole('listitem').first().waitFor()
    const before = await count()
    /** One press, and proof has run again. */
    const next = async (act: () => Promise<void>): Promise<void> => {
      const [text, html] = [await textOf(page), await findings.innerHTML()]
      await act()
      await expect.poll(() => textOf(page), SOON).not.toBe(text)
      await expect.poll(() => findings.innerHTML(), SOON).not.toBe(html)
    }
    const fix = findings.getByRole('button', { name: 'Fix', exact: true })
    while ((await fix.count()) > 0) await next(() => fix.first().click())
    const decisions = await count()
    expect(before).toBeGreaterThan(45)
    expect(decisions).toBeLessThan(before - 15)
    while ((await count()) > 0)
      await next(async () => {
        await findings.getByRole('button', { name: 'Ignore…', exact: true }).first().click()
        await findings.getByLabel('Why it is meant').fill('so it is wanted')
        await findings.getByLabel('Why it is meant').press('Enter')
      })
    expect(await findings.textContent()).toContain('none')
    expect(faults).toEqual([])
  },
)

test.runIf(FULL)('axe finds nothing in any state, light and dark', async () => {
  const { page, faults } = await opened()
  page.setDefaultTimeout(15_000)
  const found: [string, string[]][] = []
  const look = async (state: string): Promise<void> => {
    // The report is part of the page as it is first shown, and the same in the other states.
    const wrong = await violations(page, state.endsWith('first'))
    if (wrong.length > 0) found.push([state, wrong])
  }
  for (const theme of ['light', 'dark']) {
    await page.getByLabel('Theme').first().selectOption(theme)
    await painted(page)
    await look(`${theme}: first`)
    await region(page, 'Rules')
      .getByRole('button', { name: /^Against the month target/ })
      .click()
    await region(page, 'Rule').getByRole('slider').first().waitFor()
    await look(`${theme}: a rule with its plot and form`)
    await page.locator('.report td').first().click()
    await region(page, 'Cell').waitFor()
    await look(`${theme}: a cell`)
    for (const key of ['measures.revenue', 'statuses.ahead', 'exhibits.3']) {
      const [section] = key.split('.')
      const summary = page.locator(`details:has([data-part="${key}"]) > summary`)
      if (section === 'statuses') await summary.click()
      await page.locator(`[data-part="${key}"]`).click()
      // In the short run with the rule and the cell, which are still open.
      await look(`${theme}: ${key}`)
      await page.locator(`[data-part="${key}"]`).click()
      if (section === 'statuses') await summary.click()
    }
    await button(page, 'Keyboard shortcuts').click()
    await page.getByRole('dialog').waitFor()
    await look(`${theme}: keys`)
    await page.keyboard.press('Escape')
    await button(page, 'Compare').click()
    await region(page, 'Compared with saved').waitFor()
    await look(`${theme}: compared`)
    await button(page, 'Compare').click()
    await button(page, 'Text').click()
    await page.locator('.cm-content').waitFor()
    await look(`${theme}: text`)
    await page.getByRole('textbox', { name: 'Text of the file' }).fill('title: T\nrulse: []\n')
    await expect.poll(() => region(page, 'File').textContent(), SOON).toContain('rules')
    await look(`${theme}: a text with mistakes`)
    await button(page, 'Undo').click()
    await painted(page)
    await button(page, 'Text').click()
    await button(page, 'Close the cell').click()
    await region(page, 'Rules')
      .getByRole('button', { name: /^Against the month target/ })
      .click()
  }
  expect(found).toEqual([])
  expect(faults).toEqual([])
})

test.runIf(FULL)(
  'a view shows each colour as that vision sees it; what differs from the saved report is outlined',
  async () => {
    const { page, faults } = await opened()
    page.setDefaultTimeout(15_000)
    for (const sight of ['protanopia', 'deuteranopia', 'tritanopia'] as const) {
      await page.getByLabel('View as').selectOption(sight)
      const values = (await page.locator('feColorMatrix').getAttribute('values')) ?? ''
      const rows = values.split(' ').map(Number)
      expect([0, 5, 10].map((i) => rows.slice(i, i + 3))).toEqual(visionMatrix(sight))
      expect(await page.locator('.report .page').evaluate((element) => getComputedStyle(element).filter)).toContain(
        'seen',
      )
    }
    // On paper nothing can be pressed; back on the screen it can.
    const controls = page.locator('.report .tools')
    await page.getByLabel('View as').selectOption('paper')
    await expect.poll(() => controls.isVisible(), SOON).toBe(false)
    expect(await page.locator('.report h1').isVisible()).toBe(true)
    await page.getByLabel('View as').selectOption('as it is')
    await expect.poll(() => controls.isVisible(), SOON).toBe(true)
    await button(page, 'Compare').click()
    await expect
      .poll(() => region(page, 'Compared with saved').textContent(), SOON)
      .toContain('Nothing looks different')
    await page.locator('[data-part="parameters.targetLevel"]').click()
    await type({ page, by: 'mouse' }, page.locator(`[data-path='["parameters","targetLevel","value"]'] input`), '130%')
    await expect.poll(() => region(page, 'Compared with saved').textContent(), SOON).toContain('change their status')
    const outlined = page.locator('.differs-from-saved')
    await expect.poll(() => outlined.count(), SOON).toBeGreaterThan(3)
    await button(page, 'Undo').click()
    await expect.poll(() => outlined.count(), SOON).toBe(0)
    expect(faults).toEqual([])
  },
)

test('a cell that is pointed at tells its rules, and gets a new one of any kind', async () => {
  const { page, faults } = await opened()
  page.setDefaultTimeout(15_000)
  const before = await textOf(page)
  for (const kind of FULL ? ['limits', 'gradient', 'bar', 'rank'] : ['limits']) {
    await page.locator('.report td.painted, .report td').first().click()
    const cell = region(page, 'Cell')
    await expect.poll(() => cell.getByRole('listitem').count(), SOON).toBeGreaterThan(0)
    await cell.getByRole('button', { name: 'Rule for this…' }).click()
    await cell.getByRole('button', { name: kind, exact: true }).click()
    await expect.poll(() => textOf(page), SOON).not.toBe(before)
    await painted(page)
    expect(await page.locator('.report .missing').count()).toBe(0)
    await region(page, 'Rule').waitFor()
    await button(page, 'Undo').click()
    await expect.poll(() => textOf(page), SOON).toBe(before)
  }
  expect(faults).toEqual([])
})
