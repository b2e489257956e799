import { createReadStream } from 'node:fs'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { pathToFileURL } from 'node:url'
import axe from 'axe-core'
import fc from 'fast-check'
import { afterAll, beforeAll, expect, onTestFinished, test } from 'vitest'
import { goTo, useBrowser } from '../support/browser.js'
import { setParameter } from '../support/controls.js'
import { effort, FULL } from '../support/effort.js'
import { exhibitOf, type Painted } from '../support/painted.js'
import { acuarela } from '../support/tool.js'

const ROWS = 2000
const REPORT = `title: Every plant on its own
locale: en-GB
sources: { sales: { file: sales.csv } }
measures:
  revenue: { formula: sum(amount), format: money EUR 0, better: higher }
  pieces: { formula: sum(quantity), format: number 0 }
parameters: { target: { label: Plant target, value: 600, from: 0, to: 1200, step: 10 } }
statuses:
  ahead: { label: On target, wash: aqua, icon: tick }
  behind: { label: Behind, wash: coral, icon: cross }
rules:
  - { name: target, paint: revenue, bands: [{ atLeast: target, status: ahead }, { otherwise: behind }] }
exhibits:
  - { name: plants, title: Plants, table: { rows: plant, show: [revenue, pieces], totals: { rows: bottom } } }
`
const amount = (i: number): number => (i * 7919) % 1200
const name = (i: number): string => `Plant ${String(i + 1).padStart(4, '0')}`

const browser = useBrowser()
let cwd = ''
let url = ''
beforeAll(async () => {
  cwd = await mkdtemp(join(tmpdir(), 'acuarela-'))
  const lines = Array.from({ length: ROWS }, (_, i) => `${name(i)},${amount(i)},${i % 100}`)
  await writeFile(join(cwd, 'sales.csv'), `plant,amount,quantity\n${lines.join('\n')}\n`)
  await writeFile(join(cwd, 'r.acuarela.yaml'), REPORT)
  const { code, err } = await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--quiet'], cwd)
  expect([code, err]).toEqual([0, ''])
  url = pathToFileURL(join(cwd, 'r.html')).href
})
afterAll(() => rm(cwd, { recursive: true, force: true }))

test('only rows in sight are in the page; heading and total stay in place, and the end is reached', async () => {
  const { page, faults } = await browser.open()
  await goTo(page, url)
  const region = page.getByRole('region', { name: 'Plants, table' })
  expect(await region.locator('tr').count()).toBeLessThan(60)
  expect(await region.locator('table').getAttribute('aria-rowcount')).toBe(String(ROWS + 2))
  const widths = () =>
    region.locator('thead th').evaluateAll((all) => all.map((heading) => heading.getBoundingClientRect().width))
  const before = await widths()
  for (const share of [0.37, 1]) {
    await region.evaluate((element, at) => {
      element.scrollTop = at * element.scrollHeight
    }, share)
    await page.waitForTimeout(100)
    const seen = await region.evaluate((element) => {
      const box = element.getBoundingClientRect()
      const within = (e: Element | null): boolean => {
        const { top, bottom } = e?.getBoundingClientRect() ?? { top: -1, bottom: -1 }
        return top >= box.top - 1 && bottom <= box.bottom + 1
      }
      const rows = [...element.querySelectorAll('tbody.rows tr:not(.pad)')].filter(within)
      return {
        head: within(element.querySelector('thead')),
        total: within(element.querySelector('tbody.end tr')),
        first: rows[0].querySelector('th')?.textContent,
        last: rows.at(-1)?.querySelector('th')?.textContent,
        index: Number(rows[0].getAttribute('aria-rowindex')),
        count: rows.length,
      }
    })
    expect([seen.head, seen.total]).toEqual([true, true])
    expect(seen.count).toBeGreaterThan(15)
    // The row has its index among all rows, the heading counted.
    expect(seen.first).toBe(name(seen.index - 2))
    if (share === 1) expect(seen.last).toBe(name(ROWS - 1))
    // Columns keep their width while scrolling.
    expect(await widths()).toEqual(before)
  }
  expect(await region.locator('tbody.end').textContent()).toContain('Total')
  expect(faults).toEqual([])
})

/** Columns whose values differ by much, so that each target gives several statuses. */
const COLUMNS = [1200, 600, 300, 900, 1500, 40].map((most, c) => ({ name: `part${c}`, most }))

/** A page of many rows with statuses in all columns, and its report. */
async function manyRows(rows: number): Promise<{ folder: string; url: string }> {
  const folder = await mkdtemp(join(cwd, 'many-'))
  const value = (i: number, c: number): number => ((i * 7919 + c * 104_729) % (COLUMNS[c].most * 100)) / 100
  const lines = Array.from({ length: rows }, (_, i) => [name(i), ...COLUMNS.map((_, c) => value(i, c))].join(','))
  await writeFile(
    join(folder, 's.csv'),
    `plant,${COLUMNS.map((column) => column.name).join(',')}\n${lines.join('\n')}\n`,
  )
  const names = COLUMNS.map((column) => column.name)
  const rules = names.map(
    (of) => `  - { paint: ${of}, bands: [{ atLeast: target, status: ahead }, { otherwise: behind }] }`,
  )
  await writeFile(
    join(folder, 'r.acuarela.yaml'),
    `title: Many plants
locale: en-GB
sources: { s: { file: s.csv } }
measures: { ${names.map((of) => `${of}: sum(${of})`).join(', ')} }
parameters: { target: { label: Plant target, value: 400, from: 0, to: 1200, step: 10 } }
statuses:
  ahead: { label: On target, wash: aqua, icon: tick }
  behind: { label: Behind, wash: coral, icon: cross }
rules:
${rules.join('\n')}
exhibits: [{ name: plants, title: Plants, table: { rows: plant, show: [${names.join(', ')}], totals: bottom } }]
`,
  )
  const { code, err } = await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--quiet'], folder)
  expect([code, err]).toEqual([0, ''])
  return { folder, url: pathToFileURL(join(folder, 'r.html')).href }
}

/** Words and texts of some detail cells of painted JSON, in which each cell is a line. */
async function paintedTexts(file: string, wanted: ReadonlySet<number>): Promise<Map<number, string>> {
  const label: Record<string, string> = { ahead: 'On target, ', behind: 'Behind, ' }
  const found = new Map<number, string>()
  let at = 0
  for await (const line of createInterface(createReadStream(file))) {
    if (!line.includes('"level":{"row":"detail"')) continue
    if (wanted.has(at)) {
      const { text, style } = JSON.parse(line.replace(/,$/, '')) as Painted['exhibits'][number]['cells'][number]
      found.set(at, `${label[style.status ?? ''] ?? ''}${text}`)
    }
    at++
  }
  return found
}

test('cells at random places, scrolled to, are those of the painted data, before and after a moved target', async () => {
  const rows = effort(100_000, 2000)
  const { folder, url: many } = await manyRows(rows)
  const { page, faults } = await browser.open()
  await goTo(page, many)
  const width = COLUMNS.length
  const places = fc.sample(fc.tuple(fc.nat(rows - 1), fc.nat(width - 1)), { numRuns: effort(500, 30), seed: 31 })
  const indexes = places.map(([row, column]) => row * width + column)
  const seen = new Set<string>()
  for (const target of [400, 250]) {
    if (target !== 400) await setParameter(page, 'Plant target', String(target))
    await page.locator('main:not([aria-busy=true]) .tools').waitFor()
    const out = `painted-${target}.json`
    await acuarela(
      ['paint', 'r.acuarela.yaml', '--to', 'json', '--out', out, '--quiet', '--set', `target=${target}`],
      folder,
    )
    const painted = await paintedTexts(join(folder, out), new Set(indexes))
    const shown = await page.evaluate(
      async ([wanted, rows]) => {
        const region = document.querySelector('.long') as HTMLElement
        const texts: (string | undefined)[] = []
        for (const [row, column] of wanted) {
          const at = (): Element | null => region.querySelector(`tr[aria-rowindex="${row + 2}"]`)
          for (let turn = 0; turn < 8 && at() === null; turn++) {
            // The height of rows that were not seen is an estimate.
            region.scrollTop = (row / rows) * (region.scrollHeight - 90) - 200 + turn * 60
            await new Promise(requestAnimationFrame)
            await new Promise(requestAnimationFrame)
          }
          texts.push(at()?.querySelectorAll('td')[column]?.textContent ?? undefined)
        }
        return texts
      },
      [places, rows] as const,
    )
    expect(shown).toEqual(indexes.map((at) => painted.get(at)))
    for (const text of shown) seen.add(`${target} ${text?.split(',')[0]}`)
  }
  expect([...seen].sort()).toEqual(['250 Behind', '250 On target', '400 Behind', '400 On target'])
  expect(faults).toEqual([])
}, 600_000)

test('find goes to rows out of sight, arrows step on from a cell, and a slider recolours what is found there', async () => {
  const { page, faults } = await browser.open()
  await goTo(page, url)
  const find = page.getByLabel('Find in Plants')
  await find.fill('plant 17')
  await find.press('Enter')
  expect(await page.locator('.acts [role=status]').textContent()).toBe('2 of 100')
  expect(await page.locator('tr.found th').textContent()).toBe('Plant 1701')
  await find.press('Shift+Enter')
  await find.press('Shift+Enter')
  expect(await page.locator('tr.found th').textContent()).toBe('Plant 1799')
  await find.fill('nowhere')
  expect(await page.locator('.acts [role=status]').textContent()).toBe('none')
  await find.fill(name(1234))
  const cell = page.locator('tr.found td').first()
  await cell.evaluate((element) => {
    ;(element as HTMLElement).tabIndex = -1
    ;(element as HTMLElement).focus()
  })
  for (let i = 0; i < 40; i++) await page.keyboard.press('ArrowDown')
  expect(await page.evaluate(() => document.activeElement?.closest('tr')?.querySelector('th')?.textContent)).toBe(
    name(1274),
  )
  expect(await page.locator('.whybox').textContent()).toContain(name(1274))
  const wanted = amount(1274)
  const shown = page
    .locator('tr', { hasText: name(1274) })
    .locator('td')
    .first()
  for (const [target, status] of [
    [Math.floor(wanted / 10) * 10, 'On target'],
    [Math.floor(wanted / 10) * 10 + 10, 'Behind'],
  ]) {
    await setParameter(page, 'Plant target', String(target))
    await page.locator('main:not([aria-busy=true]) .tools').waitFor()
    expect(await shown.textContent()).toContain(`${status}, `)
  }
  // Counts include rows out of view.
  const { out } = await acuarela(
    ['paint', 'r.acuarela.yaml', '--to', 'json', '--quiet', '--set', `target=${Math.floor(wanted / 10) * 10 + 10}`],
    cwd,
  )
  const ahead = exhibitOf(JSON.parse(out) as Painted, 'plants').cells.filter(
    ({ style: look }) => look.status === 'ahead',
  )
  const counted = ahead.length.toLocaleString('en-GB')
  expect(await page.locator('.counts').textContent()).toMatch(new RegExp(`On target [\\d,]+ → ${counted},`))
  expect(faults).toEqual([])
})

/** Where the parts of a page are, from the top and the left. */
const PLACES = ['.tools', '.tools summary', 'h2', 'thead', '.keys']

test('a control that is moved while a long page decides is answered first, and nothing is shifted', async () => {
  const rows = 8000
  const folder = await mkdtemp(join(cwd, 'early-'))
  const lines = Array.from({ length: rows }, (_, i) => `${name(i)},${amount(i)},${i % 100}`)
  await writeFile(join(folder, 'sales.csv'), `plant,amount,quantity\n${lines.join('\n')}\n`)
  await writeFile(join(folder, 'r.acuarela.yaml'), REPORT)
  await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--quiet'], folder)
  const { page, faults } = await browser.open()
  // A page keeps such a script: it is closed before another test gets it.
  onTestFinished(() => page.close())
  await page.addInitScript((parts) => {
    const places = (): string[] =>
      parts.map((part) => {
        const box = document.querySelector(part)?.getBoundingClientRect()
        return `${part} ${Math.round(box?.top ?? -1)} ${Math.round(box?.left ?? -1)}`
      })
    const move = (): void => {
      const input = document.querySelector<HTMLInputElement>('.tools input[type=range]')
      const summary = document.querySelector<HTMLElement>('.tools summary')
      const told = document.querySelector('.counts')
      if (input === null || summary === null || told === null) {
        setTimeout(move, 1)
        return
      }
      summary.focus()
      const counts: string[] = []
      const rows = document.querySelectorAll('tbody th').length
      const isDecided = document.querySelector('.stripbox') !== null
      Object.assign(window, { early: { summary, rows, isDecided, counts, before: places(), places } })
      new MutationObserver(() => counts.push(told.textContent ?? '')).observe(told, { childList: true, subtree: true })
      input.value = '300'
      input.dispatchEvent(new Event('input', { bubbles: true }))
    }
    move()
  }, PLACES)
  await goTo(page, pathToFileURL(join(folder, 'r.html')).href)
  type Early = {
    summary: HTMLElement
    rows: number
    isDecided: boolean
    counts: string[]
    before: string[]
    places(): string[]
  }
  const seen = await page.evaluate(() => {
    const { summary, places, ...rest } = (window as unknown as { early: Early }).early
    return { ...rest, isFocused: document.activeElement === summary, after: places() }
  })
  // The first rows and the total, as the tool has written them.
  expect(seen).toMatchObject({ rows: 21, isDecided: false, isFocused: true })
  expect(seen.after).toEqual(seen.before)
  const least = (limit: number): number =>
    Array.from({ length: rows }, (_, i) => amount(i)).filter((x) => x >= limit).length
  const print = (count: number): string => count.toLocaleString('en-GB')
  expect(seen.counts.find((text) => text !== '')).toContain(`On target ${print(least(600))} → ${print(least(300))}`)
  const counted = print(least(300))
  expect(await page.locator('.band a b').first().textContent()).toBe(counted)
  expect(await page.locator('.key').textContent()).toContain(`· ${counted}`)
  const first = page
    .locator('tr', { hasText: name(1) })
    .locator('td')
    .first()
  expect(await first.textContent()).toBe(`${amount(1) >= 300 ? 'On target' : 'Behind'}, €${amount(1)}`)
  expect(faults).toEqual([])
})

test('a long table with wide totals takes the width of the page, not the room beside its legend', async () => {
  const folder = await mkdtemp(join(cwd, 'wide-'))
  const columns = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth']
  const lines = Array.from({ length: 400 }, (_, i) => [
    name(i),
    ...columns.map((_, c) => ((i * 7919) % 1200) * 10 ** (5 - c)),
  ])
  await writeFile(
    join(folder, 's.csv'),
    `plant,${columns.join(',')}\n${lines.map((line) => line.join(',')).join('\n')}\n`,
  )
  await writeFile(
    join(folder, 'r.acuarela.yaml'),
    `title: Six measures
sources: { s: { file: s.csv } }
measures: { ${columns.map((column) => `${column}: sum(${column})`).join(', ')} }
statuses: { good: { wash: aqua, icon: tick } }
rules: [{ name: good, paint: first, bands: [{ atLeast: 500, status: good }] }]
exhibits: [{ name: plants, table: { rows: plant, show: [${columns.join(', ')}], totals: bottom } }]
`,
  )
  await acuarela(['paint', 'r.acuarela.yaml', '--out', 'r.html', '--quiet'], folder)
  const { page } = await browser.open()
  await goTo(page, pathToFileURL(join(folder, 'r.html')).href)
  const region = page.locator('main:not([aria-busy=true]) .long')
  expect(await page.locator('section.aside').count()).toBe(0)
  expect(await region.evaluate((box) => box.scrollWidth - box.clientWidth)).toBe(0)
})

test.runIf(FULL)(
  'paper gets every row, readers without scripts the first ones and the totals; axe finds nothing',
  async () => {
    const { page, faults } = await browser.open()
    await goTo(page, url)
    await page.evaluate(() => dispatchEvent(new Event('beforeprint')))
    expect(await page.locator('tbody.rows tr:not(.pad)').count()).toBe(ROWS)
    await page.evaluate(() => dispatchEvent(new Event('afterprint')))
    expect(await page.locator('tbody.rows tr:not(.pad)').count()).toBeLessThan(60)
    await page.evaluate(axe.source)
    const results = await page.evaluate(() =>
      (window as unknown as { axe: typeof axe }).axe.run(document, { resultTypes: ['violations'] }),
    )
    expect(results.violations.map((v) => `${v.id}: ${v.nodes[0].html.slice(0, 140)}`)).toEqual([])
    expect(faults).toEqual([])
    const bare = await (await page.context().browser())?.newContext({ javaScriptEnabled: false })
    const still = await bare?.newPage()
    await still?.goto(url)
    // The first rows and the totals, and how many there are.
    expect(await still?.locator('tbody th').count()).toBe(500 + 1)
    expect(await still?.locator('section .note').last().textContent()).toContain(
      `The first 500 of ${ROWS} rows are shown without scripts`,
    )
    const late = still?.locator('tbody tr', { hasText: name(498) })
    expect((await late?.boundingBox())?.height).toBeGreaterThan(20)
    await bare?.close()
  },
)
