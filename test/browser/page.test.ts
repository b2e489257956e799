import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { wcagContrast } from 'culori'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { goTo, useBrowser } from '../support/browser.js'
import { FULL } from '../support/effort.js'
import { exhibitOf, type Painted } from '../support/painted.js'
import { acuarela, folder } from '../support/tool.js'

const browser = useBrowser()

/** The demo as the tool makes it, once for all tests. */
let demo = { url: '', painted: {} as Painted, html: '' }
let made = ''
beforeAll(async () => {
  made = await mkdtemp(join(tmpdir(), 'acuarela-'))
  await acuarela(['demo'], made)
  const html = join(made, 'out/spring.html')
  demo = {
    url: pathToFileURL(html).href,
    painted: JSON.parse(await readFile(join(made, 'out/spring.json'), 'utf8')) as Painted,
    html: await readFile(html, 'utf8'),
  }
})
afterAll(() => rm(made, { recursive: true, force: true }))

test('the demo page shows every cell with the text, the colours and the words of the painted data', async () => {
  const { url, painted } = demo
  const { page, faults } = await browser.open()
  await goTo(page, url)
  for (const name of ['shops', 'seasons']) {
    const shown = await page.locator(`section:has(#x-${name}) > .wide tbody td`).evaluateAll((cells) =>
      cells.map((cell) => {
        const hex = (color: string): string =>
          `#${(color.match(/\d+/g) ?? [])
            .slice(0, 3)
            .map((n) => Number(n).toString(16).padStart(2, '0'))
            .join('')}`
        const dab = cell.querySelector(':scope > span:not(.v)') ?? cell
        const style = getComputedStyle(dab)
        const plain = style.backgroundColor === 'rgba(0, 0, 0, 0)'
        return {
          text: cell.textContent ?? '',
          fill: plain ? null : hex(style.backgroundColor),
          ink: hex(style.color),
          icons: cell.querySelectorAll('use').length,
        }
      }),
    )
    const { cells } = exhibitOf(painted, name)
    expect(shown).toHaveLength(cells.length)
    const labels: Record<string, string> = {
      ahead: 'On target',
      close: 'Near target',
      behind: 'Behind',
      leading: 'Leading',
      overPlan: 'Above plan',
      shortOfPlan: 'Under plan',
    }
    cells.forEach((cell, i) => {
      const { status, fill, ink, icon } = cell.style
      const words = status === null ? cell.text : `${labels[status]}, ${cell.text}`
      expect(shown[i]).toMatchObject({ text: words, fill, icons: icon === null ? 0 : 1 })
      if (ink !== null) expect(shown[i].ink).toBe(ink)
      if (fill !== null) expect(wcagContrast(fill, shown[i].ink)).toBeGreaterThanOrEqual(4.5)
    })
  }
  expect(faults).toEqual([])
})

test('the chart’s marks wear the colours of their statuses, its target is a line, and a table stands behind it', async () => {
  const { url, painted } = demo
  const { page } = await browser.open()
  await goTo(page, url)
  const bars = await page.locator('section:has(#x-months) svg g[data-mark="rect"] > *').evaluateAll((marks) =>
    marks.map((m) => ({
      fill: m.getAttribute('fill')?.replace(/var\(--k(\w+)\)/, '#$1'),
      row: m.getAttribute('data-row'),
    })),
  )
  const bodies: Record<string, string> = { ahead: '#0a8783', close: '#cfc02a', behind: '#d8504c' }
  const { cells } = exhibitOf(painted, 'months')
  expect(bars.map((b) => b.fill)).toEqual(cells.map((c) => bodies[c.style.status ?? '']))
  expect(bars.map(({ row }) => row)).toEqual(cells.map((_, i) => String(i)))
  const chart = page.locator('section:has(#x-months) svg[role=img]')
  expect(await chart.textContent()).toContain('Month target')
  expect(await chart.locator('g[stroke-dasharray]').count()).toBe(1)
  const rows = await page.locator('section:has(#x-months) table tr').allTextContents()
  expect(rows).toContain('Jul 2024€111,385Behind')
  expect(rows).toContain('Month target€140,000')
})

test('tables are tables: captions, scopes, a heading each; legends say limits as numbers', async () => {
  const { url } = demo
  const { page } = await browser.open()
  await goTo(page, url)
  expect(await page.locator('h1').allTextContents()).toEqual(['Brezal Nurseries, spring review'])
  expect(await page.locator('h2').allTextContents()).toEqual([
    'The quarter so far',
    'The reading',
    'Shops to act on',
    'Shops',
    'Plants',
    'Orders',
    'Sources',
  ])
  expect(await page.locator('h3').allTextContents()).toEqual([
    'Shops against target and plan',
    'Months against the target',
    'Revenue and plan by region',
    'The lines of plants',
    'Where they are sold',
    'The season of each line',
    'The largest orders of hedging',
  ])
  for (const table of await page.locator('table').all()) {
    expect(await table.locator('caption').count()).toBe(1)
    expect(await table.locator('th:not([scope])').count()).toBe(0)
  }
  const keys = await page.locator('section:has(#x-shops) .key li').allTextContents()
  expect(keys).toEqual([
    'Revenue: Against the target',
    'On target 100% (Target level) of Target or more · 3',
    'Near target 80% (80% of Target level) of Target or more · 4',
    'Behind below 80% (80% of Target level) of Target · 2',
    'Margin: Best of each region, within each region',
    'Leading best 1 · 3',
  ])
  // The list above shows the legend of the gap.
  expect(await page.locator('section:has(#x-shops) .same').allTextContents()).toEqual(['Gap as in Shops to act on'])
  expect(await page.locator('.by span').allTextContents()).toEqual([
    'as of 30 June 2025',
    'sales.csv, budget.csv, shops.csv',
  ])
})

test('nothing overlaps or runs over the side, wide or narrow', async () => {
  const { url } = demo
  for (const width of [1280, 800, 400]) {
    const { page, done } = await browser.open(width)
    await goTo(page, url)
    expect(await page.evaluate(() => document.documentElement.scrollWidth), `${width}`).toBeLessThanOrEqual(width)
    const boxes = await page
      .locator('section')
      .evaluateAll((all) => all.map((s) => s.getBoundingClientRect()).map((b) => [b.left, b.top, b.right, b.bottom]))
    boxes.forEach(([left, top, right, bottom], i) => {
      for (const [l, t, r, b] of boxes.slice(0, i))
        expect(left >= r || l >= right || top >= b || t >= bottom, `${width}: section ${i}`).toBe(true)
    })
    const cut = await page
      .locator('.grid tbody td > span')
      .evaluateAll((all) => all.filter((e) => e.scrollWidth > e.clientWidth + 1).length)
    expect(cut).toBe(0)
    await done()
  }
})

test('on paper the page keeps its colours and repeats the heads of its tables', async () => {
  const { url } = demo
  const { page } = await browser.open()
  await goTo(page, url)
  await page.emulateMedia({ media: 'print' })
  expect(await page.locator('body').evaluate((b) => getComputedStyle(b).printColorAdjust)).toBe('exact')
  expect(
    await page
      .locator('thead')
      .first()
      .evaluate((h) => getComputedStyle(h).display),
  ).toBe('table-header-group')
  // A4 upright less its margins, in CSS pixels.
  await page.setViewportSize({ width: 688, height: 1000 })
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(688)
  expect((await page.pdf({ format: 'A4' })).subarray(0, 5).toString()).toBe('%PDF-')
})

test.runIf(FULL)(
  'long names, close lines, wide axes, negative and missing values: nothing is cut, nothing overlaps',
  async () => {
    const rows = ['date,region,shop,amount']
    for (let m = 1; m <= 12; m++)
      for (const [s, shop] of ['A shop with quite a long name, Ltd', 'B', 'Larkmoor'].entries())
        if (shop !== 'B' || m % 3 > 0)
          rows.push(
            `2025-${String(m).padStart(2, '0')}-10,A region whose name goes on,"${shop}",${(m * 37 + s * 91) * 1000 - 250_000}`,
          )
    const report = {
      title: 'Edges',
      locale: 'de-DE',
      sources: { s: { file: 's.csv', date: 'date' } },
      measures: { net: { formula: 'sum(amount)', format: 'money EUR 0 signed', label: 'Net sales of everything' } },
      parameters: { goal: { value: 20_000, label: 'Goal', format: 'money EUR 0' } },
      statuses: { good: { wash: 'aqua', icon: 'up' }, bad: { wash: 'coral', icon: 'down' } },
      rules: [
        {
          paint: 'net',
          bands: [
            { above: 'goal', status: 'good' },
            { below: '-goal', status: 'bad' },
          ],
        },
        { paint: 'region', bands: [{ contains: 'name', status: 'good' }] },
      ],
      exhibits: [
        {
          name: 't',
          table: {
            rows: ['region', 'shop'],
            columns: 'month',
            show: 'net',
            totals: { rows: 'bottom', columns: 'right' },
          },
        },
        {
          name: 'c',
          chart: { along: 'month', show: 'net', references: [{ at: 'goal' }, { at: '-goal', label: 'Floor' }] },
        },
        { name: 'd', beside: 'c', chart: { along: 'shop', show: 'net' } },
        { name: 'none', where: "shop = 'Mars'", table: { rows: 'shop', show: 'net' } },
      ],
    }
    const cwd = await folder({ 'r.json': JSON.stringify(report), 's.csv': rows.join('\n') })
    expect(await acuarela(['paint', 'r.json', '--out', 'o.html'], cwd)).toMatchObject({ code: 0 })
    const { page } = await browser.open()
    await goTo(page, pathToFileURL(join(cwd, 'o.html')).href)
    // A painted name begins before the text of its column, and is not cut.
    const painted = await page
      .locator('section:has(#x-t) tbody th > .dab')
      .evaluateAll((all) =>
        all.map(
          (element) =>
            element.getBoundingClientRect().left - (element.closest('.wide')?.getBoundingClientRect().left ?? 1e9),
        ),
      )
    expect(painted.length).toBeGreaterThan(0)
    for (const left of painted) expect(left).toBeGreaterThanOrEqual(0)
    // Names of shops are not broken although the table is wider than the page.
    const heights = await page
      .locator('section:has(#x-t) tbody th')
      .evaluateAll((all) => all.map((th) => th.getBoundingClientRect().height))
    expect(Math.max(...heights)).toBeLessThan(60)
    for (const name of ['c', 'd']) {
      const texts = await page.locator(`section:has(#x-${name}) svg[role=img] text`).evaluateAll((all) =>
        all
          .filter((t) => t.textContent !== '')
          .map((t) => ({
            text: t.textContent,
            box: t.getBoundingClientRect(),
            svg: t.closest('svg')?.getBoundingClientRect(),
            turned: /rotate\(-/.test(t.getAttribute('transform') ?? ''),
          })),
      )
      expect(texts.length).toBeGreaterThan(8)
      texts.forEach(({ text, box, svg, turned }, i) => {
        if (svg !== undefined)
          expect(box.left >= svg.left - 1 && box.right <= svg.right + 1, `${text} is cut`).toBe(true)
        // The box of a turned text is mostly empty.
        for (const other of texts.slice(0, i)) {
          if (turned || other.turned) continue
          const apart =
            box.left >= other.box.right - 1 ||
            other.box.left >= box.right - 1 ||
            box.top >= other.box.bottom - 2 ||
            other.box.top >= box.bottom - 2
          expect(apart, `${text} and ${other.text}`).toBe(true)
        }
      })
    }
    expect(await page.locator('section:has(#x-none) .said').textContent()).toBe(
      'no row is in the period and meets the conditions of this exhibit',
    )
  },
)

const HOSTILE = [
  '<script>window.pwned = 1</script>',
  '"><img src=x onerror="window.pwned = 2">',
  "'-alert(1)-'",
  '</title><svg onload=window.pwned=3>',
  '</style><script>window.pwned=4</script>',
  'javascript:window.pwned=5',
  `long ${'x'.repeat(20_000)}`,
  'bell\u0007 escape\u001b[31m nul\u0000 override\u202e',
  // biome-ignore lint/suspicious/noTemplateCurlyInString: hostile on purpose
  '&lt;b&gt; ${window.pwned=6} {{7*7}}',
  '=1+2',
  'lone \ud800 half',
]

test('a hostile file changes nothing but text: no script runs, no element appears, nothing is fetched', async () => {
  const quoted = (text: string): string => `"${text.replaceAll('"', '""')}"`
  const lines = HOSTILE.map(
    (text, i) => `2025-01-0${(i % 9) + 1},${quoted(text)},${quoted(text)},${i + 1},${quoted(text)}`,
  )
  const csv = `date,__proto__,"x""><script>window.pwned=8</script>",amount,constructor\n${lines.join('\n')}\n`
  const hostile = '"><script>window.pwned = 9</script>'
  const report = {
    title: hostile,
    note: hostile,
    sources: { sales: { file: 's.csv', date: 'date' } },
    measures: { revenue: { formula: 'sum(amount)', label: hostile } },
    parameters: { target: { value: 3, label: hostile } },
    statuses: { ahead: { label: hostile, wash: 'aqua', icon: 'tick' } },
    rules: [
      { title: hostile, paint: 'revenue', bands: [{ atLeast: 'target', status: 'ahead' }] },
      { title: hostile, paint: 'revenue', within: 'constructor', gradient: { ramp: ['indigo', 'coral'] } },
    ],
    exhibits: [
      {
        name: 'a"><b>\ud800',
        title: hostile,
        note: hostile,
        table: { rows: ['__proto__', 'x"><script>window.pwned=8</script>'], columns: 'constructor', show: 'revenue' },
      },
      { name: 'chart', title: hostile, chart: { along: '__proto__', show: 'revenue', references: [{ at: 'target' }] } },
      { name: 'heat', hide: 'value', heatmap: { rows: '__proto__', columns: 'day', show: 'revenue' } },
    ],
    filters: ['x"><script>window.pwned=8</script>', 'period'],
  }

  const cwd = await folder({ 'r.json': JSON.stringify(report) })
  await writeFile(join(cwd, 's.csv'), csv)
  const run = await acuarela(['paint', 'r.json', '--to', 'html,json', '--out', 'out'], cwd)
  expect([run.code, run.err.replace(/\(\d+ kB\)/, '')]).toEqual([
    0,
    'wrote out/r.html\nwrote out/r.json\nthe page carries 11 groups in place of the 11 rows of sales ; --static leaves them out\n',
  ])
  const { page, faults } = await browser.open()
  // Without the policy of the page, so that escaping alone is tested.
  const html = (await readFile(join(cwd, 'out/r.html'), 'utf8')).replace(/<meta http-equiv[^>]*>/, '')
  await writeFile(join(cwd, 'bare.html'), html)
  await goTo(page, pathToFileURL(join(cwd, 'bare.html')).href)
  await page.locator('td b').first().hover()
  // biome-ignore lint/suspicious/noControlCharactersInRegex: finding them is the point
  expect(html).not.toMatch(/[\u0000-\u0008\u000b-\u001f\u007f]/)
  expect(await page.evaluate(() => (window as unknown as { pwned?: number }).pwned)).toBeUndefined()
  const foreign =
    'script:not(#acuarela, #acuarela + script), img, iframe, object, embed, [onerror], [onload], a:not([href^="#x-"])'
  expect(await page.locator(foreign).count()).toBe(0)
  expect(faults).toEqual([])
  const heads = await page.locator('section').first().locator('tbody th').allTextContents()
  for (const text of HOSTILE.slice(0, 6)) expect(heads).toContain(text)
  expect(heads).toContain('bell\uFFFD escape\uFFFD[31m nul\uFFFD override\u202e')
  expect(await page.title()).toBe(hostile)
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(1280)
  const painted = JSON.parse(await readFile(join(cwd, 'out/r.json'), 'utf8')) as Painted
  expect(painted.exhibits[0].cells.length).toBeGreaterThan(0)
  expect(Object.keys(painted.exhibits[0].cells[0].row)).toContain('__proto__')
  const reading = await acuarela(['paint', 'r.json'], cwd)
  // biome-ignore lint/suspicious/noControlCharactersInRegex: finding them is the point
  expect(reading.out).not.toMatch(/[\u0000-\u0009\u000b-\u001f\u202e]/)
})

test('charts and bars of every shape: names are whole and distinct, panels equally wide, long bars broken', async () => {
  const regions = ['North', 'South', 'East', 'West', 'Middle']
  const lines = Array.from({ length: 14 }, (_, i) =>
    regions.map((region, r) => `Garden shop number ${i + 1},${region},${10 + ((i * 37 + r * 53) % 90)}`),
  )
  const cwd = await folder({
    's.csv': `shop,region,amount\n${lines.flat().join('\n')}\n`,
    'r.acuarela.yaml': `title: Shapes
sources: { s: { file: s.csv } }
measures: { amount: sum(amount) }
exhibits:
  - { name: bars, table: { rows: shop, show: [{ show: amount, draw: bar }], totals: bottom } }
  - { name: turned, chart: { along: shop, show: amount } }
  - { name: five, chart: { along: shop, panels: region, show: amount } }
`,
  })
  await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--static', '--quiet'], cwd)
  const { page } = await browser.open()
  await goTo(page, pathToFileURL(join(cwd, 'r.html')).href)
  // A total beyond the scale of the details has a broken end; the details have none.
  const ends = await page
    .locator('#x-bars ~ .wide td i.bar')
    .evaluateAll((bars) => bars.map((bar) => bar.classList.contains('high')))
  expect(ends).toEqual([...Array.from({ length: 14 }, () => false), true])
  for (const name of ['turned', 'five']) {
    const drawings = await page.locator(`#x-${name} ~ .chart svg`).evaluateAll((svgs) =>
      svgs.map((svg) => {
        const around = svg.getBoundingClientRect()
        const names = [...svg.querySelectorAll('text')].filter(
          ({ textContent, transform }) => /…|shop/.test(textContent ?? '') && transform.baseVal.length > 0,
        )
        return {
          width: Math.round(around.width),
          left: Math.round(around.left),
          labels: [...svg.querySelectorAll('text')].filter(({ textContent }) => /^\d+$/.test(textContent ?? '')).length,
          names: names.map(({ textContent }) => textContent),
          outside: names.filter((text) => text.getBoundingClientRect().left < around.left - 1).length,
        }
      }),
    )
    expect(drawings).toHaveLength(name === 'five' ? 5 : 1)
    for (const { names, outside } of drawings) {
      expect([new Set(names).size, outside]).toEqual([names.length, 0])
      expect(names.length).toBeGreaterThan(4)
    }
    expect(new Set(drawings.map(({ width }) => width)).size).toBe(1)
    // Three and two, under each other.
    if (name === 'five')
      expect(drawings.slice(3).map(({ left }) => left)).toEqual(drawings.slice(0, 2).map(({ left }) => left))
    expect(new Set(drawings.map(({ labels }) => labels > 8)).size).toBe(1)
  }
})
