import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { brotliCompressSync, gzipSync } from 'node:zlib'
import { bundleReportFile } from 'acuarela/node'
import { build, type Rolldown } from 'vite'
import { expect, test } from 'vitest'
import { useBrowser } from '../support/browser.js'
import { inMenu, openChip, setParameter } from '../support/controls.js'
import { FULL } from '../support/effort.js'
import { useEmbedded } from '../support/embed.js'
import { exhibitOf, type Painted } from '../support/painted.js'
import { acuarela, ROOT } from '../support/tool.js'

const browser = useBrowser()
const embedded = useEmbedded(['index', 'carried'])
const SPRING = join(ROOT, 'examples/brezal/spring.acuarela.yaml')

test('elements live in the page and in a shadow root, under a strict policy; each has its own state, says so, and goes without a trace', async () => {
  const { page, faults } = await browser.open()
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto(embedded.url(''))
  await page.locator('html[data-ready=yes]').waitFor()
  const inner = page.locator('#host acuarela-report')
  const outer = page.locator('#outer')
  const statuses = async (place: typeof inner): Promise<string[]> =>
    (await place.locator('tbody td').allTextContents()).map((text) => text.split(',')[0])
  const first = ['Behind', 'Behind', 'Behind', 'Ahead', 'Ahead', 'Ahead', 'Ahead', 'Ahead', '580']
  expect([await statuses(outer), await statuses(inner)]).toEqual([first, first])
  await setParameter(inner, 'Target', '100')
  await inner.locator('.main:not([aria-busy=true])').waitFor()
  expect((await statuses(inner)).filter((status) => status === 'Ahead').length).toBe(2)
  expect(await statuses(outer)).toEqual(first)
  await openChip(inner, 'Region')
  await inner.getByRole('checkbox', { name: 'Hills' }).check()
  await inner.locator('.main:not([aria-busy=true])').waitFor()
  expect(await statuses(inner)).toEqual(['Behind', 'Behind', 'Ahead', 'Ahead', '410'])
  const heard = await page.evaluate(() =>
    (window as unknown as { recorder: { heard: object[] } }).recorder.heard.at(-1),
  )
  expect(heard).toMatchObject({ parameters: { target: 100 }, filters: { region: ['Hills'] } })
  await inner.locator('tbody td').first().hover()
  await inner.locator('.whybox li').first().waitFor()
  expect(await inner.locator('.whybox').textContent()).toContain('at least 100 (Target): no')

  // A table as text, and the painted data as a file: both in the shown state.
  await inner.locator('.tools details[open] summary').press('Escape')
  await inner.getByRole('button', { name: 'Copy Shops as text' }).click()
  await expect.poll(() => inner.locator('.counts').textContent(), { timeout: 20_000 }).toBe('Copied 6 lines.')
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe(
    'Shop\tRevenue\nShop 5\t80\nShop 6\t95\nShop 7\t110\nShop 8\t125\nTotal\t410\n',
  )
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    inMenu(inner, () => inner.getByRole('button', { name: 'Download data', exact: true }).click()),
  ])
  const data = JSON.parse(await readFile(await file.path(), 'utf8'))
  expect(file.suggestedFilename()).toBe('Embedded.json')
  expect(data.parameters).toEqual({ target: 100 })
  expect(data.exhibits[0].cells.map((cell: { value: number }) => cell.value)).toEqual([80, 95, 110, 125, 410])

  // Removed it leaves nothing, and inserted again it starts again.
  await page.evaluate(() => {
    const element = document.querySelector('#outer')
    const parent = element?.parentElement
    if (element == null || parent == null) throw new Error('no element')
    element.remove()
    Object.assign(window, { element, parent })
  })
  const left = await page.evaluate(
    () => (window as unknown as { element: Element }).element.shadowRoot?.childElementCount ?? -1,
  )
  expect(left).toBe(0)
  await page.evaluate(() => {
    const host = window as unknown as { element: Element; parent: Element }
    host.parent.append(host.element)
  })
  await outer.locator('tbody td').first().waitFor()
  expect(await statuses(outer)).toEqual(first)
  expect(faults).toEqual([])
})

test.runIf(FULL)(
  'a report that a server has read and bound is mounted without what reads and binds, and says what the tool says',
  async () => {
    await writeFile(join(embedded.folder(), 'carried.json'), await bundleReportFile(SPRING))
    const { page, faults } = await browser.open()
    await page.goto(embedded.url('carried.html'))
    await page.locator('html[data-ready=yes]').waitFor()
    const shown = async (): Promise<string[]> =>
      (await page.locator('section:has(#x-shops) tbody tr td:nth-of-type(1)').allTextContents()).map(
        (text) => text.split(', ').at(-1) ?? '',
      )
    const { out } = await acuarela([
      'paint',
      SPRING,
      '--to',
      'json',
      '--quiet',
      '--set',
      'targetLevel=115%',
      '--where',
      "region = 'Coast'",
    ])
    const expected = exhibitOf(JSON.parse(out) as Painted, 'shops').cells.filter(({ measure }) => measure === 'revenue')
    await openChip(page, 'Region')
    await page.getByRole('checkbox', { name: 'Coast' }).check()
    await page.locator('.main:not([aria-busy=true])').waitFor()
    expect(await shown()).toEqual(expected.map(({ text }) => text))
    expect(await page.locator('section:has(#x-shops) td', { hasText: 'Near target' }).count()).toBe(
      expected.filter(({ style: look }) => look.status === 'close').length,
    )
    await page.evaluate(() => (window as unknown as { mounted: { destroy(): void } }).mounted.destroy())
    expect(await page.locator('section').count()).toBe(0)
    expect(faults).toEqual([])
  },
)

test('what such a page loads at once is no heavier than was wanted', async () => {
  const root = join(ROOT, 'test/browser/embed')
  const built = await build({
    root,
    configFile: false,
    logLevel: 'error',
    build: {
      write: false,
      target: 'es2022',
      modulePreload: false,
      rollupOptions: { input: join(root, 'carried.ts') },
    },
  })
  const output = [built]
    .flat()
    .flatMap((bundle): Rolldown.RolldownOutput['output'][number][] => ('output' in bundle ? bundle.output : []))
  const chunks = new Map(output.flatMap((chunk) => (chunk.type === 'chunk' ? [[chunk.fileName, chunk] as const] : [])))
  const first = new Set<string>()
  const load = (name: string): void => {
    if (first.has(name)) return
    first.add(name)
    for (const next of chunks.get(name)?.imports ?? []) load(next)
  }
  load([...chunks.values()].find((chunk) => chunk.isEntry)?.fileName ?? '')
  const code = [...first].map((name) => chunks.get(name)?.code ?? '').join('\n')
  expect(code.length).toBeGreaterThan(100_000)
  expect(gzipSync(code, { level: 9 }).length).toBeLessThan(68_000)
  expect(brotliCompressSync(code).length).toBeLessThan(60_000)
})
