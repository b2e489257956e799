import { execFileSync } from 'node:child_process'
import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import axe from 'axe-core'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { goTo, useBrowser } from '../support/browser.js'
import { FULL, some } from '../support/effort.js'
import { acuarela, ROOT } from '../support/tool.js'
import { WILD, WILD_CSV } from '../support/wild.js'

const browser = useBrowser()

let cwd = ''
beforeAll(async () => {
  cwd = await mkdtemp(join(tmpdir(), 'acuarela-'))
  await writeFile(join(cwd, 's.csv'), WILD_CSV)
  await writeFile(join(cwd, 'wild.acuarela.yaml'), WILD)
  await acuarela(['paint', 'wild.acuarela.yaml', '--to', 'svg,html', '--out', 'o'], cwd)
  // Two live pages, and three without a script.
  await Promise.all(
    ['spring', 'kinds', 'footfall', 'prices', 'june'].map((name) =>
      acuarela(
        [
          'paint',
          join(ROOT, `examples/brezal/${name}.acuarela.yaml`),
          '--out',
          join('o', `${name}.html`),
          ...(name === 'spring' ? [] : ['--static']),
        ],
        cwd,
      ),
    ),
  )
})
afterAll(() => rm(cwd, { recursive: true, force: true }))

/** The demo's pages, and before them one with everything that strains a page. */
function pages(): string[] {
  return ['wild', 'spring', 'kinds', 'footfall', 'prices', 'june'].map((name) => join(cwd, 'o', `${name}.html`))
}

test.runIf(FULL)(
  'axe finds nothing on any page, in the light and in the dark',
  async () => {
    for (const [i, file] of some(pages(), 3).entries())
      for (const colorScheme of some(['light', 'dark'] as const, 2, i)) {
        const { page, done } = await browser.open()
        await page.emulateMedia({ colorScheme })
        await goTo(page, pathToFileURL(file).href)
        // Collapsed parts are opened and checked, too.
        await page.locator('details').evaluateAll((all) => {
          for (const details of all) (details as HTMLDetailsElement).open = true
        })
        await page.evaluate(axe.source)
        // Only colours depend on the scheme.
        const runOnly =
          colorScheme === 'light'
            ? ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice']
            : ['color-contrast', 'link-in-text-block']
        const results = await page.evaluate(
          (only) =>
            (window as unknown as { axe: typeof axe }).axe.run(document, {
              runOnly: only,
              resultTypes: ['violations'],
            }),
          runOnly,
        )
        expect(
          results.violations.map((v) => `${v.id}: ${v.nodes[0].html.slice(0, 140)} ${v.nodes[0].failureSummary ?? ''}`),
          `${file} ${colorScheme}`,
        ).toEqual([])
        expect(results.passes.length).toBeGreaterThan(colorScheme === 'light' ? 20 : 0)
        await done()
      }
  },
  300_000,
)

test.runIf(FULL)(
  'an HTML checker accepts the pages, the fragment and the SVG files',
  async (context) => {
    const java = (() => {
      try {
        execFileSync('java', ['-version'], { stdio: 'ignore' })
        return true
      } catch {
        return false
      }
    })()
    // Without Java the checker cannot run; CI requires it.
    if (!java && process.env.ACUARELA_NEEDS_JAVA === undefined) return context.skip()
    const jar = createRequire(import.meta.url)('vnu-jar') as string
    const files = some(pages(), 5)
    const drawn = (await readdir(join(cwd, 'o'))).filter((name) => name.endsWith('.svg'))
    expect(drawn.length).toBe(16)
    const svgs = some(drawn, 4).map((name) => join(cwd, 'o', name))
    const check = (args: string[]): string => {
      try {
        execFileSync('java', ['-jar', jar, '--errors-only', '--format', 'gnu', ...args], {
          stdio: ['ignore', 'ignore', 'pipe'],
        })
        return ''
      } catch (error) {
        return String((error as { stderr: Buffer }).stderr)
      }
    }
    // The checker does not know newer CSS; these messages are ignored.
    const newerCss =
      /color-mix|"-webkit-|print-color-adjust|forced-color-adjust|"zoom"|text-wrap|container-type|@container|“font-size”: Parse Error/
    const messages = (text: string): string[] =>
      text
        .split('\n')
        .filter((line) => line !== '' && !newerCss.test(line))
        .map((line) => line.slice(-220))
    expect(messages(check(['--also-check-svg', ...files, ...svgs]))).toEqual([])
  },
  300_000,
)

test('320 and 1280 pixels wide: nothing overlaps, and the page itself does not scroll sideways', async () => {
  for (const file of pages().slice(0, 2))
    for (const width of some([320, 1280], 2, file.includes('wild') ? 0 : 1)) {
      const { page, done } = await browser.open(width)
      await goTo(page, pathToFileURL(file).href)
      expect(await page.evaluate(() => document.documentElement.scrollWidth), `${file} ${width}`).toBeLessThanOrEqual(
        width,
      )
      const crossing = await page.evaluate(() => {
        const boxes = [...document.querySelectorAll('section, .card, .key li, .words li, h1, h2, h3')].map((e) => {
          const { left, right, top, bottom } = e.getBoundingClientRect()
          return { e, left, right, top, bottom }
        })
        const overlaps: string[] = []
        boxes.forEach((a, i) => {
          for (const b of boxes.slice(0, i)) {
            if (a.e.contains(b.e) || b.e.contains(a.e)) continue
            if (a.left < b.right - 1 && b.left < a.right - 1 && a.top < b.bottom - 1 && b.top < a.bottom - 1)
              overlaps.push(`${a.e.outerHTML.slice(0, 90)} / ${b.e.outerHTML.slice(0, 90)}`)
          }
        })
        return overlaps
      })
      expect(crossing, `${file} ${width}`).toEqual([])
      await done()
    }
})

test('what hovering shows the keyboard reaches: lines as labelled charts, hidden numbers as a table', async () => {
  const [, file] = pages()
  const { page } = await browser.open()
  await goTo(page, pathToFileURL(file).href)
  const line = page.locator('#x-lines ~ .wide .tr').nth(1)
  const tip = line.locator('.tip')
  expect(await tip.isVisible()).toBe(false)
  await line.focus()
  expect(await tip.isVisible()).toBe(true)
  expect(await line.getAttribute('aria-label')).toMatch(
    /^Roses, Revenue: Jun 2025 €78,230, lowest .* highest Mar 2024 €116,999$/,
  )
  expect(await tip.textContent()).toContain('€116,999')
  const numbers = page.locator('section:has(#x-seasons) details')
  await numbers.locator('summary').focus()
  await page.keyboard.press('Enter')
  expect(await numbers.locator('table').isVisible()).toBe(true)
  expect(await numbers.locator('td', { hasText: '€116,999' }).count()).toBe(1)
})

test('forced colours keep the marks, and paper is light whatever the screen is', async () => {
  const [, file] = pages()
  const { page } = await browser.open()
  await page.emulateMedia({ forcedColors: 'active' })
  await goTo(page, pathToFileURL(file).href)
  const dab = page.locator('#x-shops ~ .wide td > span[class]').first()
  expect(await dab.evaluate((e) => getComputedStyle(e).backgroundColor)).toBe('rgb(167, 229, 228)')
  await page.emulateMedia({ forcedColors: 'none', colorScheme: 'dark' })
  expect(await page.evaluate(() => getComputedStyle(document.documentElement).backgroundColor)).toBe('rgb(15, 22, 36)')
  expect(await dab.evaluate((e) => getComputedStyle(e).backgroundColor)).toBe('rgb(24, 96, 94)')
  await page.emulateMedia({ colorScheme: 'dark', media: 'print' })
  expect(await dab.evaluate((e) => getComputedStyle(e).backgroundColor)).toBe('rgb(167, 229, 228)')
  expect(await page.evaluate(() => getComputedStyle(document.body).color)).toBe('rgb(27, 35, 64)')
})
