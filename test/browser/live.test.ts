import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { pathToFileURL } from 'node:url'
import axe from 'axe-core'
import fc from 'fast-check'
import type { Page } from 'playwright-core'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { parse } from 'yaml'
import { useBrowser } from '../support/browser.js'
import { choosePeriod, inMenu, openChip, setParameter } from '../support/controls.js'
import { effort, FULL } from '../support/effort.js'
import { exhibitOf, type Painted } from '../support/painted.js'
import { acuarela, folder, ROOT } from '../support/tool.js'
import { WILDER, WILDER_CSV } from '../support/wild.js'
import { readBook } from '../support/workbook-reading.js'

const SPRING = join(ROOT, 'examples/brezal/spring.acuarela.yaml')
const browser = useBrowser()
let url = ''
let shopsUrl = ''
let cwd = ''
/** The demo report, and the same with a table and a chart alone, which opens in half the time. */
let shopsReport = SPRING
beforeAll(async () => {
  cwd = await mkdtemp(join(tmpdir(), 'acuarela-'))
  const file = join(cwd, 'spring.html')
  await acuarela(['paint', SPRING, '--out', file, '--quiet'])
  shopsUrl = url = pathToFileURL(file).href
  if (FULL) return
  const spec = parse(await readFile(SPRING, 'utf8')) as Spec
  for (const source of Object.values(spec.sources)) source.file = join(dirname(SPRING), source.file)
  const kept = (name: string): boolean => name === 'shops' || name === 'months'
  spec.exhibits = spec.exhibits.filter(({ name }) => kept(name))
  // Each rule for the exhibits that are left, of those behind `in`.
  const place = / in ([\w, ]+?)(?= judged by| within|:)/
  spec.rules = spec.rules.flatMap((rule) => {
    const only = place
      .exec(rule.say)?.[1]
      .split(/, | and /)
      .filter(kept)
    return only?.length === 0 ? [] : [{ ...rule, say: rule.say.replace(place, ` in ${only?.join(' and ')}`) }]
  })
  shopsReport = join(cwd, 'shops.acuarela.json')
  await writeFile(shopsReport, JSON.stringify(spec))
  const painted = await acuarela(['paint', shopsReport, '--out', join(cwd, 'shops.html'), '--quiet'])
  expect([painted.code, painted.err]).toEqual([0, ''])
  shopsUrl = pathToFileURL(join(cwd, 'shops.html')).href
})
afterAll(() => rm(cwd, { recursive: true, force: true }))

interface Spec {
  sources: Record<string, { file: string }>
  exhibits: { name: string }[]
  rules: { say: string }[]
}

async function live(address = '', from = url): ReturnType<typeof browser.open> {
  const opened = await browser.open()
  await opened.page.goto(`${from}${address}`)
  await settled(opened.page)
  return opened
}

/** The page of the shops; in the full run the whole demo page. */
const liveShops = (address = ''): ReturnType<typeof live> => live(address, shopsUrl)

async function settled(page: Page): Promise<void> {
  await page.locator('main:not([aria-busy=true]) .tools').waitFor()
}

/** The URL holds the state after the slider rests. */
async function link(page: Page): Promise<string> {
  await page.waitForTimeout(500)
  return new URL(page.url()).hash
}

/** Texts and status words of a table's cells, row by row. */
function shown(page: Page, exhibit: string): Promise<string[][]> {
  return page
    .locator(`section:has(#x-${exhibit}) tbody tr`)
    .evaluateAll((rows) => rows.map((row) => [...row.querySelectorAll('td')].map((cell) => cell.textContent ?? '')))
}

/** The same from the tool. */
async function printed(exhibit: string, ...args: string[]): Promise<string[][]> {
  const { out } = await acuarela(['paint', shopsReport, '--to', 'json', '--quiet', ...args])
  const rows = new Map<string, string[]>()
  const label: Record<string, string> = { ahead: 'On target', close: 'Near target', behind: 'Behind' }
  for (const { row, text, style: look, measure } of exhibitOf(JSON.parse(out) as Painted, exhibit).cells) {
    const key = JSON.stringify(row)
    const words = measure === 'revenue' && look.status !== null ? `${label[look.status]}, ` : ''
    rows.set(key, [...(rows.get(key) ?? []), measure === 'revenue' ? words + text : text])
  }
  return [...rows.values()]
}

/** The revenue month by month over two years from the tool, for the rows of an exhibit. */
async function monthly(conditions: Readonly<Record<string, string>>): Promise<Painted> {
  const cwd = await folder({
    'months.acuarela.json': JSON.stringify({
      title: 'Months',
      locale: 'en-GB',
      sources: { sales: { file: join(ROOT, 'examples/brezal/sales.csv'), date: 'date' } },
      measures: { revenue: { formula: 'sum(amount)', format: 'money EUR 0' } },
      period: 'last 24 months',
      exhibits: Object.entries(conditions).map(([name, where]) => ({
        name,
        where,
        table: { rows: 'month', show: 'revenue' },
      })),
    }),
  })
  const { out } = await acuarela(['paint', 'months.acuarela.json', '--to', 'json', '--quiet'], cwd)
  return JSON.parse(out) as Painted
}

/** The page with colours in place of class names, and without the outlines of the last change. */
function snapshot(page: Page): Promise<string> {
  return page.locator('.exhibits').evaluate((root) => {
    const css = [...document.querySelectorAll('style')].map((style) => style.textContent ?? '').join('\n')
    const declarations = [...css.matchAll(/\.([lr]v?\d+)\{([^}]*)\}/g)].map(([, name, text]) => [name, text] as const)
    // The first rule of a class is the one of the light theme.
    const rules = new Map(declarations.reverse())
    const copy = root.cloneNode(true) as Element
    for (const element of copy.querySelectorAll('*')) {
      element.removeAttribute('tabindex')
      const classes = [...element.classList].filter((name) => !['moved', 'covered', 'reached'].includes(name))
      const named = classes.map((name) => (/^[lr]v?\d+$/.test(name) ? (rules.get(name) ?? '?') : name))
      if (named.length === 0) element.removeAttribute('class')
      else element.setAttribute('class', named.join(' '))
      // Mounts are numbered, which changes ids alone.
      for (const attribute of ['id', 'clip-path', 'aria-labelledby'])
        if (element.closest('svg') !== null) element.removeAttribute(attribute)
      // Patching may add attributes in another order than parsing.
      const attributes = [...element.attributes].map(({ name, value }) => [name, value])
      for (const [name] of attributes) element.removeAttribute(name)
      for (const [name, value] of attributes.sort()) element.setAttribute(name, value)
    }
    return copy.innerHTML.replace(/plot-[a-z\d]+/g, 'plot')
  })
}

async function axeFinds(page: Page): Promise<string[]> {
  await page.evaluate(axe.source)
  const results = await page.evaluate(() =>
    (window as unknown as { axe: typeof axe }).axe.run(document, {
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'],
      resultTypes: ['violations'],
    }),
  )
  return results.violations.map((v) => `${v.id}: ${v.nodes[0].html.slice(0, 140)} ${v.nodes[0].failureSummary ?? ''}`)
}

test('moving the target recolours exactly the cells that the tool recolours, says how many, and marks them', async () => {
  const { page, faults } = await liveShops()
  const before = await shown(page, 'shops')
  await setParameter(page, 'Target level', '125')
  await settled(page)
  const after = await shown(page, 'shops')
  const expected = await printed('shops', '--set', 'targetLevel=125%')
  expect(after.map((row) => row[0])).toEqual(expected.map((row) => row[0]))
  const changed = after.filter((row, r) => row[0] !== before[r][0]).length
  expect(changed).toBeGreaterThan(2)
  expect(await page.locator('section:has(#x-shops) td.moved').count()).toBe(changed)
  expect(await page.locator('.counts').textContent()).toMatch(
    /^Target level 125% \(was 100%\): On target \d+ → \d+, .*Behind \d+ → \d+; \d+ cells changed status/,
  )
  // The next change removes the outlines.
  await inMenu(page, () => page.getByRole('button', { name: 'Reset', exact: true }).click())
  await settled(page)
  expect(await page.locator('td.moved').count()).toBe(0)
  expect(await shown(page, 'shops')).toEqual(before)
  expect(faults).toEqual([])
})

test('filters and periods give what the tool gives, an empty result is reported, and a link restores it all', async () => {
  const { page, faults } = await liveShops()
  await openChip(page, 'Region')
  await page.getByRole('checkbox', { name: 'Coast' }).check()
  await page.keyboard.press('Escape')
  await choosePeriod(page, 'last 12 months')
  await settled(page)
  const expected = await printed('shops', '--where', "region = 'Coast'", '--period', 'last 12 months')
  expect((await shown(page, 'shops')).map((row) => row[0])).toEqual(expected.map((row) => row[0]))
  const again = await liveShops(await link(page))
  expect(await snapshot(again.page)).toBe(await snapshot(page))
  expect(await again.page.getByText('Region Coast').count()).toBe(1)
  await choosePeriod(page, '2022')
  await openChip(page, 'Line')
  await page.getByRole('checkbox', { name: 'Hedging' }).check()
  await settled(page)
  const none = await liveShops('#period=2021')
  expect(await none.page.locator('section:has(#x-shops)').textContent()).toContain(
    'no row is in the period and meets the conditions of this exhibit',
  )
  expect([...faults, ...again.faults, ...none.faults]).toEqual([])
})

test('turns at random: what is shown is always what a fresh page with the same link shows', async () => {
  const { page, faults } = await liveShops()
  const turns = fc.sample(fc.tuple(fc.nat(8), fc.nat(1000)), { numRuns: effort(100, 8), seed: 7 })
  for (const [t, [what, n]] of turns.entries()) {
    if (what <= 1) await setParameter(page, 'Target level', String(60 + 5 * (n % 17)))
    else if (what === 2) await setParameter(page, 'Slack', String(n % 40), 'spinbutton')
    else if (what <= 4) await toggle(page, '[data-key] input[type=checkbox]', n)
    else if (what === 5) await toggle(page, '[data-rule] input', n)
    else if (what === 6) await choosePeriod(page, { index: n % 8 })
    else if (what === 7)
      await page
        .locator('th button')
        .nth(n % (await page.locator('th button').count()))
        .evaluate((element) => (element as HTMLElement).click())
    else await inMenu(page, () => page.getByRole('button', { name: 'Reset', exact: true }).click())
    await settled(page)
    if ((t + 1) % effort(25, 8) !== 0) continue
    const fresh = await liveShops(await link(page))
    expect(await snapshot(page), `after ${t + 1} turns: ${page.url().slice(-200)}`).toBe(await snapshot(fresh.page))
    expect(fresh.faults).toEqual([])
    await fresh.done()
  }
  expect(faults).toEqual([])
})

async function toggle(page: Page, selector: string, n: number): Promise<void> {
  const all = page.locator(selector)
  await all.nth(n % (await all.count())).evaluate((element) => (element as HTMLElement).click())
}

test('a cell says what lies behind it, month by month, and stays readable under the pointer; a mark of a chart does, too', async () => {
  const { page, faults } = await live()
  const box = page.locator('.whybox')
  const cell = page.locator('section:has(#x-shops) tbody tr', { hasText: 'Saltmarsh' }).locator('td').first()
  await cell.hover()
  await box.locator('svg.trend').waitFor()
  // The tool's values of the shop in each of these months.
  const { cells } = exhibitOf(await monthly({ m: "shop = 'Saltmarsh'" }), 'm')
  expect(cells.length).toBe(24)
  const byValue = [...cells].sort((a, b) => Number(a.value) - Number(b.value))
  const said = (await box.locator('.behind p').textContent()) ?? ''
  expect(said).toContain(`Saltmarsh, Revenue: Jun 2025 ${cells[23].text}`)
  expect(said).toContain(`${byValue[0].text}, highest`)
  expect(said.endsWith(byValue[23].text)).toBe(true)
  // The pointer may move onto the popover; Escape closes it.
  await box.locator('svg.trend').hover()
  await page.waitForTimeout(200)
  expect(await box.isVisible()).toBe(true)
  await page.keyboard.press('Escape')
  expect(await box.isHidden()).toBe(true)
  // Closing the popover fires `pointerover` on the cell beneath; it opens again only after the
  // pointer moves.
  await cell.dispatchEvent('pointerover', { pointerType: 'mouse' })
  expect(await box.isHidden()).toBe(true)
  const marks = page.locator('section:has(#x-months) .chart [data-row]')
  await marks.nth(8).hover()
  expect(await box.textContent()).toContain('Mar 2025')
  expect(await box.textContent()).toContain('at least €140,000 (Month target)')
  // By keyboard, mark by mark; the lines of a chart without colours have points, too.
  const chart = page.getByRole('region', { name: 'Months against the target, chart' })
  await chart.focus()
  for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowRight')
  expect(await box.textContent()).toContain('Sept 2024')
  expect(await page.locator('section:has(#x-regions) .chart circle[data-row]').count()).toBe(36)
  expect(await page.locator('.chart .here').count()).toBe(1)
  await page.locator('.chip summary').first().focus()
  expect([await page.locator('.chart .here').count(), await box.isHidden()]).toEqual([0, true])
  // A moved slider outlines the changed marks, as it does cells.
  const before = await marks.evaluateAll((all) => all.map((mark) => mark.getAttribute('fill')))
  await setParameter(page, 'Month target', '160000', 'spinbutton')
  await settled(page)
  const after = await marks.evaluateAll((all) =>
    all.map((mark) => [mark.getAttribute('fill'), mark.classList.contains('moved')]),
  )
  expect(after.filter(([fill], k) => fill !== before[k]).length).toBeGreaterThan(2)
  for (const [k, [fill, moved]] of after.entries()) expect(moved, String(fill)).toBe(fill !== before[k])
  expect(faults).toEqual([])
})

test.runIf(FULL)(
  'what lies behind the rest of a key is that of all the others; behind a cell of a month, that of its row; nothing behind records',
  async () => {
    const { page, faults } = await live()
    const { out } = await acuarela(['paint', SPRING, '--to', 'json', '--quiet'])
    const painted = JSON.parse(out) as Painted
    const lines = exhibitOf(painted, 'lines').cells.flatMap(({ row, level }) =>
      level.row === 'detail' && row.line !== null ? [row.line] : [],
    )
    const six = [...new Set(lines)]
    expect(six).toHaveLength(6)
    const figures = await monthly({
      rest: `not (line in (${six.map((line) => `'${line}'`).join(', ')})) or line is missing`,
      roses: "line = 'Roses'",
    })
    /** The last value, the lowest and the highest, as printed on the page. */
    const said = (exhibit: string, name: string): RegExp => {
      const cells = exhibitOf(figures, exhibit).cells.filter(({ value }) => value !== null)
      const sorted = [...cells].sort((a, b) => Number(a.value) - Number(b.value))
      const escaped = [cells.at(-1), sorted[0], sorted.at(-1)].map((cell) => cell?.text.replace(/[$.]/g, '\\$&'))
      return new RegExp(`^${name}, Revenue: .* ${escaped[0]}, lowest .* ${escaped[1]}, highest .* ${escaped[2]}$`)
    }
    const behind = page.locator('.whybox .behind p')
    const other = page.locator('section:has(#x-lines) tbody tr', { hasText: 'Other lines' }).locator('td').first()
    await other.hover()
    await expect.poll(() => behind.textContent(), { timeout: 20_000 }).toMatch(said('rest', 'Other lines'))
    const month = page.locator('section:has(#x-seasons) .heat tbody tr', { hasText: 'Roses' }).locator('td').nth(20)
    await month.hover()
    await expect.poll(() => behind.textContent(), { timeout: 20_000 }).toMatch(said('roses', 'Roses'))
    await page.locator('section:has(#x-orders) tbody td').nth(5).hover()
    await page.locator('.whybox', { hasText: 'Row ' }).waitFor()
    await page.waitForTimeout(400)
    expect(await behind.count()).toBe(0)
    expect(faults).toEqual([])
  },
)

test.runIf(FULL)('a tapped cell shows its reason until the reader taps elsewhere', async () => {
  const opened = await browser.open()
  const context = await opened.page
    .context()
    .browser()
    ?.newContext({ hasTouch: true, viewport: { width: 390, height: 800 } })
  const page = await context?.newPage()
  if (page === undefined) throw new Error('no page')
  await page.goto(url)
  await settled(page)
  const cell = page.locator('section:has(#x-shops) tbody tr', { hasText: 'Saltmarsh' }).locator('td').first()
  await cell.scrollIntoViewIfNeeded()
  await cell.tap()
  const box = page.locator('.whybox')
  await box.locator('svg.trend').waitFor()
  expect(await box.textContent()).toContain('Saltmarsh')
  await page.getByRole('heading', { name: 'Shops against target and plan' }).tap()
  expect(await box.isHidden()).toBe(true)
})

test.runIf(FULL)(
  'a range of months gives what the tool gives; a rule that has the focus outlines its cells',
  async () => {
    const { page, faults } = await liveShops()
    await choosePeriod(page, 'from … to …')
    await settled(page)
    // The month boxes hold at once: the whole range.
    expect(await page.locator('section:has(#x-shops) .note').textContent()).toContain('Jul 2022 to Jun 2025')
    await page.getByLabel('First month').fill('2024-03')
    await page.getByLabel('Last month').fill('2024-11')
    await settled(page)
    const expected = await printed('shops', '--period', '2024-03 to 2024-11')
    expect((await shown(page, 'shops')).map((row) => row[0])).toEqual(expected.map((row) => row[0]))
    const again = await liveShops(await link(page))
    expect(await again.page.getByLabel('Last month').inputValue()).toBe('2024-11')
    // A period that is not listed is added.
    const quarter = await liveShops('#period=2024-Q2')
    expect(await quarter.page.locator('select[data-do=period]').inputValue()).toBe('2024-Q2')
    expect(await quarter.page.locator('section:has(#x-shops) .note').textContent()).toContain('Apr 2024 to Jun 2024')
    await openChip(page, '⋯')
    await page.locator('[data-rule=againstTarget] input').focus()
    expect(await page.locator('section:has(#x-shops) td.reached').count()).toBe(9)
    await page.keyboard.press('Escape')
    expect(await page.locator('td.reached').count()).toBe(0)
    expect([...faults, ...again.faults, ...quarter.faults]).toEqual([])
  },
)

test('records one at a time: by links and by keys, to the next painted one, each saying why', async () => {
  const cwd = await folder({
    's.csv': `shop,amount\n${[5, 50, 7, 90, 3].map((v, i) => `Shop ${i + 1},${v}`).join('\n')}\n`,
    'r.acuarela.yaml': `title: One at a time
sources: { sales: { file: s.csv } }
measures: { total: sum(amount) }
statuses: { large: { label: Large, wash: aqua, icon: tick } }
rules: [{ name: large, paint: amount, bands: [{ atLeast: 40, status: large }] }]
exhibits: [{ name: orders, title: Orders, records: { show: [shop, amount], oneAtATime: true } }]
`,
  })
  await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--quiet'], cwd)
  const { page, faults } = await browser.open()
  await page.goto(pathToFileURL(join(cwd, 'r.html')).href)
  await settled(page)
  const seen = (): Promise<string[]> =>
    page
      .locator('article.one')
      .evaluateAll((all) =>
        all
          .filter((article) => (article as HTMLElement).offsetHeight > 0)
          .map((article) => article.querySelector('.pos')?.textContent?.slice(0, 6) ?? ''),
      )
  expect(await seen()).toEqual(['1 of 5'])
  await page.getByRole('link', { name: 'next painted' }).click()
  expect(await seen()).toEqual(['2 of 5'])
  // The same link has the focus again.
  await page.keyboard.press('Enter')
  expect(await seen()).toEqual(['4 of 5'])
  await page.keyboard.press('ArrowLeft')
  expect(await seen()).toEqual(['3 of 5'])
  for (const key of ['ArrowRight', 'ArrowDown', 'ArrowDown']) await page.keyboard.press(key)
  expect(await page.locator('.whybox').textContent()).toMatch(/Shop 4, row 4.*amount 90 · Large.*at least 40: yes/s)
  expect(await axeFinds(page)).toEqual([])
  for (const key of ['ArrowRight', 'ArrowRight', 'ArrowRight']) await page.keyboard.press(key)
  expect(await seen()).toEqual(['5 of 5'])
  expect(new URL(page.url()).hash).toBe('')
  expect(faults).toEqual([])
})

test('by keyboard alone: a cell says why, a heading sorts, a list opens and closes', async () => {
  const { page, faults } = await liveShops()
  const region = page.getByRole('region', { name: 'Shops against target and plan, table' })
  await region.focus()
  for (const key of ['ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown']) await page.keyboard.press(key)
  const box = page.locator('.whybox')
  await box.waitFor()
  expect(await box.textContent()).toMatch(/Larkmoor|Saltmarsh|Quay Lane|Wren Hollow|Heatherby/)
  expect(await box.textContent()).toContain('(100% (Target level) of Target)')
  expect(await axeFinds(page)).toEqual([])
  await page.keyboard.press('Escape')
  expect(await box.isHidden()).toBe(true)
  expect(await page.locator('[data-rule=againstTarget] p').textContent()).toContain(
    'On target at 100% (Target level) of Target or more',
  )
  await setParameter(page, 'Target level', '80', 'spinbutton')
  await settled(page)
  expect(await page.locator('[data-rule=againstTarget] p').textContent()).toContain(
    'On target at 80% (Target level) of Target or more',
  )
  const sort = page.getByRole('button', { name: 'Plan', exact: true }).first()
  await sort.focus()
  await page.keyboard.press('Enter')
  await settled(page)
  expect(await page.locator('section:has(#x-shops) th[aria-sort=descending]').textContent()).toBe('Plan')
  expect(await page.evaluate(() => document.activeElement?.textContent)).toBe('Plan')
  const rules = page.locator('.menu summary')
  await rules.focus()
  await page.keyboard.press('Enter')
  const item = page.locator('[data-rule=againstTarget]')
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

test('with scripts off the page still reads', async () => {
  const { page } = await browser.open()
  const off = await page.context().browser()?.newContext({ javaScriptEnabled: false })
  const still = await off?.newPage()
  await still?.goto(url)
  expect(await still?.locator('h1').textContent()).toBe('Brezal Nurseries, spring review')
  expect(await still?.locator('section').count()).toBeGreaterThan(8)
  expect(await still?.locator('.tools').count()).toBe(0)
})

test.runIf(FULL)(
  'the report as it is shown is downloaded as a workbook, which is that of the tool, with charts as pictures',
  async () => {
    const { page, faults } = await live('#set.targetLevel=1.25')
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      inMenu(page, () => page.getByRole('button', { name: 'Download workbook', exact: true }).click()),
    ])
    expect(file.suggestedFilename()).toBe('Brezal-Nurseries-spring-review.ods')
    const own = readBook(await readFile(await file.path()))
    await acuarela(['paint', SPRING, '--set', 'targetLevel=125%', '--out', join(cwd, 'moved.ods'), '--quiet'])
    const wanted = readBook(await readFile(join(cwd, 'moved.ods')))
    // The words of rules differ: here they are said with their present limits.
    const data = ({ sheets }: typeof own) => sheets.filter(({ name }) => name !== 'Legend and rules')
    expect(data(own).length).toBeGreaterThan(8)
    expect(data(own).map(({ name, rows }) => [name, rows])).toEqual(data(wanted).map(({ name, rows }) => [name, rows]))
    const words = own.sheets.find(({ name }) => name === 'Legend and rules')?.rows.flatMap(({ cells }) => cells)
    expect(words?.some(({ text }) => /125% \(Target level\) of Target/.test(text))).toBe(true)
    const pictures = Object.keys(own.files).filter((name) => name.startsWith('Pictures/'))
    expect(pictures.length).toBe(2 * data(own).filter(({ pictures: drawn }) => drawn.length > 0).length)
    for (const name of pictures.filter((one) => one.endsWith('.png')))
      expect([...own.files[name].subarray(1, 4)].map((code) => String.fromCharCode(code)).join('')).toBe('PNG')
    expect(faults).toEqual([])
  },
)

test.runIf(FULL)('a page that was written in the dark theme opens in it, and a link has the last word', async () => {
  const file = join(cwd, 'dark.html')
  await acuarela(['paint', shopsReport, '--theme', 'dark', '--out', file, '--quiet'])
  const dark = pathToFileURL(file).href
  const ground = (page: Page): Promise<string> =>
    page.evaluate(() => getComputedStyle(document.documentElement).backgroundColor)
  const { page, faults } = await live('', dark)
  expect(await page.getByLabel('Theme').inputValue()).toBe('dark')
  const other = await live('#theme=light', dark)
  expect(await ground(other.page)).toBe('rgb(251, 252, 253)')
  expect(await ground(page)).not.toBe(await ground(other.page))
  expect([...faults, ...other.faults]).toEqual([])
})

test.runIf(FULL)(
  'a page that strains everything lives: each exhibit answers why, and a link opens what its reader made of it',
  async () => {
    const cwd = await folder({ 'w.acuarela.yaml': WILDER, 's.csv': WILDER_CSV })
    await acuarela(['paint', 'w.acuarela.yaml', '--out', 'w.html', '--quiet'], cwd)
    const address = pathToFileURL(join(cwd, 'w.html')).href
    const { page, faults } = await browser.open()
    await page.goto(address)
    await settled(page)
    const box = page.locator('.whybox')
    for (const name of ['cards', 'nested', 'flat', 'forty', 'lent', 'single', 'listed', 'runs', 'lying', 'points']) {
      const section = page.locator(`section:has(> #x-${name})`)
      await section.locator('tbody td:visible, article.card, .chart [data-row]').first().hover({ force: true })
      await box.locator('.cap').waitFor({ timeout: 20_000 })
      expect(await box.textContent(), name).not.toBe('')
      await page.mouse.move(2, 2)
      expect(await box.isHidden(), name).toBe(true)
    }
    await setParameter(page, 'Target', '900', 'spinbutton')
    await page.locator('.chip summary', { hasText: 'Kind' }).click()
    await page.getByRole('checkbox', { name: 'Trade' }).check()
    await openChip(page, '⋯')
    await page.locator('[data-rule=heat] input').uncheck()
    await page.keyboard.press('Escape')
    await inMenu(page, () => page.getByLabel('Show without colours').check())
    await choosePeriod(page, 'last 12 months')
    await settled(page)
    const fresh = await browser.open()
    await fresh.page.goto(`${address}${await link(page)}`)
    await settled(fresh.page)
    expect(await snapshot(page)).toBe(await snapshot(fresh.page))
    expect([...faults, ...fresh.faults]).toEqual([])
  },
)
