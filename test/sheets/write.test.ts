import { join } from 'node:path'
import { openReportFile } from 'acuarela/node'
import { type Cell, cellsOf, type Exhibit, type GridExhibit, openReport, type Page, readSource } from 'acuarela/report'
import { toOds } from 'acuarela/workbook'
import fc from 'fast-check'
import { beforeAll, expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import { ROOT } from '../support/tool.js'
import { WILD, WILD_CSV } from '../support/wild.js'
import { type ReadBook, type ReadCell, type ReadSheet, readBook, shownBy } from '../support/workbook-reading.js'

const brezal = (name: string): string => join(ROOT, `examples/brezal/${name}.acuarela.yaml`)
const BESIDE = ['sign', 'sign-words', 'bar', 'flag', 'trend']

let pages: Map<string, { page: Page; book: ReadBook; bytes: Uint8Array }>
beforeAll(async () => {
  pages = new Map()
  const add = async (name: string, page: Page): Promise<void> => {
    const bytes = await toOds(page, { rules: [{ title: 'A rule', sentence: 'revenue: top 3 → bold' }] })
    pages.set(name, { page, bytes, book: readBook(bytes) })
  }
  for (const name of ['spring', 'june']) await add(name, await openReportFile(brezal(name)))
  await add('wild', await openReport(WILD, { s: WILD_CSV }))
})

/** Every page with its workbook. */
const each = (): { name: string; page: Page; book: ReadBook }[] => [...pages].map(([name, one]) => ({ name, ...one }))
const hex = (color: number | null): string | undefined =>
  color === null ? undefined : `#${color.toString(16).padStart(6, '0')}`
/** As a number is compared: one kind of minus and of space. */
const plain = (text: string): string => text.replaceAll('−', '-').replace(/[\u00a0\u202f]/g, ' ')

/** The rows of an exhibit as they must stand in its sheet: those of the table in their order. */
function cellRows(exhibit: Exhibit): (Cell | null)[][] {
  if (exhibit.kind === 'cards') return exhibit.cards.map(({ cell, versus }) => [cell, versus])
  if (exhibit.kind !== 'table' && exhibit.kind !== 'heatmap' && exhibit.kind !== 'list') return []
  // Where keys have columns, a group without totals has no row.
  return exhibit.rows
    .filter(({ group, cells }) => !group || cells.some((cell) => cell !== null))
    .map(({ cells }) => [...cells])
}

const sheetOf = (page: Page, book: ReadBook, exhibit: Exhibit): ReadSheet => book.sheets[page.exhibits.indexOf(exhibit)]
const dataRows = ({ rows }: ReadSheet): ReadSheet['rows'] =>
  rows.filter(({ style, isHeading }) => !isHeading && ['detail', 'group', 'subtotal', 'total'].includes(style))

/** The cells of values, without headings and what stands beside values. */
function valueCells(exhibit: Exhibit, sheet: ReadSheet): ReadCell[][] {
  const headings = exhibit.kind === 'cards' ? 1 : (exhibit as GridExhibit).corners.length
  const kept = sheet.columns.flatMap(({ style }, c) => (BESIDE.includes(style) ? [] : [c])).slice(headings)
  return dataRows(sheet).map(({ cells }) => kept.map((c) => cells[c]))
}

test('each value stands in its sheet unrounded, in a format that shows what the page shows, with its paint', () => {
  let compared = 0
  for (const { name, page, book } of each())
    for (const exhibit of page.exhibits) {
      const rows = cellRows(exhibit)
      if (rows.length === 0) continue
      const sheet = sheetOf(page, book, exhibit)
      const read = valueCells(exhibit, sheet)
      expect([name, exhibit.name, read.length]).toEqual([name, exhibit.name, rows.length])
      rows.forEach((cells, r) => {
        cells.forEach((cell, c) => {
          if (cell === null) return
          const own = read[r][c]
          const place = `${name}, ${exhibit.name}: ${cell.name} ${cell.measure}`
          if (exhibit.kind !== 'cards' || c === 0) {
            expect([place, own.fill]).toEqual([place, hex(cell.style.fill)])
            if (cell.style.ink !== null) expect([place, own.ink]).toEqual([place, hex(cell.style.ink)])
            if (cell.style.weight !== null) expect([place, own.bold]).toEqual([place, cell.style.weight === 'bold'])
          }
          if (cell.value === null) expect([place, own.type, own.text]).toEqual([place, '', ''])
          else if ('styles' in exhibit && exhibit.styles[c].draw === 'status')
            expect([place, own.text, own.value]).toEqual([place, cell.text, ''])
          else {
            expect([place, Number(own.value), own.text]).toEqual([place, cell.value, cell.text])
            const data = book.data.get(own.data) as Element
            // A short form has no digit more than its style, and a hidden number shows nothing.
            if (cell.style.hide === 'value')
              expect([place, shownBy(data, cell.value, book.data, page.locale)]).toEqual([place, ''])
            else if (page.formats[cell.measure]?.compact !== true)
              expect(plain(shownBy(data, cell.value, book.data, page.locale)), place).toBe(plain(cell.text))
            const kind = page.formats[cell.measure]?.kind ?? 'number'
            expect(own.type).toBe({ money: 'currency', percent: 'percentage', number: 'float' }[kind])
            if (kind === 'money') expect(own.currency).toBe(page.formats[cell.measure].currency)
            compared++
          }
        })
      })
    }
  expect(compared).toBeGreaterThan(300)
})

test('the parts are those of the standard: the type first and as it is, all in the manifest, each style defined before it is used', () => {
  for (const { book } of each()) {
    const names = Object.keys(book.files)
    expect(names[0]).toBe('mimetype')
    const manifest = Buffer.from(book.files['META-INF/manifest.xml']).toString()
    const listed = [...manifest.matchAll(/full-path="([^"]+)"/g)].map(([, path]) => path)
    expect(listed.sort()).toEqual(
      ['/', ...names.filter((file) => file !== 'mimetype' && !file.startsWith('META-INF'))].sort(),
    )
    // `Default` is in the part of common styles.
    expect([...book.used].filter((style) => !book.defined.has(style))).toEqual([])
    expect(book.content.indexOf('</office:automatic-styles>')).toBeLessThan(book.content.indexOf('<office:body>'))
    for (const { name, rows, columns, pictures } of book.sheets) {
      for (const picture of pictures) expect(names).toContain(picture)
      for (const { cells } of rows) expect([name, cells.length <= Math.max(columns.length, 9)]).toEqual([name, true])
    }
    for (const style of ['n', 'c', 'co'])
      expect(book.content).not.toMatch(new RegExp(`style:name="${style}(\\d+)"[^]*style:name="${style}\\1"`))
  }
  const [{ bytes }] = pages.values()
  // Programs know the type by its place: 30 bytes of a header, 8 of a name, no extra field.
  const head = Buffer.from(bytes.subarray(0, 90))
  expect(head.readUInt16LE(8)).toBe(0)
  expect(head.readUInt16LE(28)).toBe(0)
  expect(head.readUInt16LE(6) & 8).toBe(0)
  expect(head.subarray(30, 84).toString()).toBe('mimetypeapplication/vnd.oasis.opendocument.spreadsheet')
})

test('widths fit the texts, headings stay and are repeated, wide sheets lie across', () => {
  for (const { page, book } of each()) {
    const settings = Buffer.from(book.files['settings.xml']).toString()
    for (const exhibit of page.exhibits) {
      const sheet = sheetOf(page, book, exhibit)
      const heads = sheet.rows.filter(({ isHeading }) => isHeading)
      const rows = dataRows(sheet)
      if (rows.length > 0) expect(heads.length).toBeGreaterThan(0)
      sheet.columns.forEach(({ style, width }, c) => {
        if (BESIDE.includes(style)) return
        const longest = Math.max(0, ...rows.map(({ cells }) => cells[c]?.text.length ?? 0))
        expect(width).toBeGreaterThanOrEqual(Math.min(9, 0.19 * longest))
      })
      const wide = sheet.columns.reduce((sum, { width }) => sum + width, 0)
      expect(sheet.style).toBe(wide > 18 ? 'painted-across' : 'painted')
      const last = sheet.rows.findLastIndex(({ isHeading }) => isHeading)
      if (sheet.pictures.length === 0 && rows.length > 0) {
        const entry = settings.slice(settings.indexOf(`config:name="${sheet.name.replaceAll('&', '&amp;')}"`))
        expect(/VerticalSplitPosition" config:type="int">(\d+)</.exec(entry)?.[1]).toBe(String(last + 1))
      }
      expect(sheet.printRange).toMatch(new RegExp(`^\\$'.*'\\.\\$A\\$1:\\$[A-Z]+\\$${sheet.rows.length}$`))
    }
  }
})

test('groups fold under their totals, outer keys are merged, and what is covered is empty', () => {
  const { page, book } = pages.get('spring') as { page: Page; book: ReadBook }
  const exhibit = page.exhibits.find(({ name }) => name === 'shops') as GridExhibit
  const rows = dataRows(sheetOf(page, book, exhibit))
  expect(rows.map(({ style, groups }) => `${style} ${groups}`)).toEqual(
    exhibit.rows.map(
      ({ group, depth }) => `${group ? 'group' : depth === 0 ? 'total' : 'detail'} ${depth > 1 ? 1 : 0}`,
    ),
  )
  const details = rows.filter(({ style }) => style === 'detail')
  expect(details.map(({ cells }) => [cells[0].isCovered, cells[0].spans[1]])).toEqual(
    Array.from({ length: 3 }, () => [
      [false, 3],
      [true, 1],
      [true, 1],
    ]).flat(),
  )
})

test('a sheet without rows says so in one line, which is the last that is printed', async () => {
  const page = await openReport(
    {
      title: 't',
      sources: { s: { file: 's.csv' } },
      measures: { amount: 'sum(amount)', rows: 'count()' },
      exhibits: [
        { name: 'e', where: 'amount > 100', table: { rows: 'shop', columns: 'line', show: ['amount', 'rows'] } },
      ],
    } as never,
    { s: 'shop,line,amount\nQuay,Roses,12\n' },
  )
  const [sheet] = readBook(await toOds(page)).sheets
  const texts = sheet.rows.map(({ cells }) => cells[0].text)
  expect(texts).toContain('No rows.')
  expect(sheet.printRange).toMatch(new RegExp(`\\$${texts.length}$`))
})

test.each(['de', 'fr-CH', 'ar-EG', 'hi-IN', 'en'])(
  'numbers without a format of their own have the digits of the page, locale %s',
  async (locale) => {
    const page = await openReport(
      {
        title: 't',
        locale,
        sources: { s: { file: 's.csv' } },
        measures: { amount: 'sum(amount)' },
        exhibits: [{ name: 'e', table: { rows: 'shop', show: ['amount'] } }],
      } as never,
      { s: 'shop,amount\nQuay,-1234.5\nFell,12.25\n' },
    )
    const book = readBook(await toOds(page))
    for (const [i, { cells }] of dataRows(book.sheets[0]).entries()) {
      const number = cells.at(-1) as ReadCell
      expect(shownBy(book.data.get(number.data) as Element, [12.25, -1234.5][i], book.data, locale)).toBe(
        number.text.replace('\u061c', ''),
      )
      expect(number.text).toMatch(/\p{Nd}{2}$/u)
    }
  },
)

test('texts stay texts, names of sheets are legal and unique, markup and control characters change nothing', async () => {
  const texts = [
    '=1+1',
    '+A1',
    '-3',
    '@sum',
    '<b>&"\'',
    "=cmd|' /C'!A0",
    'a\u0001b',
    ' two  spaces ',
    'x\ty',
    '\u202e odd',
    '😀',
  ]
  const csv = `shop,amount\n${texts.map((text) => `"${text.replaceAll('"', '""')}",1`).join('\n')}\n`
  const title = "Shops: [a/b]*? 'quoted' and a name far longer than programs take"
  const report = {
    title: '<script>',
    sources: { s: { file: 's.csv', read: { shop: 'text' } } },
    measures: { amount: 'sum(amount)' },
    exhibits: [title, title, title.toUpperCase(), "'''", ''].map((own, i) => ({
      name: `e${i}`,
      title: own,
      table: { rows: 'shop', show: ['amount'] },
    })),
  }
  const book = readBook(await toOds(await openReport(report as never, { s: csv })))
  const names = book.sheets.map(({ name }) => name)
  expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(names.length)
  for (const name of names) expect(name).toMatch(/^(?!['\s])[^[\]*?:/\\]{1,31}(?<!['\s])$/)
  const shown = book.sheets[0].rows.flatMap(({ cells }) => cells).filter(({ type }) => type === 'string')
  expect(
    book.sheets.flatMap(({ rows }) => rows.flatMap(({ cells }) => cells)).some(({ hasFormula }) => hasFormula),
  ).toBe(false)
  for (const text of texts) expect(shown.map((cell) => cell.text)).toContain(text.trim().replace('\u0001', '\uFFFD'))
  const read = await readSource([
    { name: 'o.ods', content: await toOds(await openReport(report as never, { s: csv })) },
  ])
  const column = read.table.columns.get('Shop')?.column
  expect(column?.kind === 'text' ? [...column.words].sort() : []).toEqual(
    texts.map((text) => text.trim().replace('\u0001', '\uFFFD')).sort(),
  )
})

test('the same page gives the same bytes', async () => {
  for (const { page, bytes } of pages.values())
    expect(
      Buffer.compare(await toOds(page, { rules: [{ title: 'A rule', sentence: 'revenue: top 3 → bold' }] }), bytes),
    ).toBe(0)
})

test('charts are pictures with their numbers below; given pictures stand in for programs without SVG', async () => {
  const { page } = pages.get('spring') as { page: Page }
  const charts = page.exhibits.filter(({ kind }) => kind === 'chart')
  const asked: number[] = []
  const png = async (svgs: readonly string[]): Promise<Uint8Array[]> => {
    asked.push(svgs.length)
    return svgs.map(() => new Uint8Array([1, 2, 3]))
  }
  const book = readBook(await toOds(page, { png }))
  expect(asked).toEqual([charts.length])
  for (const chart of charts) {
    const sheet = sheetOf(page, book, chart)
    expect(sheet.pictures.map((file) => file.slice(-4))).toEqual(['.svg', '.png'])
    const numbers = dataRows(sheet).flatMap(({ cells }) =>
      cells.filter(({ type }) => type === 'currency').map(({ value }) => Number(value)),
    )
    expect(numbers.sort((a, b) => a - b)).toEqual(
      cellsOf(chart)
        .flatMap(({ value }) => (typeof value === 'number' ? [value] : []))
        .sort((a, b) => a - b),
    )
  }
})

test('annotations say what painted a cell, on painted cells alone', async () => {
  const { page } = pages.get('spring') as { page: Page }
  const book = readBook(await toOds(page, { why: true }))
  const exhibit = page.exhibits.find(({ name }) => name === 'shops') as GridExhibit
  const read = valueCells(exhibit, sheetOf(page, book, exhibit))
  cellRows(exhibit).forEach((cells, r) => {
    cells.forEach((cell, c) => {
      const painted = cell !== null && Object.keys(cell.style.paintedBy).length > 0
      expect([cell?.name, read[r][c].annotation !== '']).toEqual([cell?.name, painted])
    })
  })
  expect(read.flat().map(({ annotation }) => annotation)).toContain(
    '€102,733, On target\nAgainst the target: On target, 100% (Target level) of Target or more',
  )
})

test('a painted sheet reads back as its data, totals and signs left out', async () => {
  const { page, bytes } = pages.get('spring') as { page: Page; bytes: Uint8Array }
  const exhibit = page.exhibits.find(({ name }) => name === 'shops') as GridExhibit
  const { table, notes } = await readSource([{ name: 'spring.ods', content: bytes }], { sheet: exhibit.title })
  expect(notes).toEqual([])
  const details = exhibit.rows.filter(({ heading }) => heading.level === 'detail')
  expect([...table.columns.keys()]).toEqual(['Region', 'Shop', 'Revenue', 'Plan', 'Gap', 'Margin'])
  const column = (name: string): unknown[] => {
    const own = table.columns.get(name)?.column
    return own?.kind === 'text' ? [...own.codes].map((code) => own.words[code]) : [...(own?.values ?? [])]
  }
  expect(column('Region')).toEqual(details.map(({ heading }) => heading.keys[0].value))
  expect(column('Shop')).toEqual(details.map(({ heading }) => heading.text))
  ;['Revenue', 'Plan', 'Gap', 'Margin'].forEach((name, c) => {
    expect(column(name)).toEqual(details.map(({ cells }) => cells[c]?.value))
  })
})

const words = fc.string({
  unit: fc.constantFrom('a', 'B', 'ß', '9', '.', ',', '=', '&', '<', ' ', '–'),
  minLength: 1,
  maxLength: 8,
})

test('law: random tables that are painted read back as they were', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.uniqueArray(
        fc.tuple(
          words,
          words,
          fc.integer({ min: -1e9, max: 1e9 }).map((cents) => cents / 100),
        ),
        {
          selector: ([a, b]) => `${a.trim()} ${b.trim()}`,
          minLength: 1,
          maxLength: 25,
        },
      ),
      fc.constantFrom('money EUR 2', 'number 1', 'percent 1 signed', 'number compact'),
      fc.constantFrom('none', 'top', 'bottom'),
      async (given, format, totals) => {
        const rows = given
          .map(([a, b, amount]) => ({ region: a.trim(), shop: b.trim(), amount: Object.is(amount, -0) ? 0 : amount }))
          .filter(({ region, shop }) => region !== '' && shop !== '')
        if (rows.length === 0) return
        const page = await openReport(
          {
            title: 't',
            sources: { s: { file: 's.csv' } },
            measures: { amount: { formula: 'sum(amount)', format } },
            rules: [{ paint: 'amount', bands: [{ atLeast: 0, style: { wash: 'aqua', icon: 'up' } }] }],
            exhibits: [
              {
                name: 'e',
                table: { rows: ['region', 'shop'], show: ['amount'], ...(totals !== 'none' && { totals }) },
              },
            ],
          } as never,
          { s: rows },
        )
        const { table } = await readSource([{ name: 'o.ods', content: await toOds(page) }])
        const read = [...table.columns.values()].map(({ column }) =>
          column.kind === 'text' ? [...column.codes].map((code) => column.words[code]) : [...column.values],
        )
        const wanted = new Map(rows.map(({ region, shop, amount }) => [`${region} ${shop}`, amount]))
        expect(new Map(read[0].map((region, i) => [`${region} ${read[1][i]}`, read[2][i]]))).toEqual(wanted)
      },
    ),
    { numRuns: effort(300, 40), seed: 4711 },
  )
})

test('there are as few styles as there are looks', () => {
  for (const { book } of each()) {
    const looks = new Set(
      book.sheets.flatMap(({ rows }) =>
        rows.flatMap(({ style, cells }) =>
          cells.map(({ fill, ink, bold, data }) => JSON.stringify([fill, ink, bold, data, style])),
        ),
      ),
    )
    const styles = [...book.defined].filter((name) => name.startsWith('table-cell '))
    expect(styles.length).toBeLessThanOrEqual(looks.size)
    expect(styles.length).toBeGreaterThan(5)
  }
})
