import { readdir, readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { openReportFile } from 'acuarela/node'
import { toText } from 'acuarela/terminal'
import Papa from 'papaparse'
import { extractText, getDocumentProxy } from 'unpdf'
import { expect, test } from 'vitest'
import { goTo, useBrowser } from '../support/browser.js'
import { effort, FULL } from '../support/effort.js'
import { acuarela, folder, ROOT } from '../support/tool.js'
import { WILD, WILD_CSV } from '../support/wild.js'

const browser = useBrowser()
const SPRING = 'examples/brezal/spring.acuarela.yaml'

async function wild(): Promise<string> {
  return folder({ 's.csv': WILD_CSV, 'wild.acuarela.yaml': WILD })
}

test('every exhibit is an SVG file that a browser reads, with a title, and with nothing of the data as markup', async () => {
  const cwd = await wild()
  const { code } = await acuarela(['paint', 'wild.acuarela.yaml', '--to', 'svg', '--out', 'o'], cwd)
  expect(code).toBe(0)
  const names = await readdir(join(cwd, 'o'))
  expect(names).toHaveLength(16)
  const { page } = await browser.open()
  for (const name of names) {
    const text = await readFile(join(cwd, 'o', name), 'utf8')
    const read = await page.evaluate((svg) => {
      const document = new DOMParser().parseFromString(svg, 'image/svg+xml')
      return {
        fault: document.querySelector('parsererror')?.textContent ?? '',
        title: document.querySelector('title')?.textContent ?? '',
        strange: document.querySelectorAll('script, b, i, foreignObject, [onload]').length,
        size: Number(document.documentElement.getAttribute('width')),
      }
    }, text)
    expect([name, read.fault, read.strange]).toEqual([name, '', 0])
    expect(read.title).not.toBe('')
    expect(read.size).toBeGreaterThan(100)
  }
})

test('texts in an SVG table stay inside the picture and do not run into each other', async () => {
  const cwd = await wild()
  await acuarela(['paint', 'wild.acuarela.yaml', '--to', 'svg', '--out', 'o'], cwd)
  const { page } = await browser.open()
  for (const name of ['nested', 'flat', 'rows', 'cards', 'shown', 'listed']) {
    await page.setContent(
      `<body style="margin:0">${(await readFile(join(cwd, 'o', `wild-${name}.svg`), 'utf8')).replace(/^<\?xml.*?\?>/, '')}`,
    )
    const { boxes, width } = await page.evaluate(() => ({
      width: document.querySelector('svg')?.getBoundingClientRect().width ?? 0,
      boxes: [...document.querySelectorAll('text')].map((t) => {
        const { left, right, top, bottom } = t.getBoundingClientRect()
        return { left, right, top: top + 2, bottom: bottom - 2, text: t.textContent ?? '' }
      }),
    }))
    expect(boxes.length).toBeGreaterThan(3)
    boxes.forEach((a, i) => {
      expect(a.right, `${name}: ${a.text}`).toBeLessThanOrEqual(width)
      for (const b of boxes.slice(0, i))
        expect(
          a.left >= b.right - 1 || b.left >= a.right - 1 || a.top >= b.bottom || b.top >= a.bottom,
          `${name}: ${a.text} / ${b.text}`,
        ).toBe(true)
    })
  }
})

test.runIf(FULL)('a table of many pages: every page of the PDF repeats its head, and no row is cut', async () => {
  const lines = Array.from({ length: effort(2000, 800) }, (_, i) => `shop ${String(i + 1).padStart(4, '0')},${i % 97}`)
  const report = `title: Long
sources: { s: { file: s.csv } }
measures: { x: { formula: sum(x), label: Number } }
statuses: { low: { wash: coral, icon: cross } }
rules: [{ paint: x, bands: [{ below: 40, status: low }] }]
exhibits: [{ name: t, table: { rows: shop, show: x } }]
`
  const cwd = await folder({ 's.csv': `shop,x\n${lines.join('\n')}\n`, 'r.acuarela.yaml': report })
  const run = await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.pdf', '--paper', 'Letter'], cwd)
  expect([run.code, run.err]).toEqual([0, 'wrote r.pdf\n'])
  // On a screen the head stays while the rows scroll.
  await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html'], cwd)
  const { page: screen } = await browser.open()
  await goTo(screen, pathToFileURL(join(cwd, 'r.html')).href)
  const box = screen.locator('.long')
  await box.evaluate((e) => e.scrollTo(0, 20_000))
  const head = await box.locator('thead').boundingBox()
  expect(head?.y).toBeCloseTo((await box.boundingBox())?.y ?? -1, 0)
  const pdf = await getDocumentProxy(new Uint8Array(await readFile(join(cwd, 'r.pdf'))))
  const seen: string[] = []
  expect(pdf.numPages).toBeGreaterThan(effort(20, 8))
  for (let n = 1; n <= pdf.numPages; n++) {
    const page = await pdf.getPage(n)
    const { height } = page.getViewport({ scale: 1 })
    expect(Math.round(height)).toBe(792)
    const { items } = await page.getTextContent()
    const texts = items.flatMap((item) =>
      'str' in item && item.str.trim() !== '' ? [{ text: item.str, y: item.transform[5] as number }] : [],
    )
    const rows = texts.filter(({ text }) => text.startsWith('shop '))
    if (rows.length === 0) continue
    // The head stands above every row of its page, and each row's number beside its name.
    const head = texts.find(({ text }) => text === 'Number')
    if (head === undefined) throw new Error(`page ${n} has rows and no head`)
    for (const { text, y } of rows) {
      expect(y).toBeLessThan(head.y)
      expect(y).toBeGreaterThan(30)
      const beside = texts
        .filter((other) => Math.abs(other.y - y) < 3 && other.text !== text)
        .map((other) => other.text)
      expect(beside, text).toContain(String((Number(text.slice(5)) - 1) % 97))
      seen.push(text)
    }
  }
  expect(seen).toEqual(lines.map((line) => line.split(',')[0]))
})

test.runIf(FULL)(
  'wide tables, heatmaps of forty columns and single records are whole on paper, and in a picture',
  async () => {
    const cwd = await wild()
    const names = ['nested', 'forty', 'flat', 'single']
    const wanted = names.flatMap((name) => ['--exhibit', name])
    await acuarela(['paint', 'wild.acuarela.yaml', ...wanted, '--to', 'pdf,json,png,html', '--out', 'o'], cwd)
    const pdf = await getDocumentProxy(new Uint8Array(await readFile(join(cwd, 'o/wild.pdf'))))
    const inside: string[] = []
    for (let n = 1; n <= pdf.numPages; n++) {
      const page = await pdf.getPage(n)
      const { width } = page.getViewport({ scale: 1 })
      const { items } = await page.getTextContent()
      for (const item of items) {
        if (!('str' in item)) continue
        const left = item.transform[4] as number
        // A rotated text is as wide as its letters are high.
        const right = left + (item.transform[1] === 0 ? item.width : item.height)
        if (left > 20 && right < width - 20) inside.push(item.str)
      }
    }
    const data = JSON.parse(await readFile(join(cwd, 'o/wild.json'), 'utf8'))
    for (const { name, cells } of data.exhibits) {
      // Numbers of the heatmap are hidden, but for its totals.
      const texts: string[] = cells.flatMap((cell: { row: object; text: string }) =>
        cell.text !== '' && (name !== 'forty' || Object.keys(cell.row).length === 0) ? [cell.text] : [],
      )
      expect(texts.length, name).toBeGreaterThan(11)
      for (const text of texts) {
        const at = inside.indexOf(text)
        expect(at, `${name}: ${text}`).toBeGreaterThanOrEqual(0)
        inside.splice(at, 1)
      }
    }
    const { page } = await browser.open()
    await goTo(page, pathToFileURL(join(cwd, 'o/wild.html')).href)
    const widths = await page
      .locator('.wide:not(details *)')
      .evaluateAll((all) => all.map((element) => element.scrollWidth))
    const widest = Math.max(...widths)
    expect(widest).toBeGreaterThan(1280)
    expect((await readFile(join(cwd, 'o/wild.png'))).readUInt32BE(16)).toBeGreaterThan(2 * widest)
  },
)

test.runIf(FULL)('the demo as PDF and PNG: every exhibit is there, colours and all', async () => {
  const cwd = await folder()
  const { code } = await acuarela(['paint', join(ROOT, SPRING), '--to', 'png,pdf', '--out', '.'], cwd)
  expect(code).toBe(0)
  const png = await readFile(join(cwd, 'spring.png'))
  expect(png.subarray(1, 4).toString()).toBe('PNG')
  expect(png.readUInt32BE(16)).toBe(2560)
  const pdf = await getDocumentProxy(new Uint8Array(await readFile(join(cwd, 'spring.pdf'))))
  const { text } = await extractText(pdf, { mergePages: true })
  for (const words of [
    'The quarter so far',
    'Shops to act on',
    'Where they are sold',
    'The season of each line',
    '€47,881',
  ])
    expect(text).toContain(words)
})

test('CSV is safe to open elsewhere: texts that look like formulas are guarded, numbers are numbers', async () => {
  const cwd = await wild()
  const { out } = await acuarela(['paint', 'wild.acuarela.yaml', '--to', 'csv'], cwd)
  const rows = Papa.parse<Record<string, string>>(out, { header: true, skipEmptyLines: true }).data
  expect(rows.length).toBeGreaterThan(300)
  expect(new Set(rows.map((row) => row['row.shop']))).toContain("'=SUM(A1)")
  for (const row of rows)
    for (const [name, field] of Object.entries(row))
      if (/^[=+\-@\t\r]/.test(field)) expect([name, Number.isNaN(Number(field))]).toEqual([name, false])
  expect(rows.some((row) => Number(row.value) < 0)).toBe(true)
})

test('a fragment has its styles on its elements: no script, no style sheet, no class, nothing fetched', async () => {
  const cwd = await wild()
  const { out, code } = await acuarela(['paint', 'wild.acuarela.yaml', '--fragment'], cwd)
  expect(code).toBe(0)
  expect(out).not.toMatch(/<script|<style|<link|class=|<svg|url\(|https?:/)
  const { page, faults } = await browser.open()
  await page.setContent(out)
  expect(await page.locator('h3, h4').count()).toBe(16 + 4)
  const cell = page.locator('td', { hasText: '✗ −€2,010' }).first()
  expect(await cell.evaluate((td) => getComputedStyle(td).backgroundColor)).toBe('rgb(244, 161, 158)')
  expect(faults).toEqual([])
})

test('--each: a page for each value, narrowed as by --where; --exhibit: one of them alone', async () => {
  const cwd = await folder()
  const report = join(ROOT, SPRING)
  const run = await acuarela(['paint', report, '--to', 'json', '--each', 'region', '--out', 'pages'], cwd)
  expect(run.err).toBe(
    'wrote pages/spring-Coast.json\nwrote pages/spring-Upland.json\nwrote pages/spring-Valley.json\n',
  )
  const each = JSON.parse(await readFile(join(cwd, 'pages/spring-Upland.json'), 'utf8'))
  const where = JSON.parse((await acuarela(['paint', report, '--to', 'json', '--where', "region = 'Upland'"])).out)
  expect(each.exhibits).toEqual(where.exhibits)
  expect(each.title).toBe('Brezal Nurseries, spring review: Upland')
  const one = JSON.parse((await acuarela(['paint', report, '--to', 'json', '--exhibit', 'months'])).out)
  expect(one.exhibits.map((e: { name: string }) => e.name)).toEqual(['months'])
})

test('what cannot be written is reported with the fix, and nothing is left behind', async () => {
  const cwd = await wild()
  const asked = async (...args: string[]): Promise<string> => {
    const { code, out, err } = await acuarela(['paint', 'wild.acuarela.yaml', ...args], cwd)
    expect([code, out]).toEqual([2, ''])
    return err
  }
  expect(await asked('--to', 'docx')).toContain('--to takes html, svg, png, pdf, text, json, csv')
  expect(await asked('--to', 'svg')).toContain('name a folder with --out')
  expect(await asked('--each', 'amount', '--out', 'o')).toContain('amount is none of: shop, kind')
  expect(await asked('--exhibit', 'card')).toContain('unknown exhibit: card; did you mean cards?')
  expect(await asked('--width', '3.5')).toContain('--width takes whole columns')
  expect(await asked('--fragment', '--to', 'json')).toContain('--fragment is a form of html, and --to says json')
  expect((await readdir(cwd)).sort()).toEqual(['s.csv', 'wild.acuarela.yaml'])
})

test('without a browser png and pdf are refused with a fix', async () => {
  const { spawnSync } = await import('node:child_process')
  const env = { ...process.env, PATH: '/nonexistent', ACUARELA_BROWSER: '' }
  const args = [join(ROOT, 'dist/cli/acuarela.js'), 'paint', join(ROOT, SPRING), '--out', 'x.pdf']
  const cwd = await folder()
  const run = spawnSync(process.execPath, args, { cwd, env, encoding: 'utf8' })
  expect(run.status).toBe(2)
  expect(run.stderr).toContain(
    'none was found; install one (Debian: apt-get install chromium), or name it in ACUARELA_BROWSER',
  )
  expect(await readdir(cwd)).toEqual([])
})

test('--watch paints again when the report changes, tells a faulty one and waits', async () => {
  const { spawn } = await import('node:child_process')
  const cwd = await wild()
  const child = spawn(
    process.execPath,
    [join(ROOT, 'dist/cli/acuarela.js'), 'paint', 'wild.acuarela.yaml', '--watch', '--to', 'json', '--out', 'w.json'],
    { cwd },
  )
  let err = ''
  child.stderr.setEncoding('utf8').on('data', (text: string) => {
    err += text
  })
  const until = async (words: string, times: number): Promise<void> => {
    for (let i = 0; i < 200 && err.split(words).length <= times; i++) await new Promise((done) => setTimeout(done, 50))
    expect(err.split(words).length).toBeGreaterThan(times)
  }
  try {
    await until('watching', 1)
    await writeFile(join(cwd, 'wild.acuarela.yaml'), WILD.replace('atLeast: target', 'atLeast: targt'))
    await until('unknown name: targt; did you mean target?', 1)
    await writeFile(join(cwd, 'wild.acuarela.yaml'), WILD.replace('title: ', "note: 'again'\ntitle: "))
    await until('wrote w.json', 2)
  } finally {
    child.kill()
  }
})

test('a page from the library is the text of the tool; colours are those of the terminal', async () => {
  const page = await openReportFile(join(ROOT, SPRING))
  const { out } = await acuarela(['paint', SPRING])
  expect(toText(page, { width: 100 })).toBe(out)
  const esc = String.fromCharCode(27)
  const depths = ([1, 4, 8, 24] as const).map((colors) => toText(page, { colors }))
  const plain = (text: string): string => text.replaceAll(new RegExp(`${esc}\\[[\\d;]*m`, 'g'), '')
  expect(depths[0]).not.toContain(esc)
  expect(depths[1]).toMatch(new RegExp(`${esc}\\[[\\d;]*(4[0-7]|10[0-7])`))
  expect(depths[2]).toContain(`${esc}[48;5;`)
  expect(depths[3]).toContain(`${esc}[48;2;167;229;228;38;2;0;74;77m`)
  expect(plain(depths[2])).toBe(plain(depths[3]))
  // biome-ignore lint/suspicious/noControlCharactersInRegex: ASCII is what is asked about
  expect(toText(page, { ascii: true }).replace(/[€−ñ·…–’]/g, '')).toMatch(/^[\x00-\x7f]*$/)
})
