import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import axe from 'axe-core'
import type { Page } from 'playwright-core'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { goTo, useBrowser } from '../support/browser.js'
import { openChip, setParameter } from '../support/controls.js'
import { FULL } from '../support/effort.js'
import { acuarela } from '../support/tool.js'

/** A small report with something of everything that a reader can meet. */
const REPORT = `title: States
locale: en-GB
asOf: 2025-04-17
sources: { s: { file: s.csv, date: day } }
measures: { revenue: { formula: sum(amount), format: money EUR 0, better: higher }, pieces: sum(pieces) }
parameters: { target: { value: 2300, from: 0, to: 5000, step: 10, format: money EUR 0 }, slack: 10% }
statuses:
  good: { label: On target, wash: aqua, icon: tick }
  fair: { label: Near target, wash: straw, icon: dash }
  bad: { label: Behind, wash: coral, icon: cross, weight: bold }
rules:
  - { name: byTarget, title: Against the target, paint: revenue, only: [shops, one, chart, listed], bands: [{ atLeast: target, status: good }, { atLeast: 80% of target, status: fair }, { otherwise: bad }] }
  - { name: shade, title: Shade, paint: revenue, only: [heat], gradient: { ramp: [paper, aqua] } }
  - { name: size, title: Size, paint: pieces, bar: { color: indigo } }
filters: [region, period]
strip: shops.revenue
exhibits:
  - { name: one, cards: [{ show: revenue, trend: { along: month } }, { show: pieces }] }
  - { name: shops, section: Shops, table: { rows: [region, shop], show: [revenue, pieces, { trend: { of: revenue, along: month }, label: Months }], totals: bottom } }
  - { name: listed, list: { status: bad, of: revenue, by: [region, shop] } }
  - { name: heat, heatmap: { rows: shop, columns: month, show: revenue } }
  - { name: chart, chart: { along: month, show: revenue, references: [{ at: target }] } }
  - { name: rows, records: { show: [day, shop, amount], first: 4, oneAtATime: true } }
  - { name: many, table: { rows: item, show: [revenue, pieces], totals: bottom } }
`

function data(): string {
  const lines = ['day,region,shop,item,amount,pieces']
  for (let i = 0; i < 400; i++) {
    const [shop, month] = [i % 7, 1 + (i % 4)]
    const day = `2025-0${month}-${String(1 + (i % 17)).padStart(2, '0')}`
    const region = ['Coast', 'Upland', ''][shop % 3]
    lines.push(
      `${day},${region},Shop ${shop},Item ${String(i).padStart(3, '0')},${i % 11 === 0 ? '' : (i * 37) % 90},${i % 9}`,
    )
  }
  return `${lines.join('\n')}\n`
}

const browser = useBrowser()
let url = ''
let cwd = ''
beforeAll(async () => {
  cwd = await mkdtemp(join(tmpdir(), 'acuarela-'))
  await writeFile(join(cwd, 's.csv'), data())
  await writeFile(join(cwd, 'r.acuarela.yaml'), REPORT)
  const { code, err } = await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--quiet'], cwd)
  expect([code, err]).toEqual([0, ''])
  url = pathToFileURL(join(cwd, 'r.html')).href
})
afterAll(() => rm(cwd, { recursive: true, force: true }))

/** A state: what a reader does, and the element that it is about. */
interface State {
  enter(page: Page): Promise<unknown>
  about: string
}

/** Opens the page by a link, after the page has written its own state to the address. */
async function follow(page: Page, state: string): Promise<void> {
  await page.waitForTimeout(400)
  await goTo(page, `${url}#${state}`)
  await page.reload()
  await page.locator('main:not([aria-busy=true]) .exhibits').waitFor()
}

const cell = '#x-shops ~ .wide td:has(b)'
const STATES: Readonly<Record<string, State>> = {
  opened: { enter: async () => undefined, about: '.band a[data-part=good]' },
  'parameter open': { enter: (page) => openChip(page, 'Target'), about: '.chip details[open] input[type=range]' },
  'target moved': { enter: (page) => setParameter(page, 'Target', '2400'), about: '.strip .before li' },
  'changed chip': { enter: (page) => setParameter(page, 'Target', '2400'), about: '.chip.on .undo:not([hidden])' },
  'walking changes': {
    enter: async (page) => {
      await setParameter(page, 'Target', '2400')
      await page.locator('[data-walk="1"]').click()
    },
    about: 'td.here',
  },
  'strip list': { enter: (page) => page.locator('.band a').first().click(), about: '.cells [data-cell]' },
  'filter open': { enter: (page) => openChip(page, 'Region'), about: '[data-key] details[open] input[type=checkbox]' },
  filtered: {
    enter: async (page) => {
      await openChip(page, 'Region')
      await page.getByRole('checkbox', { name: 'Coast' }).check()
    },
    about: '[data-key].on',
  },
  'period open': { enter: (page) => openChip(page, 'Period'), about: '[data-period] details[open] select' },
  'period as a range': {
    enter: async (page) => {
      await openChip(page, 'Period')
      await page.locator('select[data-do=period]').selectOption('range')
    },
    about: '.range:not([hidden]) input[type=month]',
  },
  'empty period': { enter: (page) => follow(page, 'period=2021'), about: '.empty' },
  'menu open': { enter: (page) => openChip(page, '⋯'), about: '.menu[open] [data-rule]' },
  'rule off': {
    enter: async (page) => {
      await openChip(page, '⋯')
      await page.locator('[data-rule=shade] input').uncheck()
    },
    about: '[data-rule=shade] input:not(:checked)',
  },
  'rule pointed at': {
    enter: async (page) => {
      await openChip(page, '⋯')
      await page.locator('[data-rule=byTarget]').hover()
    },
    about: 'td.reached',
  },
  'without colours beside': {
    enter: async (page) => {
      await openChip(page, '⋯')
      await page.getByLabel('Show without colours').check()
    },
    about: '#x-shops-plain',
  },
  'reason of a cell': { enter: (page) => page.locator(cell).first().hover(), about: '.whybox li' },
  'reason with its line': { enter: (page) => page.locator(cell).first().hover(), about: '.whybox svg.trend' },
  'trend pointed at': {
    enter: async (page) => {
      const line = page.locator('#x-shops ~ .wide .tr[tabindex]').first()
      await line.focus()
      await page.keyboard.press('ArrowLeft')
    },
    about: '.tip .at',
  },
  sorted: { enter: (page) => page.locator('th button').first().click(), about: 'th[aria-sort=descending]' },
  copied: {
    enter: (page) => page.getByRole('button', { name: 'Copy shops as text' }).click(),
    about: '.counts:not(:empty)',
  },
  found: { enter: (page) => page.getByLabel('Find in many').fill('Item 399'), about: 'tr.found' },
  'next record': {
    enter: (page) => page.getByText('next', { exact: true }).first().click(),
    about: '.one:not([hidden])',
  },
  'numbers of a chart': { enter: (page) => page.locator('.nums summary').first().click(), about: '.nums[open] table' },
  'chart by keyboard': {
    enter: async (page) => {
      await page.locator('#x-chart ~ .chart').focus()
      await page.keyboard.press('ArrowRight')
    },
    about: '.chart .here',
  },
  'cell by keyboard': {
    enter: async (page) => {
      await page.locator('#x-heat ~ .wide').focus()
      await page.keyboard.press('ArrowDown')
    },
    about: '#x-heat ~ .wide td:focus, #x-heat ~ .wide th:focus',
  },
  'a link with a changed target': {
    enter: (page) => follow(page, 'set.target=2000&theme=dark'),
    about: '.counts b',
  },
}
const THEMES = ['light', 'dark'] as const
/** 640 is a page of 1280 pixels at 200 % zoom. */
const WIDTHS = FULL ? [1280, 640, 320] : [1280, 320]
/** In the short run each case has every so many-th state, by turns. */
const SHORT = 14

/** What axe finds: on the whole page, or in the parts that a state is about. */
async function finds(page: Page, about?: string): Promise<string[]> {
  await page.evaluate(axe.source)
  const results = await page.evaluate((selector) => {
    const section = selector === undefined ? null : (document.querySelector(selector)?.closest('section') ?? null)
    section?.setAttribute('data-checked', '')
    const parts = ['.stripbox', '.tools', '.whybox', ...(section === null ? [] : ['[data-checked]'])]
    const whole = selector === undefined
    return (window as unknown as { axe: typeof axe }).axe.run(
      whole ? document : { include: parts.map((part) => [part]) },
      {
        runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', ...(whole ? ['best-practice'] : [])],
        resultTypes: ['violations'],
      },
    )
  }, about)
  return results.violations.map((v) => `${v.id}: ${v.nodes[0].html.slice(0, 160)} ${v.nodes[0].failureSummary ?? ''}`)
}

// In the short run one wide and light, one narrow and dark.
const CASES = THEMES.flatMap((theme) => WIDTHS.map((width) => ({ theme, width }))).filter(
  ({ theme, width }) => FULL || (theme === 'light') === width > 320,
)

test.each(CASES.map((one, i) => [one.theme, one.width, i] as const))(
  'axe finds nothing in any state, and nothing runs over the side: %s, %i pixels wide',
  async (theme, width, turn) => {
    expect(Object.keys(STATES).length).toBeGreaterThanOrEqual(25)
    const states = Object.entries(STATES).filter((_, i) => FULL || i % SHORT === turn)
    for (const [i, [name, { enter, about }]] of states.entries()) {
      const { page, faults, done } = await browser.open(width)
      page.setDefaultTimeout(20_000)
      await page.emulateMedia({ colorScheme: theme })
      await goTo(page, url)
      await enter(page)
      await page.locator('main:not([aria-busy=true]) .tools').waitFor()
      await expect.poll(() => page.locator(about).count(), { message: name, timeout: 20_000 }).toBeGreaterThan(0)
      // The whole page as it is opened, and in some states by turns; else what a state changes.
      const isWhole = name === 'opened' || (FULL && i % CASES.length === turn)
      expect(await finds(page, isWhole ? undefined : about), name).toEqual([])
      expect(await page.evaluate(() => document.documentElement.scrollWidth), name).toBeLessThanOrEqual(width)
      expect(faults, name).toEqual([])
      await done()
    }
  },
  600_000,
)

test('a moved target changes strip and counts without scrolling, and its cells are gone through one by one', async () => {
  const { page, faults } = await browser.open()
  await goTo(page, url)
  const counts = (): Promise<string[]> => page.locator('.band a b').allTextContents()
  const before = await counts()
  const { out } = await acuarela(['tally', 'r.acuarela.yaml', '--json'], cwd)
  const tally = (JSON.parse(out) as { statuses: { exhibit: string; measure: string; count: number }[] }).statuses
  const shops = tally.filter(({ exhibit, measure, count }) => exhibit === 'shops' && measure === 'revenue' && count > 0)
  expect(before).toEqual(shops.map(({ count }) => String(count)))
  await setParameter(page, 'Target', '2400')
  await page.locator('main:not([aria-busy=true]) .counts:not(:empty)').waitFor()
  expect(await counts()).not.toEqual(before)
  expect(await page.evaluate(() => scrollY)).toBe(0)
  for (const part of ['.strip', '.strip .before', '.counts']) {
    const box = await page.locator(part).boundingBox()
    expect((box?.y ?? -1) >= 0 && (box?.y ?? 0) + (box?.height ?? 0) <= 800, part).toBe(true)
  }
  const said = (await page.locator('.counts').textContent()) ?? ''
  const [moved, restyled] = [/(\d+) cells? changed status/, /(\d+) changed colour/].map((text) =>
    Number(text.exec(said)?.[1] ?? 0),
  )
  // The same cells by the tool: those whose status is another, and those whose style alone is.
  const { against } = JSON.parse(
    (await acuarela(['tally', 'r.acuarela.yaml', '--against', 'target=2400', '--json'], cwd)).out,
  ) as { against: { cells: object[]; restyled: object[] } }
  expect([moved, restyled]).toEqual([against.cells.length, against.restyled.length])
  const met = new Set<string>()
  for (let i = 0; i < moved + restyled; i++) {
    await page.locator('[data-walk="1"]').click()
    expect(await page.locator('.walk span').textContent()).toBe(`${i + 1} of ${moved + restyled}`)
    const here = page.locator('.exhibits .here')
    expect(await here.count()).toBe(1)
    met.add(
      await here.evaluate((element) => {
        const row = element.closest('[data-row]')
        const section = element.closest('section')?.getAttribute('aria-labelledby')
        return `${section} ${row?.getAttribute('data-row')} ${(element as HTMLTableCellElement).cellIndex ?? ''}`
      }),
    )
    const box = await here.boundingBox()
    expect((box?.y ?? -1) > 0 && (box?.y ?? 900) < 800).toBe(true)
  }
  expect(met.size).toBe(moved + restyled)
  // The next step begins again.
  await page.locator('[data-walk="1"]').click()
  expect(await page.locator('.walk span').textContent()).toBe(`1 of ${moved + restyled}`)
  // The × of the chip takes it back.
  await page.locator('[data-parameter=target] .undo').click()
  await page.locator('main:not([aria-busy=true]) .counts:empty').waitFor({ state: 'attached' })
  expect(await counts()).toEqual(before)
  expect(faults).toEqual([])
})

test('forced colours and paper keep icons and words of the strip; a part goes to its cells', async () => {
  const { page } = await browser.open()
  await page.emulateMedia({ forcedColors: 'active' })
  await goTo(page, url)
  const first = page.locator('.band a').first()
  expect(await first.textContent()).toContain('On target')
  expect((await first.locator('svg').boundingBox())?.width).toBeGreaterThan(10)
  await page.emulateMedia({ forcedColors: 'none', media: 'print' })
  expect(await first.isVisible()).toBe(true)
  expect(await first.evaluate((element) => getComputedStyle(element, '::before').filter)).toBe('none')
  await page.emulateMedia({ media: 'screen' })
  await first.click()
  expect(await page.evaluate(() => scrollY)).toBe(0)
  const listed = await page.locator('.cells [data-cell]').allTextContents()
  expect(listed.length).toBe(Number(await first.locator('b').textContent()))
  await page.locator('.cells [data-cell]').last().click()
  expect(await page.locator('td.here').textContent()).toContain(listed.at(-1)?.split(' ').at(-1))
})
