import type { Mounted, mount, mountBundle, pngOf } from 'acuarela/live'
import type { ReportSpec } from 'acuarela/report'
import { expect, test } from 'vitest'
import { goTo, useBrowser } from '../support/browser.js'
import { openChip } from '../support/controls.js'
import { useEmbedded } from '../support/embed.js'
import { acuarela, folder } from '../support/tool.js'

/** What the page of calls provides for the test. */
interface Calls {
  mounted: Mounted
  line: { isCut: boolean }
  mount: typeof mount
  mountBundle: typeof mountBundle
  pngOf: typeof pngOf
  report: ReportSpec
  sales: never
  place: HTMLElement
  own: HTMLElementTagNameMap['acuarela-report']
  heard: string[]
}

const browser = useBrowser()
const embedded = useEmbedded(['calls'])

async function openCalls() {
  const { page, faults } = await browser.open()
  await goTo(page, embedded.url('calls.html'))
  await page.locator('html[data-ready=yes]').waitFor()
  return { page, faults }
}

test('4.4 live calls refuse names, values and actions that are not there, and nothing changes', async () => {
  const { page, faults } = await openCalls()
  const refusals = await page.evaluate(async () => {
    const { mounted, mount, mountBundle, pngOf, report, sales } = window as unknown as Calls
    const refusals: string[] = []
    const refusal = async (call: () => Promise<unknown>): Promise<void> => {
      refusals.push(
        await call().then(
          () => 'done',
          (error: unknown) => `${(error as Error).name}: ${(error as Error).message}`,
        ),
      )
    }
    await refusal(() => mounted.filter('region', ['Mars']))
    await refusal(() => mounted.filter('regoin', ['Coast']))
    await refusal(() => mounted.set('target', Number.NaN))
    await refusal(() => mounted.set('tarjet', 5))
    await refusal(() => mounted.set('target', 'many'))
    await refusal(() => mounted.act({ do: 'dance' } as never))
    await refusal(() => mounted.act({ do: 'sort', exhibit: 'shops', by: '-profit' }))
    await refusal(() => mounted.act({ do: 'pause', rule: 'targt', paused: true }))
    await refusal(() => mounted.act({ do: 'period', period: '2025' }))
    const at = (): HTMLElement => document.createElement('div')
    await refusal(() =>
      mount(at(), report, { data: { sales }, parameters: { target: 'x' }, filters: { region: ['Mars'] } }),
    )
    await refusal(() => mount(at(), report, { data: { sales }, parameter: {} } as never))
    await refusal(() => mount(at(), { ...report, rulez: [] } as never, { data: { sales } }))
    await refusal(() => mount(null as never, report, { data: { sales } }))
    await refusal(() => mountBundle(at(), '<!doctype html><p>404 Not Found'))
    await refusal(() => mountBundle(at(), {} as never))
    await refusal(async () => mounted.mark('two names', null))
    await refusal(async () => mounted.mark('named', 'all' as never))
    await refusal(() => pngOf(3 as never))
    return { found: refusals, state: mounted.state() }
  })
  expect(refusals.found).toEqual([
    "ProblemError: region is never 'Mars'; there are Coast, Hills",
    'ProblemError: there is no filter regoin; did you mean region?',
    'ProblemError: action.value: expected a number or a text, found NaN',
    'ProblemError: unknown parameter: tarjet; did you mean target?',
    'ProblemError: target=many is not a number; write it plainly, as in target=1200 or target=15%',
    expect.stringContaining("'dance' is not one of set, filter"),
    'ProblemError: profit is nothing to sort by; there are revenue, region, shop',
    'ProblemError: there is no rule targt; did you mean target?',
    expect.stringContaining('period cannot be changed'),
    "ProblemError: target=x is not a number; write it plainly, as in target=1200 or target=15%\nregion is never 'Mars'; there are Coast, Hills",
    expect.stringContaining('did you mean parameters?'),
    expect.stringContaining('did you mean rules?'),
    'ProblemError: expected an element to show the report in, found nothing',
    expect.stringContaining("found '<!doctype html><p>404 Not Found'; check the address"),
    expect.stringContaining('expected what bundleReportFile gives, found object'),
    expect.stringContaining('"two names" is no name of a class'),
    expect.stringContaining("holds: expected a function or null, found 'all'"),
    expect.stringContaining('svg: expected a text, found 3'),
  ])
  expect(refusals.state).toMatchObject({ parameters: {}, filters: {} })
  expect(faults).toEqual([])
})

test('a host marks the cells that it means, and draws a picture', async () => {
  const { page, faults } = await openCalls()
  const marked = await page.evaluate(async () => {
    const { mounted, place, pngOf } = window as unknown as Calls
    const texts = (): (string | null)[] =>
      [...(place.shadowRoot?.querySelectorAll('.named') ?? [])].map((cell) => cell.textContent)
    mounted.mark('named', ({ cell }) => cell.style.status === 'ahead')
    const ahead = texts()
    mounted.mark('named', ({ cell }) => cell.text === '20')
    const other = texts()
    mounted.mark('named', null)
    const svg = '<svg xmlns="http://www.w3.org/2000/svg" width="30" height="20"><rect width="30" height="20"/></svg>'
    // The size of a PNG stands after its first 16 bytes.
    const view = new DataView((await pngOf(svg)).buffer)
    return { ahead, other, none: texts(), size: [view.getUint32(16), view.getUint32(20)] }
  })
  expect(marked).toEqual({
    ahead: ['Ahead, 70', 'Ahead, 90'],
    other: ['Behind, 20'],
    none: [],
    size: [60, 40],
  })
  expect(faults).toEqual([])
})

test('4.4 numbers and texts are both values; the last of many calls wins; a failure is reported and the next call works', async () => {
  const { page, faults } = await openCalls()
  const place = page.locator('#place')
  const ahead = (): Promise<number> =>
    place.locator('tbody td[data-status=ahead], tbody td', { hasText: 'Ahead' }).count()
  const states = await page.evaluate(async () => {
    const { mounted } = window as unknown as Calls
    await mounted.set('target', '15')
    await mounted.set('share', '20%')
    const first = mounted.state().parameters
    const shown: number[] = []
    const before = mounted.page()
    const calls = Array.from({ length: 20 }, (_, i) =>
      mounted
        .set('target', i + 20)
        .then(() => shown.push(mounted.page().parameters.find(({ name }) => name === 'target')?.value ?? -1)),
    )
    await Promise.all(calls)
    return { first, last: shown.at(-1), answered: new Set(shown).size, isNew: before !== mounted.page() }
  })
  expect(states).toMatchObject({ first: { target: 15, share: 0.2 }, last: 39, isNew: true })
  expect(states.answered).toBeLessThan(10)
  // An engine that fails once: the error is reported on the page, the figures stay, and the next
  // call works.
  const failed = await page.evaluate(async () => {
    const { mounted, line } = window as unknown as Calls
    line.isCut = true
    const error = await mounted.filter('region', ['Coast']).then(
      () => 'done',
      (error: Error) => error.message,
    )
    line.isCut = false
    const busy = document.querySelector('#place')?.shadowRoot?.querySelector('[aria-busy=true]') !== null
    return { error, busy, filters: mounted.state().filters }
  })
  expect(failed).toEqual({ error: 'the line is cut', busy: false, filters: {} })
  expect(await place.locator('.counts').textContent()).toContain('the line is cut')
  expect(await place.locator('tbody tr').count()).toBe(5)
  await page.evaluate(() => (window as unknown as Calls).mounted.filter('region', ['Coast']))
  expect(await place.locator('tbody tr').count()).toBe(3)
  expect(await ahead()).toBeGreaterThanOrEqual(0)
  // Without rows it says so.
  expect(await page.locator('#empty .empty').textContent()).toBe('No rows.')
  expect(faults).toEqual([])
})

test('4.4 an element tells a refused report on the page and by an event, recovers, and takes parameters and filters', async () => {
  const { page, faults } = await openCalls()
  const locator = page.locator('#own')
  await locator.locator('[role=alert]').waitFor()
  expect(await locator.locator('[role=alert]').innerText()).toContain('rulez: unknown key: rulez; did you mean rules?')
  const told = await page.evaluate(async () => {
    const { own: element, report, heard } = window as unknown as Calls
    const first = [...heard]
    element.parameters = { target: '80' }
    element.filters = { region: ['Hills'] }
    element.report = report
    await element.mounted
    const started = { ...element.parameters, ...element.filters }
    element.parameters = {}
    element.filters = {}
    const mounted = await element.mounted
    await mounted?.set('share', 0.3)
    const state = mounted?.state()
    element.filters = { region: ['Mars'] }
    await new Promise((done) => setTimeout(done, 50))
    return {
      first,
      started,
      state,
      last: heard.at(-1),
      changes: heard.filter((line) => line.startsWith('change')).length,
    }
  })
  expect(told.first.join('\n')).toContain('title is missing')
  expect(told.started).toEqual({ target: 80, region: ['Hills'] })
  expect(told.state).toMatchObject({ parameters: { share: 0.3 }, filters: {} })
  expect(told.last).toContain("region is never 'Mars'")
  expect(told.changes).toBeGreaterThan(1)
  expect(await locator.locator('[role=alert]').count()).toBe(0)
  expect(await locator.locator('tbody tr').count()).toBe(5)
  expect(faults).toEqual([])
})

test('2.3 2.5 a live page says of a rule how many cells it covers, and of a painted heading why', async () => {
  const cwd = await folder({
    'sales.csv': 'region,shop,amount\nCoast,Larkmoor,20\nCoast,Saltmarsh,70\nHills,Wren Hollow,90\nHills,Oak Lane,\n',
    'r.acuarela.yaml': `title: Reasons
sources: { sales: { file: sales.csv } }
measures: { revenue: sum(amount) }
statuses: { ahead: { label: Ahead, wash: aqua, icon: tick } }
rules:
  - { name: coast, paint: revenue, where: region = 'Coast', bands: [{ atLeast: 0, style: { weight: bold } }] }
  - { name: name, paint: shop, judge: revenue, bands: [{ atLeast: 60, status: ahead }] }
exhibits: [{ name: shops, table: { rows: [region, shop], show: revenue } }]
filters: [region]
`,
  })
  expect(await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--quiet'], cwd)).toMatchObject({ code: 0 })
  const { page, faults } = await browser.open()
  await goTo(page, `file://${cwd}/r.html`)
  await page.locator('tbody th', { hasText: 'Saltmarsh' }).hover()
  await page.locator('.whybox li').first().waitFor()
  expect(await page.locator('.whybox').innerText()).toMatch(/at least 60: yes/)
  await openChip(page, '⋯')
  await page.locator('[data-rule=coast]').hover()
  await expect
    .poll(() => page.locator('tbody td.covered').allInnerTexts(), { timeout: 10_000 })
    .toEqual(['20.00', '70.00'])
  expect(faults).toEqual([])
})

test('2.4 a bar beyond its scale has a mark that can be seen, and headings stand over their columns', async () => {
  const cwd = await folder({
    'sales.csv': 'region,shop,amount\nCoast,Larkmoor,20\nCoast,Saltmarsh,70\nHills,Wren Hollow,90\n',
    'r.acuarela.yaml': `title: Beyond
sources: { sales: { file: sales.csv } }
measures: { revenue: sum(amount) }
rules: [{ paint: revenue, bar: { from: 0, to: 50 } }]
exhibits: [{ name: shops, table: { rows: [region, shop], show: revenue, nest: columns } }]
`,
  })
  expect(await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--quiet'], cwd)).toMatchObject({ code: 0 })
  const { page, faults } = await browser.open()
  await goTo(page, `file://${cwd}/r.html`)
  const marks = await page.locator('tbody .bar').evaluateAll((bars) =>
    bars.map((bar) => {
      const { content, borderLeftColor } = getComputedStyle(bar, '::after')
      return content !== 'none' && !borderLeftColor.startsWith('rgba(0, 0, 0, 0')
    }),
  )
  expect(marks).toEqual([false, true, true])
  const lefts = async (selector: string): Promise<number[]> =>
    page.locator(selector).evaluateAll((cells) =>
      cells.map((cell) => {
        const range = document.createRange()
        range.selectNodeContents(cell)
        return Math.round(range.getBoundingClientRect().left)
      }),
    )
  const [heads, cells] = [await lefts('thead .c'), await lefts('tbody tr:first-child th')]
  expect(heads).toEqual(cells)
  expect(faults).toEqual([])
})

test('4.5 a worker answers a report and draws its charts, and hands the page over', async () => {
  const { page, faults } = await openCalls()
  const answer = await page.evaluate(
    async () => (await (window as unknown as { worked: Promise<object> }).worked) as Record<string, unknown>,
  )
  expect(answer.document).toBe('undefined')
  expect(String(answer.html)).toMatch(/<svg[^>]*>[\s\S]*Larkmoor/)
  expect(String(answer.svg)).toContain('Saltmarsh')
  expect(answer.page).toMatchObject({ title: 'Worked', exhibits: [{ kind: 'chart' }] })
  expect(faults).toEqual([])
})
