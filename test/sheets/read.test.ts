import { readSource } from 'acuarela/report'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { effort } from '../support/effort.js'
import {
  archive,
  cellXml,
  documentXml,
  rowXml,
  type SheetCell,
  sheetXml,
  type WrittenSheet,
  workbook,
  XMLNS,
} from '../support/sheets.js'

type Options = NonNullable<Parameters<typeof readSource>[1]>

/** The columns of a workbook as plain values, with the messages. */
async function read(content: Uint8Array | string, options: Options = {}, name = 'orders.ods') {
  const { table, notes } = await readSource([{ name, content }], options)
  const columns = Object.fromEntries(
    [...table.columns].map(([column, { column: values }]) => [
      column,
      values.kind === 'text'
        ? [...values.codes].map((code) => (code < 0 ? null : values.words[code]))
        : [...values.values].map((value) => (Number.isNaN(value) ? null : value)),
    ]),
  )
  const types = Object.fromEntries([...table.columns].map(([column, { type }]) => [column, type]))
  return { columns, types, notes: notes.map(({ message }) => message) }
}

/** What is wrong, in words. */
async function refused(content: Uint8Array | string, options: Options = {}, name = 'orders.ods'): Promise<string[]> {
  const problems = await readSource([{ name, content }], options).then(
    () => [],
    (error: { problems?: { message: string }[] }) => error.problems ?? Promise.reject(error),
  )
  return problems.map(({ message }) => message)
}

const sheet = (rows: readonly (readonly SheetCell[])[], name = 'Orders'): WrittenSheet => ({ name, rows })
const day = (value: string): SheetCell => ({ type: 'date', value })

test('each cell is read by its own type, and currencies and percents become units', async () => {
  const { columns, types, notes } = await read(
    workbook([
      sheet([
        ['shop', 'code', 'amount', 'share', 'day', 'opened', 'open'],
        [
          'Larkmoor',
          '007',
          { type: 'currency', value: 12.5, currency: 'EUR' },
          { type: 'percentage', value: 0.15 },
          day('2025-06-30'),
          { type: 'time', value: 'PT07H30M00S' },
          true,
        ],
        [
          'Quay Garden',
          '12',
          { type: 'currency', value: -3, currency: 'EUR' },
          null,
          day('1899-12-30T12:00:00'),
          null,
          false,
        ],
      ]),
    ]),
  )
  expect(columns).toEqual({
    shop: ['Larkmoor', 'Quay Garden'],
    // A text stays a text, even one of digits.
    code: ['007', '12'],
    amount: [12.5, -3],
    share: [0.15, null],
    day: [20_269, -25_569],
    opened: [7.5, null],
    open: [1, 0],
  })
  expect(types).toEqual({
    shop: { kind: 'text' },
    code: { kind: 'text' },
    amount: { kind: 'number', unit: { is: 'money', currency: 'EUR' } },
    share: { kind: 'number', unit: { is: 'percent' } },
    day: { kind: 'date' },
    opened: { kind: 'number', unit: { is: 'none' } },
    open: { kind: 'condition' },
  })
  expect(notes).toEqual([
    'opened has times, which are read in hours, 7:30 as 7.5; write read: { opened: text } to keep them as on a clock',
  ])
})

test('stored results of formulas are values, errors are missing and counted with their cells', async () => {
  const formula = (attributes: string, shown: string): SheetCell => ({
    xml: `<table:table-cell table:formula="of:=[.A1]*2" ${attributes}><text:p>${shown}</text:p></table:table-cell>`,
  })
  const { columns, notes } = await read(
    workbook([
      sheet([
        ['shop', 'amount'],
        ['Larkmoor', formula('office:value-type="float" office:value="24"', '24,00')],
        ['Quay', formula('office:value-type="float" office:value="0"', '#DIV/0!')],
        ['Fell', formula('office:value-type="string" office:string-value="" calcext:value-type="error"', '#N/A')],
        ['#N/A', formula('office:value-type="float" office:value="6"', '6')],
      ]),
    ]),
  )
  // Without a formula it is a word that somebody wrote.
  expect(columns).toEqual({ shop: ['Larkmoor', 'Quay', 'Fell', '#N/A'], amount: [24, null, null, 6] })
  expect(notes).toEqual(["2 cells have errors and count as missing: B3, B4, as in '#DIV/0!'"])
})

test('paragraphs, spaces and annotations: the text of a cell is what is seen in it', async () => {
  const xml = (inside: string): SheetCell => ({
    xml: `<table:table-cell office:value-type="string">${inside}</table:table-cell>`,
  })
  const { columns } = await read(
    workbook([
      sheet([
        ['note'],
        [
          xml(
            '<office:annotation><text:p>ask Lea</text:p></office:annotation><text:p>pots   and\n <text:span>trays</text:span></text:p>',
          ),
        ],
        [xml('<text:p>two<text:s/><text:s text:c="2"/>three</text:p><text:p>next line</text:p>')],
        [xml('<text:p>a<text:tab/>b<text:line-break/>c &amp; d</text:p>')],
        [
          {
            xml: '<table:table-cell office:value-type="string" office:string-value="given"><text:p>shown</text:p></table:table-cell>',
          },
        ],
        [
          {
            xml: '<table:table-cell><draw:frame xmlns:draw="urn:x"><text:p>a shape</text:p></draw:frame><text:p>no type</text:p></table:table-cell>',
          },
        ],
      ]),
    ]),
  )
  expect(columns.note).toEqual(['pots and trays', 'two   three\nnext line', 'a\tb\nc & d', 'given', 'no type'])
})

test('the header is the first row with a word above every column that is used', async () => {
  const rows = [
    ['Orders of May'],
    [],
    [null, 'shop', 'amount'],
    [null, 'Larkmoor', 12],
    [],
    [null, 'Quay', null],
  ] satisfies SheetCell[][]
  const book = workbook([sheet(rows), sheet([['x']], 'Notes')])
  const { columns, notes } = await read(book)
  expect(columns).toEqual({ shop: ['Larkmoor', 'Quay'], amount: [12, null] })
  expect(notes).toEqual([
    "orders.ods: sheet 'Orders', one of 2, is read in B3:C6, with the header in row 3; write sheet: Orders, header: 3 to confirm it",
  ])
  expect((await read(book, { sheet: 'Orders', header: 3 })).notes).toEqual([])
  expect((await read(book, { sheet: 'Orders', range: 'B3:B4' })).columns).toEqual({ shop: ['Larkmoor'] })
  expect((await read(book, { sheet: 'Orders', range: 'b:c' })).columns).toEqual(
    // A range of whole columns begins with its first row that has a value.
    columns,
  )
  // Years and months head columns, too; dates that all begin a month are months.
  const wide = workbook([
    sheet([
      ['shop', day('2025-01-01'), day('2025-02-01')],
      ['Larkmoor', 3, 4],
    ]),
  ])
  expect(Object.keys((await read(wide)).columns)).toEqual(['shop', '2025-01', '2025-02'])
  expect(
    Object.keys(
      (
        await read(
          workbook([
            sheet([
              ['shop', 2024, 2025],
              ['Quay', 1, 2],
            ]),
          ]),
        )
      ).columns,
    ),
  ).toEqual(['2024', '2025', 'shop'])
})

test('what is asked for and is not there is told with what is', async () => {
  const book = workbook([
    sheet([
      ['shop', 'amount'],
      ['Quay', 3],
    ]),
    sheet(
      [
        ['Quay', 3],
        ['Fell', 4, 5],
      ],
      '2025',
    ),
  ])
  expect(await refused(book, { sheet: 'Ordres' })).toEqual([
    "there is no sheet 'Ordres'; did you mean 'Orders'? (sheets: Orders, 2025)",
  ])
  expect(await refused(book, { sheet: '2025' })).toEqual([
    "no row of sheet '2025' has a name above every column; row 1 lacks one in B1, C1; write header: 1 and the names, or the range of the table as in range: A3:H200",
  ])
  expect(await refused(book, { range: 'D1:E9' })).toEqual([
    "sheet 'Orders' has no values in D1:E9; choose another one with sheet:",
  ])
  expect(await refused(book, { range: '3:9' })).toEqual(["expected a range such as A3:H200 or A:H, found '3:9'"])
  expect(await refused(book, { range: 'A1:B2', header: 1 })).toEqual([
    'a range begins with its header; write one of range: and header:',
  ])
  expect(await refused(book, { sheet: '2025', header: 1 })).toEqual([
    "sheet '2025' has no name in C1, and a value in C2 below it; write one, or leave the column out with range:",
  ])
  expect(await refused('shop,amount\nQuay,3', { sheet: 'Orders' }, 'orders.csv')).toEqual([
    'sheet: is for workbooks, and this is a text file; leave it out',
  ])
  expect(
    await refused(
      workbook([
        sheet([
          ['shop', 'shop'],
          ['a', 'b'],
        ]),
      ]),
    ),
  ).toEqual(["two columns have the name 'shop'; rename one in the header"])
})

test('several sheets by a pattern, their names as a column; columns by name, whatever their order', async () => {
  const book = workbook([
    sheet(
      [
        ['shop', 'amount'],
        ['Quay', 3],
      ],
      '2024',
    ),
    sheet([['about']], 'Notes'),
    sheet(
      [
        ['amount', 'shop'],
        [4, 'Fell'],
        [5, 'Quay'],
      ],
      '2025',
    ),
  ])
  expect((await read(book, { sheet: '20*' })).columns).toEqual({
    shop: ['Quay', 'Fell', 'Quay'],
    amount: [3, 4, 5],
    sheet: ['2024', '2025', '2025'],
  })
  expect(await refused(book, { sheet: '*' })).toEqual([
    'the columns differ from those of 2024: shop, amount, about; files of one source have the same columns',
  ])
  // A name that looks like a pattern is a name first.
  const odd = workbook([sheet([['shop'], ['Quay']], 'May [final]')])
  expect((await read(odd, { sheet: 'May [final]' })).columns).toEqual({ shop: ['Quay'] })
})

test('cells under merged ones are missing, or repeat them; hidden and filtered rows are read and counted', async () => {
  const rows = [
    rowXml(['region', 'shop', 'amount']),
    `<table:table-row>${cellXml('Coast', ' table:number-rows-spanned="2"')}${cellXml('Quay')}${cellXml(3)}</table:table-row>`,
    `<table:table-row table:visibility="collapse"><table:covered-table-cell/>${cellXml('Fell')}${cellXml(4)}</table:table-row>`,
    `<table:table-row table:visibility="filter" table:number-rows-repeated="2">${cellXml('Hills')}${cellXml('Moor')}${cellXml(5)}</table:table-row>`,
  ].join('')
  const book = archive(documentXml(sheetXml('Orders', rows)))
  const { columns, notes } = await read(book)
  expect(columns.region).toEqual(['Coast', null, 'Hills', 'Hills'])
  expect(notes).toEqual([
    "of sheet 'Orders', rows that are not shown are read, too: 1 hidden, 2 filtered out",
    "of sheet 'Orders', 1 cell under merged ones counts as missing, as A3; write merged: repeat to fill them",
  ])
  expect((await read(book, { merged: 'repeat' })).columns.region).toEqual(['Coast', 'Coast', 'Hills', 'Hills'])
})

test('what is no sheet is passed by: tracked changes, linked tables, forms', async () => {
  const table = sheetXml('Linked', rowXml(['never']))
  const { columns } = await read(
    archive(
      documentXml(
        `<table:tracked-changes><table:cell-content-change><table:previous>${cellXml('old')}</table:previous></table:cell-content-change></table:tracked-changes>${sheetXml('Orders', `<table:shapes><text:p>x</text:p></table:shapes>${rowXml(['shop'])}<table:table-row-group><table:table-rows>${rowXml(['Quay'])}</table:table-rows></table:table-row-group>`)}<table:dde-links><table:dde-link>${table}</table:dde-link></table:dde-links>`,
      ),
    ),
  )
  expect(columns).toEqual({ shop: ['Quay'] })
})

const PREFIXES: Record<string, string> = { table: 't', office: 'o-x', text: 'office' }

/** The same values in another form of markup: prefixes, repeats, flat, encodings. */
const forms: Record<string, (xml: string) => [content: Uint8Array | string, name: string]> = {
  archive: (xml) => [archive(xml), 'o.ods'],
  'other prefixes': (xml) => [
    archive(
      xml
        .replaceAll(/(<\/?| )(table|office|text):/g, (_, before: string, own: string) => `${before}${PREFIXES[own]}:`)
        .replaceAll(/xmlns:(table|office|text)=/g, (_, own: string) => `xmlns:${PREFIXES[own]}=`),
    ),
    'o.ods',
  ],
  flat: (xml) => [xml.replaceAll('office:document-content', 'office:document'), 'o.fods'],
  'flat bytes in UTF-16': (xml) => [
    new Uint8Array(
      Buffer.from(
        `\uFEFF${xml.replaceAll('office:document-content', 'office:document').replace('UTF-8', 'UTF-16')}`,
        'utf16le',
      ),
    ),
    'o.fods',
  ],
}

const word = fc.string({ unit: 'grapheme', minLength: 1, maxLength: 12 }).map((text) =>
  // Characters that XML cannot hold, and white space around a value, are no part of one.
  text.replace(/[^\t\n\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/gu, '').trim(),
)
const cell = fc.oneof(
  word.map((text): SheetCell => (text === '' ? null : text)),
  fc.double({ noNaN: true, noDefaultInfinity: true }).map((x): SheetCell => (Object.is(x, -0) ? 0 : x)),
  fc.constant<SheetCell>(null),
)

test.each(Object.entries(forms))('law: random tables are read as they were written: %s', async (_, form) => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(cell, cell, fc.nat(3)), { minLength: 1, maxLength: 30 }), async (rows) => {
      const texts = rows.map(([a]) => (typeof a === 'string' ? a : null))
      const numbers = rows.map(([, b]) => (typeof b === 'number' ? b : null))
      const xml = rows
        .map(([a, b, times]) => {
          const repeat = times > 1 ? ` table:number-rows-repeated="${times}"` : ''
          const isRow = typeof a === 'string' || typeof b === 'number'
          return isRow
            ? rowXml([typeof a === 'string' ? a : null, typeof b === 'number' ? b : null], repeat)
            : rowXml([null, null], ' table:number-rows-repeated="100000"')
        })
        .join('')
      const kept = rows.flatMap(([a, b, times], i) =>
        typeof a === 'string' || typeof b === 'number'
          ? Array.from({ length: Math.max(1, times) }, () => [texts[i], numbers[i]] as const)
          : [],
      )
      const [content, name] = form(documentXml(sheetXml('Orders', rowXml(['text', 'number']) + xml)))
      if (kept.length === 0) return
      const { columns } = await read(content, { header: 1 }, name)
      expect(columns).toEqual({ text: kept.map(([a]) => a), number: kept.map(([, b]) => b) })
    }),
    { numRuns: effort(400, 60), seed: 1912 },
  )
})

test('a column of several kinds is text, and `read` decides otherwise', async () => {
  const book = workbook([
    sheet([
      ['amount', 'day'],
      [12, day('2025-06-30')],
      ['n/a', '1.7.2025'],
      [{ type: 'currency', value: 3, currency: 'EUR' }, day('2025-07-02')],
    ]),
  ])
  expect((await read(book)).columns).toEqual({
    amount: ['12', 'n/a', '3'],
    day: ['2025-06-30', '1.7.2025', '2025-07-02'],
  })
  const { columns, notes } = await read(book, { read: { amount: 'number' }, date: 'amount' }).catch(() =>
    read(book, { read: { amount: 'number' } }),
  )
  expect(columns.amount).toEqual([12, null, 3])
  expect(notes.join()).toContain(
    "1 value of amount could not be read and counts as missing; the first is 'n/a' in row 2",
  )
})

test('namespaces are what counts, not prefixes: what only looks like a table is none', async () => {
  const fake = documentXml(sheetXml('Orders', rowXml(['shop']))).replace(
    XMLNS,
    ' xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:other" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"',
  )
  expect(await refused(archive(fake))).toEqual(['the workbook has no sheet'])
})
