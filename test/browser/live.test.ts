import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import axe from 'axe-core'
import fc from 'fast-check'
import type { Page } from 'playwright-core'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { useBrowser } from '../support/browser.js'
import { exhibitOf, type Painted } from '../support/painted.js'
import { acuarela, ROOT } from '../support/tool.js'

const SPRING = join(ROOT, 'examples/brezal/spring.acuarela.yaml')
const browser = useBrowser()
let url = ''
let cwd = ''
beforeAll(async () => {
  cwd = await mkdtemp(join(tmpdir(), 'acuarela-'))
  const file = join(cwd, 'spring.html')
  await acuarela(['paint', SPRING, '--out', file, '--quiet'])
  url = pathToFileURL(file).href
})
afterAll(() => rm(cwd, { recursive: true, force: true }))

async function live(address = ''): Promise<{ page: Page; faults: string[] }> {
  const opened = await browser.open()
  await opened.page.goto(`${url}${address}`)
  await settled(opened.page)
  return opened
}

async function settled(page: Page): Promise<void> {
  await page.locator('main:not([aria-busy=true]) .tools').waitFor()
}

/** The address holds the state once its reader's hand rests. */
async function link(page: Page): Promise<string> {
  await page.waitForTimeout(250)
  return new URL(page.url()).hash
}

/** Texts and status words of a table's cells, row by row. */
function shown(page: Page, exhibit: string): Promise<string[][]> {
  return page
    .locator(`section:has(#x-${exhibit}) tbody tr`)
    .evaluateAll((rows) => rows.map((row) => [...row.querySelectorAll('td')].map((cell) => cell.textContent ?? '')))
}

/** The same as the tool says. */
async function told(exhibit: string, ...args: string[]): Promise<string[][]> {
  const { out } = await acuarela(['paint', SPRING, '--to', 'json', '--quiet', ...args])
  const rows = new Map<string, string[]>()
  const label: Record<string, string> = { ahead: 'On target', close: 'Near target', behind: 'Behind' }
  for (const { row, text, look, measure } of exhibitOf(JSON.parse(out) as Painted, exhibit).cells) {
    const key = JSON.stringify(row)
    const words = measure === 'revenue' && look.status !== null ? `${label[look.status]}, ` : ''
    rows.set(key, [...(rows.get(key) ?? []), measure === 'revenue' ? words + text : text])
  }
  return [...rows.values()]
}

/** What is shown, with colours in the place of class names, and without what marks the last move. */
function snapshot(page: Page): Promise<string> {
  return page.locator('.exhibits').evaluate((root) => {
    const css = [...document.querySelectorAll('style')].map((own) => own.textContent ?? '').join('\n')
    const copy = root.cloneNode(true) as Element
    for (const element of copy.querySelectorAll('*')) {
      element.removeAttribute('tabindex')
      const own = [...element.classList].filter((name) => !['moved', 'covered', 'reached'].includes(name))
      const named = own.map((name) =>
        /^[lr]\d+$/.test(name) ? (new RegExp(`\\.${name}\\{([^}]*)\\}`).exec(css)?.[1] ?? '?') : name,
      )
      if (named.length === 0) element.removeAttribute('class')
      else element.setAttribute('class', named.join(' '))
      // What the first mount of a page counts differs in names alone.
      for (const attribute of ['id', 'clip-path', 'aria-labelledby'])
        if (element.closest('svg') !== null) element.removeAttribute(attribute)
    }
    return copy.innerHTML.replace(/plot-[a-z\d]+/g, 'plot')
  })
}

async function axeFinds(page: Page): Promise<string[]> {
  await page.evaluate(axe.source)
  const found = await page.evaluate(() =>
    (window as unknown as { axe: typeof axe }).axe.run(document, {
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'],
      resultTypes: ['violations'],
    }),
  )
  return found.violations.map((v) => `${v.id}: ${v.nodes[0].html.slice(0, 140)} ${v.nodes[0].failureSummary ?? ''}`)
}

test('moving the target recolours exactly the cells that the tool recolours, says how many, and marks them', async () => {
  const { page, faults } = await live()
  const before = await shown(page, 'shops')
  await page.getByRole('slider', { name: 'Shop target' }).fill('45000')
  await settled(page)
  const after = await shown(page, 'shops')
  const expected = await told('shops', '--set', 'target=45000')
  expect(after.map((row) => row[0])).toEqual(expected.map((row) => row[0]))
  const changed = after.filter((row, r) => row[0] !== before[r][0]).length
  expect(changed).toBeGreaterThan(2)
  expect(await page.locator('section:has(#x-shops) td.moved').count()).toBe(changed)
  expect(await page.locator('.counts').textContent()).toMatch(
    /On target \d+ → \d+ · .*Behind \d+ → \d+ · \d+ cells of another status/,
  )
  // The next move takes the marks away.
  await page.getByRole('button', { name: 'Reset' }).click()
  await settled(page)
  expect(await page.locator('td.moved').count()).toBe(0)
  expect(await shown(page, 'shops')).toEqual(before)
  expect(faults).toEqual([])
})

test('filters and periods give what the tool gives, an empty result is said, and a link restores it all', async () => {
  const { page, faults } = await live()
  await page.getByText('Region: all').click()
  await page.getByRole('checkbox', { name: 'Coast' }).check()
  await page.keyboard.press('Escape')
  await page.getByLabel('Period').selectOption('last 12 months')
  await settled(page)
  const expected = await told('shops', '--where', "region = 'Coast'", '--period', 'last 12 months')
  expect((await shown(page, 'shops')).map((row) => row[0])).toEqual(expected.map((row) => row[0]))
  const again = await live(await link(page))
  expect(await snapshot(again.page)).toBe(await snapshot(page))
  expect(await again.page.getByText('Region: Coast').count()).toBe(1)
  await page.getByLabel('Period').selectOption('2022')
  await page.getByText('Line: all').click()
  await page.getByRole('checkbox', { name: 'Fruit trees' }).check()
  await settled(page)
  const none = await live('#period=2021')
  expect(await none.page.locator('section:has(#x-shops)').textContent()).toContain('no row fits the period')
  expect([...faults, ...again.faults, ...none.faults]).toEqual([])
})

test('a hundred turns at random: what is shown is always what a fresh page with the same link shows', async () => {
  const { page, faults } = await live()
  const turns = fc.sample(fc.tuple(fc.nat(8), fc.nat(1000)), { numRuns: 100, seed: 7 })
  for (const [t, [what, n]] of turns.entries()) {
    if (what <= 1) await page.getByRole('slider', { name: 'Shop target' }).fill(String(20_000 + 5000 * (n % 21)))
    else if (what === 2) await page.getByRole('spinbutton', { name: 'Slack' }).fill(String(n % 40))
    else if (what <= 4) await toggle(page, '[data-key] input[type=checkbox]', n)
    else if (what === 5) await toggle(page, '[data-rule] input', n)
    else if (what === 6) await page.getByLabel('Period').selectOption({ index: n % 8 })
    else if (what === 7)
      await page
        .locator('th button')
        .nth(n % (await page.locator('th button').count()))
        .evaluate((own) => (own as HTMLElement).click())
    else await page.getByRole('button', { name: 'Reset' }).click()
    await settled(page)
    if (t % 25 !== 24) continue
    const fresh = await live(await link(page))
    expect(await snapshot(page), `after ${t + 1} turns: ${page.url().slice(-200)}`).toBe(await snapshot(fresh.page))
    expect(fresh.faults).toEqual([])
    await fresh.page.close()
  }
  expect(faults).toEqual([])
})

async function toggle(page: Page, selector: string, n: number): Promise<void> {
  const all = page.locator(selector)
  await all.nth(n % (await all.count())).evaluate((own) => (own as HTMLElement).click())
}

test('by keyboard alone: a cell says why, a heading sorts, a list opens and closes', async () => {
  const { page, faults } = await live()
  const region = page.getByRole('region', { name: 'Shops against target and plan, table' })
  await region.focus()
  for (const key of ['ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown']) await page.keyboard.press(key)
  const box = page.locator('.whybox')
  await box.waitFor()
  expect(await box.textContent()).toMatch(/Larkmoor|Saltmarsh|Quay Lane|Wren Hollow|Heatherby/)
  expect(await box.textContent()).toContain('Against the target: from €60,000 (Shop target)')
  expect(await axeFinds(page)).toEqual([])
  await page.keyboard.press('Escape')
  expect(await box.isHidden()).toBe(true)
  expect(await page.locator('[data-rule=target] p').textContent()).toContain('On target from €60,000')
  await page.getByRole('spinbutton', { name: 'Shop target' }).fill('50000')
  await settled(page)
  expect(await page.locator('[data-rule=target] p').textContent()).toContain('On target from €50,000')
  const sort = page.getByRole('button', { name: 'Plan', exact: true }).first()
  await sort.focus()
  await page.keyboard.press('Enter')
  await settled(page)
  expect(await page.locator('section:has(#x-shops) th[aria-sort=descending]').textContent()).toBe('Plan')
  expect(await page.evaluate(() => document.activeElement?.textContent)).toBe('Plan')
  const rules = page.getByText('Rules', { exact: true })
  await rules.focus()
  await page.keyboard.press('Enter')
  const item = page.locator('[data-rule=target]')
  await item.hover()
  expect(await page.locator('section:has(#x-shops) td.reached').count()).toBe(9)
  await item.getByRole('checkbox').focus()
  await page.keyboard.press('Space')
  await settled(page)
  expect((await shown(page, 'shops')).some((row) => /target|Behind/.test(row[0]))).toBe(false)
  await page.keyboard.press('Escape')
  expect(await page.locator('details[open]').count()).toBe(0)
  expect(faults).toEqual([])
})

test('axe finds nothing in dark, beside plain, with lists open, and on a narrow page; with scripts off the page still reads', async () => {
  const { page, faults } = await live('#theme=dark&plain=yes')
  expect(await page.locator('section:has(#x-shops-plain)').count()).toBe(1)
  await page.locator('.tools details').evaluateAll((all) => {
    for (const own of all.slice(-1)) (own as HTMLDetailsElement).open = true
  })
  expect(await axeFinds(page)).toEqual([])
  await page.setViewportSize({ width: 320, height: 800 })
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(320)
  expect(faults).toEqual([])
  const off = await page.context().browser()?.newContext({ javaScriptEnabled: false })
  const still = await off?.newPage()
  await still?.goto(url)
  expect(await still?.locator('h1').textContent()).toBe('Brezal Nurseries, spring review')
  expect(await still?.locator('section').count()).toBeGreaterThan(8)
  expect(await still?.locator('.tools').count()).toBe(0)
})
