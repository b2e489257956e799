import { readFileSync } from 'node:fs'
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { bundleReportFile, openReportFile } from 'acuarela/node'
import { cellsOf, type Exhibit, type GridExhibit, type Page } from 'acuarela/report'
import { parseHTML } from 'linkedom'
import Papa from 'papaparse'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { useBrowser } from '../support/browser.js'
import { setParameter } from '../support/controls.js'
import { useEmbedded } from '../support/embed.js'
import { shownAbove } from '../support/legends.js'
import { acuarela, ROOT } from '../support/tool.js'
import { WILD, WILD_CSV } from '../support/wild.js'
import { type ReadBook, readBook } from '../support/workbook-reading.js'

/**
 * The table of docs/outputs.md, output × property, held over a report that strains everything: what
 * the table says is shown is found in the output of each exhibit, in reading order; what it says is
 * not, is not there.
 */

const browser = useBrowser()
const embedded = useEmbedded(['remote'])

/** The table as it is written: property → output → what it says. */
function written(): Map<string, Map<string, string>> {
  const text = readFileSync(join(ROOT, 'docs/outputs.md'), 'utf8')
  const lines = text.split('\n').filter((line) => line.startsWith('|'))
  const cells = (line: string): string[] =>
    line
      .split('|')
      .slice(1, -1)
      .map((part) => part.trim())
  const [, ...outputs] = cells(lines[0])
  return new Map(
    lines.slice(2).map((line) => {
      const [property, ...says] = cells(line)
      return [property, new Map(outputs.map((output, i) => [output, says[i]]))]
    }),
  )
}

/**
 * What an output shows of one exhibit: its text in reading order, with drawings, colours and hover
 * texts.
 */
type Shown = (exhibit: string) => string

interface Output {
  shown: Shown
  /** The same with its colours, where they are not always written. */
  colored?: Shown
  /** How an icon, a colour or a status is written. */
  icon(name: string): string
  color(hex: string): string
  status(label: string, id: string): string
  hasTrend(exhibit: string): boolean
  /** How a heading is written; default: its text. */
  heading?(heading: GridExhibit['rows'][number]['heading']): string
  /** The strip; empty where there is none. */
  strip: string
  /** Of data: how many cells have a value. */
  count?(exhibit: string): number
}

const SIGNS: Readonly<Record<string, string>> = {
  tick: '✓',
  cross: '✗',
  up: '↑',
  sideways: '→',
  down: '↓',
  ring: '○',
  drop: '◆',
}
const BLOCKS = /[▁▂▃▄▅▆▇█]{3}/

/** Without white space, which outputs set as they like. */
const bare = (text: string): string => text.replace(/\s+/g, '')

/** The text of an element, with attributes that show something where they stand. */
function flatten(node: Node, css: ReadonlyMap<string, string>): string {
  if (node.nodeType === 3) return node.nodeValue ?? ''
  if (node.nodeType !== 1) return ''
  const element = node as Element
  if (element.tagName.toLowerCase() === 'style') return ''
  const parts = ['title', 'style', 'fill', 'stroke', 'href', 'xlink:href'].map(
    (name) => element.getAttribute(name) ?? '',
  )
  // The rules of a class hold its colours.
  for (const name of (element.getAttribute('class') ?? '').split(/\s+/)) parts.push(css.get(name) ?? '')
  for (const child of element.childNodes) parts.push(flatten(child as unknown as Node, css))
  return parts.join(' ')
}

function htmlOutput(html: string): Output {
  const { document } = parseHTML(html)
  const css = new Map<string, string>()
  // Colours for a dark ground come after those of paper.
  for (const style of document.querySelectorAll('style'))
    for (const [, name, rules] of (style.textContent ?? '').matchAll(/\.(\w+)\{([^}]*)\}/g))
      css.set(name, `${css.get(name) ?? ''} ${rules}`)
  const sectionOf = (name: string): Element | null => document.querySelector(`section[aria-labelledby="x-${name}"]`)
  return {
    shown(name) {
      const section = sectionOf(name)
      if (section === null) return ''
      const outer = section.parentElement?.classList.contains('pair') === true ? section.parentElement : section
      const before = outer.previousElementSibling
      const heading = before?.classList.contains('sec') === true ? before.textContent : ''
      return `${heading} ${flatten(section as unknown as Node, css)}`
    },
    icon: (name) => `#i-${name}`,
    color: (hex) => hex,
    status: (label) => label,
    strip: document.querySelector('.strip')?.textContent ?? '',
    hasTrend: (name) => sectionOf(name)?.querySelector('svg.trend, svg.line, svg[class*=spark]') != null,
  }
}

function fragmentOutput(html: string, page: Page): Output {
  const parts = new Map<string, string>()
  const { document: whole } = parseHTML(`<!doctype html><html><body>${html}</body></html>`)
  let [section, at] = ['', 0]
  for (const block of html.split(/(?=<h3 |<h4 )/).slice(1)) {
    const { document } = parseHTML(`<!doctype html><html><body>${block}</body></html>`)
    const text = flatten(document.body as unknown as Node, new Map())
    if (/^<h3 [^>]*border-bottom/.test(block)) section = text
    else {
      parts.set(page.exhibits[at++].name, `${section} ${text}`)
      section = ''
    }
  }
  const shown: Shown = (name) => parts.get(name) ?? ''
  return {
    shown,
    icon: (name) => SIGNS[name],
    color: (hex) => hex,
    status: (label) => label,
    strip: whole.querySelector('table')?.textContent ?? '',
    hasTrend: (name) => BLOCKS.test(shown(name)),
  }
}

/** The path of a drawing, by which it is known where it stands by itself. */
const ICON_PATHS = new Map<string, string>()

function svgOutput(files: ReadonlyMap<string, string>): Output {
  const shown: Shown = (name) => {
    const { document } = parseHTML(
      `<!doctype html><html><body>${(files.get(name) ?? '').replace(/^<\?[^>]*>/, '')}</body></html>`,
    )
    const drawn = [...document.querySelectorAll('path')].map((path) => path.getAttribute('d')).join(' ')
    return `${flatten(document.body as unknown as Node, new Map())} ${drawn}`
  }
  return {
    shown,
    icon: (name) => ICON_PATHS.get(name) ?? name,
    color: (hex) => hex,
    status: (label) => label,
    strip: '',
    hasTrend: (name) => /<polyline|stroke-width="1\.[0-9]+"/.test(files.get(name) ?? ''),
  }
}

/** Lines of text by exhibit: one begins with its title, the section before it in capitals. */
function byTitle(text: string, page: Page): Shown {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: colours of a terminal
  const plain = (line: string): string => line.replace(/\u001b\[[0-9;]*m/g, '').trim()
  const parts = new Map<string, string>()
  let [name, pending] = ['', '']
  for (const line of text.split('\n')) {
    const next = page.exhibits.find((exhibit) => exhibit.title === plain(line) && !parts.has(exhibit.name))
    const section = page.exhibits.some((exhibit) => exhibit.section?.toUpperCase() === plain(line))
    if (next !== undefined) {
      name = next.name
      parts.set(name, `${pending} ${line}`)
      pending = ''
    } else if (section) pending = line
    else if (name !== '') parts.set(name, `${parts.get(name)}\n${line}`)
  }
  return (exhibit) => parts.get(exhibit) ?? ''
}

function textOutput(text: string, colored: string, page: Page): Output {
  const shown = byTitle(text, page)
  return {
    shown,
    colored: byTitle(colored, page),
    icon: (name) => SIGNS[name],
    color: (hex) => [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16)).join(';'),
    status: (label) => label,
    strip: text.split('\n\n')[1],
    hasTrend: (name) => BLOCKS.test(shown(name)),
  }
}

/** A sheet for each exhibit, and one for all legends, which stand under the titles of exhibits. */
function odsOutput({ sheets }: ReadBook, page: Page): Output {
  const lines = ({ rows }: ReadBook['sheets'][number], isColored: boolean): string[] =>
    rows.map(({ cells }) => cells.map(({ text, fill, ink }) => (isColored ? `${text} ${fill} ${ink}` : text)).join(' '))
  const legend = sheets.find(({ name }) => name === 'Legend and rules')
  const parts = new Map<string, string[]>()
  let [name, at] = ['', 0]
  for (const line of legend === undefined ? [] : lines(legend, false)) {
    const next = page.exhibits.findIndex(({ title, legends }, i) => i >= at && legends.length > 0 && title === line)
    if (next >= 0) {
      name = page.exhibits[next].name
      at = next + 1
    }
    parts.set(name, [...(parts.get(name) ?? []), line])
  }
  const shownWith =
    (isColored: boolean): Shown =>
    (exhibit) => {
      const index = page.exhibits.findIndex((one) => one.name === exhibit)
      return index < 0 ? '' : [...lines(sheets[index], isColored), ...(parts.get(exhibit) ?? [])].join('\n')
    }
  return {
    shown: shownWith(false),
    colored: shownWith(true),
    icon: (icon) => SIGNS[icon],
    color: (hex) => hex,
    status: (label) => label,
    // In a list each key has a column.
    heading: ({ text, keys }) => (keys.length > 1 ? (text.split(', ').at(-1) ?? text) : text),
    strip: lines(sheets[0], false).slice(0, 8).join(' '),
    hasTrend: (exhibit) => BLOCKS.test(shownWith(false)(exhibit)),
  }
}

function dataOutput(
  shown: Shown,
  count: (exhibit: string) => number,
  more: Pick<Output, 'hasTrend' | 'status' | 'heading' | 'strip'>,
): Output {
  return { shown, count, icon: (name) => name, color: (hex) => hex, ...more }
}

/** Every plain value of data, in its order. */
function values(data: unknown): string {
  if (typeof data === 'object' && data !== null) return Object.values(data).map(values).join(' ')
  return data === null || data === undefined ? '' : String(data)
}

type Tokens = { ordered: boolean; list: string[] }

type Legend = Exhibit['legends'][number]

/** What the table says of an output, and the exhibits of its page. */
interface Case {
  says: string
  exhibits: readonly Exhibit[]
}

/** What stands for a property in an exhibit; empty where it has none. */
const PROPERTIES: Readonly<Record<string, (exhibit: Exhibit, output: Output, given: Case) => Tokens>> = {
  'text of a cell': (exhibit) => ({
    // The points of a chart stand in the order of its drawing.
    ordered: 'rows' in exhibit || exhibit.kind === 'records',
    list: cellsOf(exhibit)
      .filter(({ style }) => style.hide !== 'value')
      .filter((cell) => exhibit.kind !== 'cards' || exhibit.cards.some((card) => card.cell === cell))
      .filter(() => exhibit.kind !== 'reading')
      .map(({ text }) => text),
  }),
  'status in words': (exhibit, output) => ({
    ordered: false,
    list: cellsOf(exhibit).flatMap(({ style, statusText }) =>
      style.status === null ? [] : [output.status(statusText, style.status)],
    ),
  }),
  icon: (exhibit, output) => ({
    ordered: false,
    list: cellsOf(exhibit).flatMap(({ style }) =>
      style.icon === null || exhibit.kind === 'chart' || exhibit.kind === 'reading' ? [] : [output.icon(style.icon)],
    ),
  }),
  'second icon': (exhibit, output) => ({
    ordered: false,
    list: cellsOf(exhibit).flatMap(({ style }) => (style.iconAfter === null ? [] : [output.icon(style.iconAfter)])),
  }),
  'fill and text colour': (exhibit, output) => ({
    ordered: false,
    list: cellsOf(exhibit).flatMap(({ style, text }) =>
      style.fill === null || text === '' || exhibit.kind === 'chart' || exhibit.kind === 'reading'
        ? []
        : [output.color(`#${style.fill.toString(16).padStart(6, '0')}`)],
    ),
  }),
  flag: (exhibit) => ({ ordered: false, list: cellsOf(exhibit).flatMap(({ flag }) => flag ?? []) }),
  'hidden number': (exhibit) => ({
    ordered: false,
    list: cellsOf(exhibit)
      .filter(({ style }) => style.hide === 'value')
      .map(({ text }) => text),
  }),
  'row headings': (exhibit, output) => ({
    ordered: 'rows' in exhibit,
    list:
      'rows' in exhibit
        ? exhibit.rows
            .filter(({ heading }) => heading.level === 'detail' && heading.keys.at(-1)?.value !== null)
            .map(({ heading }) => output.heading?.(heading) ?? heading.text)
        : [],
  }),
  section: ({ section }) => ({ ordered: false, list: section === null ? [] : [section.toUpperCase()] }),
  'note and period': ({ note, periodText }) => ({
    ordered: false,
    list: [note ?? '', periodText].filter((text) => text !== ''),
  }),
  legend: (exhibit, _, { says, exhibits }) => {
    const named = (legend: Legend): Exhibit | undefined =>
      says.includes('or named') ? shownAbove(legend, exhibit, exhibits) : undefined
    return {
      ordered: exhibit.legends.every((legend) => named(legend) === undefined),
      list: exhibit.legends.flatMap((legend) => {
        const above = named(legend)
        if (above !== undefined) return ['as in', above.title]
        return [
          ...legend.entries.flatMap(({ label, limit }) => [label, limit]),
          ...(legend.ramp?.marks.map(({ text }) => text) ?? []),
        ]
      }),
    }
  },
  messages: ({ messages }) => ({ ordered: true, list: [...messages] }),
  'nothing to show': (exhibit) => ({
    ordered: false,
    list: cellsOf(exhibit).every(({ value }) => value === null)
      ? [exhibit.kind === 'chart' ? 'No values.' : 'No rows.']
      : [],
  }),
  'reference line': (exhibit) => ({
    ordered: false,
    list: exhibit.kind === 'chart' ? exhibit.references.flatMap(({ label, text }) => [label, text]) : [],
  }),
}

/** Whether tokens are there: in their order, or anywhere. */
function missingToken(text: string, { ordered, list }: Tokens): string | undefined {
  const flat = bare(text).toUpperCase()
  let at = 0
  for (const token of list.map((token) => bare(token).toUpperCase())) {
    const position = flat.indexOf(token, ordered ? at : 0)
    if (position < 0) return token
    at = position + (ordered ? token.length : 0)
  }
  return undefined
}

/** The live page where a worker answers; the table has one column for both. */
const WORKER = 'live, in a worker'

/** A live page after its target was moved. */
async function liveMarkup(url: string, markup: () => string): Promise<string> {
  const { page, faults } = await browser.open()
  await page.goto(url)
  await page.locator(':is(main, .main):not([aria-busy=true]) .tools').waitFor()
  await setParameter(page, 'Target', '300', 'spinbutton')
  await page.locator(':is(main, .main):not([aria-busy=true]) .counts:not(:empty)').waitFor()
  expect(faults).toEqual([])
  return page.evaluate(markup)
}

let base: Page
let moved: Page
let outputs: Map<string, Output>
let cwd: string

beforeAll(async () => {
  cwd = await mkdtemp(join(tmpdir(), 'acuarela-outputs-'))
  await writeFile(join(cwd, 's.csv'), WILD_CSV)
  await writeFile(join(cwd, 'wild.acuarela.yaml'), WILD)
  const file = join(cwd, 'wild.acuarela.yaml')
  const run = async (...args: string[]): Promise<string> => {
    const { code, out, err } = await acuarela(['paint', 'wild.acuarela.yaml', ...args], cwd)
    expect([code, err]).toEqual([0, ''])
    return out
  }
  base = await openReportFile(file)
  moved = await openReportFile(file, { parameters: { target: 300 } })
  const [html, fragment, text, colored, json, csv] = await Promise.all([
    run('--to', 'html', '--static'),
    run('--fragment'),
    run('--to', 'text', '--width', '0'),
    run('--to', 'text', '--width', '0', '--color'),
    run('--to', 'json'),
    run('--to', 'csv'),
  ])
  await run('--to', 'svg', '--out', 'svg', '--quiet')
  await run('--out', 'live.html', '--quiet')
  await run('--out', 'book.ods', '--quiet')
  const names = await readdir(join(cwd, 'svg'))
  const files = await Promise.all(
    base.exhibits.map(async ({ name }): Promise<[string, string]> => {
      const file = names.find((file) => file.endsWith(`-${name}.svg`)) ?? ''
      return [name, await readFile(join(cwd, 'svg', file), 'utf8')]
    }),
  )
  for (const [, name, path] of html.matchAll(/<symbol id="?i-([\w-]+)"?[^>]*>.*?\bd="([^"]+)"/g))
    ICON_PATHS.set(name, path)
  const data = JSON.parse(json) as {
    strip: unknown
    exhibits: { name: string; trends: unknown[]; cells: { value: unknown }[] }[]
  }
  const dataOf = (name: string) => data.exhibits.find((exhibit) => exhibit.name === name)
  const rows = Papa.parse<Record<string, string>>(csv, { header: true, skipEmptyLines: true }).data
  const rowsOf = (name: string) => rows.filter((row) => row.exhibit === name)
  const rowText = (row: Record<string, string>): string =>
    Object.values(row)
      .map((text) => text.replace(/^'/, ''))
      .join(' ')
  const live = await liveMarkup(`file://${join(cwd, 'live.html')}`, () => document.documentElement.outerHTML)
  await writeFile(join(embedded.folder(), 'bundle.json'), await bundleReportFile(file))
  const remote = await liveMarkup(
    embedded.url('remote.html'),
    () => `<html><body>${document.querySelector('#place')?.shadowRoot?.innerHTML}</body></html>`,
  )
  outputs = new Map<string, Output>([
    ['html', htmlOutput(html)],
    ['fragment', fragmentOutput(fragment, base)],
    ['svg', svgOutput(new Map(files))],
    ['text', textOutput(text, colored, base)],
    [
      'json',
      dataOutput(
        (name) => values(dataOf(name)),
        (name) => dataOf(name)?.cells.filter(({ value }) => value !== null).length ?? 0,
        {
          hasTrend: (name) => (dataOf(name)?.trends.length ?? 0) > 0,
          status: (_, id) => id,
          strip: values(data.strip),
        },
      ),
    ],
    [
      'csv',
      dataOutput(
        (name) => rowsOf(name).map(rowText).join(' '),
        (name) => rowsOf(name).filter(({ value }) => value !== '').length,
        {
          strip: '',
          hasTrend: () => false,
          status: (label) => label,
          heading: ({ keys }) => String(keys.at(-1)?.value),
        },
      ),
    ],
    ['ods', odsOutput(readBook(await readFile(join(cwd, 'book.ods'))), base)],
    ['live', htmlOutput(live)],
    [WORKER, htmlOutput(remote)],
  ])
})

afterAll(() => rm(cwd, { recursive: true, force: true }))

const table = written()
const names = [...(table.values().next().value?.keys() ?? [])]

/** The column of the table that an output is held to. */
const columnOf = (name: string): string => (name === WORKER ? 'live' : name)

test('the table names each output and each property once', () => {
  expect(names).toEqual(['html', 'fragment', 'svg', 'text', 'json', 'csv', 'ods', 'live'])
  expect([...table.keys()].sort()).toEqual(
    [
      ...Object.keys(PROPERTIES),
      'trend of a row or card',
      'the same without colours beside it',
      'strip: statuses of one measure, counted',
    ].sort(),
  )
})

test.each(Object.keys(PROPERTIES))('%s: each output shows it as the table says', (property) => {
  let seen = 0
  for (const name of [...names, WORKER]) {
    const says = table.get(property)?.get(columnOf(name)) ?? ''
    const output = outputs.get(name)
    if (output === undefined) throw new Error(`no output ${name}`)
    const page = columnOf(name) === 'live' ? moved : base
    for (const exhibit of page.exhibits) {
      const tokens = PROPERTIES[property](exhibit, output, { says, exhibits: page.exhibits })
      if (tokens.list.every((token) => bare(token) === '')) continue
      seen++
      const shown = property === 'fill and text colour' ? (output.colored ?? output.shown) : output.shown
      const text = shown(exhibit.name)
      const place = `${name}, ${exhibit.name}: ${property}`
      if (property === 'nothing to show' && says.startsWith('as no'))
        expect(output.count?.(exhibit.name), place).toBe(0)
      else if (says.startsWith('no')) {
        // The label of a status, or a mark of a scale, is that of a cell, too.
        const shared = new Set(cellsOf(exhibit).flatMap(({ statusText, text }) => [statusText, text]))
        for (const token of tokens.list.filter(
          (text) => ![...shared, ''].includes(text.replace(/ (lowest|highest)$/, '')),
        ))
          expect(bare(text), place).not.toContain(bare(token))
      } else if (says.startsWith('as far as'))
        expect(
          missingToken(text, { ...tokens, list: tokens.list.map((token) => token.slice(0, 20)) }),
          place,
        ).toBeUndefined()
      else expect(missingToken(text, tokens), place).toBeUndefined()
    }
  }
  expect(seen).toBeGreaterThan(0)
})

test('trends of rows and cards, and twins without colours, are where the table says', () => {
  for (const name of [...names, WORKER]) {
    const output = outputs.get(name)
    const trends = table.get('trend of a row or card')?.get(columnOf(name)) ?? ''
    for (const exhibit of ['flat', 'cards'])
      expect([name, exhibit, output?.hasTrend(exhibit)]).toEqual([name, exhibit, !trends.startsWith('no')])
    const twin = table.get('the same without colours beside it')?.get(columnOf(name)) ?? ''
    expect([name, bare(output?.shown('flat-plain') ?? '') !== '']).toEqual([name, !twin.startsWith('no')])
  }
})

test('the strip counts the detail cells of one measure by status, where the table says', () => {
  const row = table.get('strip: statuses of one measure, counted')
  for (const name of [...names, WORKER]) {
    const output = outputs.get(name)
    const { strip, exhibits } = columnOf(name) === 'live' ? moved : base
    if (output === undefined || strip === null) throw new Error('no strip')
    const cells = cellsOf(exhibits.find((exhibit) => exhibit.name === strip.exhibit) as Exhibit).filter(
      ({ measure, level }) => measure === strip.measure && level.row === 'detail' && level.column === 'detail',
    )
    const counts = new Map<string, number>()
    for (const { style, statusText, value } of cells) {
      const label = style.status === null ? (value === null ? 'no value' : 'no status') : statusText
      counts.set(label, (counts.get(label) ?? 0) + 1)
    }
    expect(counts.size).toBeGreaterThan(2)
    const shown = bare(output.strip)
    if ((row?.get(columnOf(name)) ?? '').startsWith('no')) expect([name, shown]).toEqual([name, ''])
    else
      for (const [label, count] of counts) {
        const said = name === 'json' ? (label === 'no value' ? `${count}` : label) : `${count}${bare(label)}`
        expect(shown, `${name}: ${label}`).toContain(name === 'json' ? bare(said) : said)
      }
    expect(strip.parts.reduce((sum, part) => sum + part.count, 0)).toBe(cells.length)
  }
})
