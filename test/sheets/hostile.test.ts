import { execFile } from 'node:child_process'
import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { promisify } from 'node:util'
import { readSource } from 'acuarela/report'
import { strToU8, zipSync } from 'fflate'
import { expect, test } from 'vitest'
import { FULL } from '../support/effort.js'
import { archive, documentXml, MIMETYPE, rowXml, sheetXml, workbook, XMLNS } from '../support/sheets.js'
import { folder, ROOT } from '../support/tool.js'

/** What is wrong with a file, in words; `read` for one that can be read. */
async function told(content: Uint8Array | string, name = 'orders.ods'): Promise<string> {
  return readSource([{ name, content }]).then(
    ({ table }) => `read ${table.length}`,
    (error: { problems?: readonly { message: string }[] }) => {
      if (error.problems === undefined) throw error
      return error.problems.map(({ message }) => message).join('\n')
    },
  )
}

const head = rowXml(['shop', 'amount'])
const sheet = (rows: string): Uint8Array => archive(documentXml(sheetXml('Orders', head + rows)))
const good = workbook([
  {
    name: 'Orders',
    rows: [['shop', 'amount'], ...Array.from({ length: 300 }, (_, i) => [`Shop ${(i * 7919) % 83}`, i * 1.25])],
  },
])
const whole = documentXml(sheetXml('Orders', head + rowXml(['Quay', 3])))
const compound = new Uint8Array([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1, ...new Uint8Array(600)])
const OTHER = 'this is a workbook of another format; save it as an OpenDocument spreadsheet (.ods) or as CSV'

const cases: [what: string, content: Uint8Array | string, told: RegExp | string][] = [
  [
    'a workbook of another format',
    zipSync({ '[Content_Types].xml': strToU8('<x/>'), 'xl/workbook.xml': strToU8('<x/>') }),
    OTHER,
  ],
  ['one in a compound file', compound, OTHER],
  ['an archive without a workbook', zipSync({ 'a.txt': strToU8('a') }), /this is an archive and no workbook/],
  [
    'a document of texts',
    archive(whole, { mimetype: strToU8('application/vnd.oasis.opendocument.text') }),
    /of another kind/,
  ],
  ['no content', zipSync({ mimetype: strToU8(MIMETYPE) }), /this is an archive and no workbook/],
  [
    'a password',
    archive(
      new Uint8Array(200).map((_, i) => (i * 97) % 256),
      {
        'META-INF/manifest.xml': strToU8('<m:manifest><m:file-entry><m:encryption-data/></m:file-entry></m:manifest>'),
      },
    ),
    'this workbook has a password; save it without one',
  ],
  ['an encrypted package', archive(whole, { 'encrypted-package': strToU8('x') }), /password/],
  ['no bytes', new Uint8Array(), 'the file is empty'],
  ['a text named so', 'shop,amount\nQuay,3', /it does not begin like one/],
  ['markup that ends too soon', archive(whole.slice(0, -40)), /cannot be read/],
  ['elements that cross', archive(whole.replace('</table:table>', '')), /cannot be read/],
  [
    'entities of its own',
    archive(whole.replace('?>', '?><!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>')),
    /a document type, which no spreadsheet has/,
  ],
  ['an unknown entity', archive(whole.replace('Quay', '&quay;')), /cannot be read/],
  [
    'a file from elsewhere',
    archive(whole.replace('?>', '?><!DOCTYPE x SYSTEM "file:///etc/passwd">')),
    /a document type/,
  ],
  [
    'deep nesting',
    archive(documentXml('<table:x>'.repeat(5000) + '</table:x>'.repeat(5000))),
    /nest more than 100 deep/,
  ],
  ['no sheet', archive(documentXml('')), 'the workbook has no sheet'],
  ['a sheet without values', archive(documentXml(sheetXml('Orders', ''))), /sheet 'Orders' has no values/],
  [
    'a cell repeated a billion times',
    sheet(
      '<table:table-row><table:table-cell table:number-columns-repeated="1000000000" office:value-type="float" office:value="1"/></table:table-row>',
    ),
    /1000000000 columns, and 10000 are the most that are read/,
  ],
  [
    'a row repeated a billion times',
    sheet(
      '<table:table-row table:number-rows-repeated="1000000000"><table:table-cell office:value-type="float" office:value="1"/></table:table-row>',
    ),
    /sheet cells repeat to more than 50000000/,
  ],
  [
    'an empty cell and an empty row repeated a billion times',
    sheet(
      `<table:table-row table:number-rows-repeated="1000000000"><table:table-cell table:number-columns-repeated="1000000000"/></table:table-row>${rowXml(['Quay', 3])}`,
    ),
    'read 1',
  ],
  ['a million empty rows', sheet('<table:table-row/>'.repeat(1_000_000) + rowXml(['Quay', 3])), 'read 1'],
  [
    'repeats that are no numbers',
    sheet(
      '<table:table-row table:number-rows-repeated="-3"><table:table-cell office:value-type="float" office:value="1" table:number-columns-repeated="x"/></table:table-row>',
    ),
    'read 1',
  ],
  ['100 MB of text in a cell', sheet(rowXml(['x'.repeat(100_000_000)])), /more than 8388608 characters without a tag/],
  [
    '100 MB in an attribute',
    sheet(`<table:table-row table:style-name="${'x'.repeat(100_000_000)}"/>`),
    /more than 8388608 characters without a tag/,
  ],
  [
    'spaces a billion times',
    sheet(
      '<table:table-row><table:table-cell office:value-type="string"><text:p>a<text:s text:c="1000000000"/>b</text:p></table:table-cell></table:table-row>',
    ),
    'read 1',
  ],
  [
    'many parts',
    archive(whole, Object.fromEntries(Array.from({ length: 10_001 }, (_, i) => [`p/${i}`, new Uint8Array()]))),
    /more than 10000 parts/,
  ],
  ['a flat document that ends', documentXml(sheetXml('Orders', head), true).slice(0, -30), /cannot be read/],
  [
    'bytes that are no text',
    archive(Uint8Array.from([...strToU8(whole.slice(0, 300)), 0xff, 0xfe, 0, 1, ...strToU8(whole.slice(300))])),
    /cannot be read|read/,
  ],
  ['a root of another name', archive(`<?xml version="1.0"?><html${XMLNS}><body/></html>`), 'the workbook has no sheet'],
]

test.each(cases)('%s is told in words', async (_, content, expected) => {
  const answer = await told(content)
  if (typeof expected === 'string') expect(answer).toBe(expected)
  else expect(answer).toMatch(expected)
})

test('dates before 1900, of the year 1 and after 9999: read, or missing and told', async () => {
  const rows = ['1582-10-15', '1899-12-31', '0001-01-01', '12025-01-01', '2025-02-30'].map(
    (value) =>
      `<table:table-row><table:table-cell office:value-type="date" office:date-value="${value}"><text:p>${value}</text:p></table:table-cell></table:table-row>`,
  )
  const { table, notes } = await readSource([
    { name: 'o.ods', content: archive(documentXml(sheetXml('Orders', rowXml(['day']) + rows.join('')))) },
  ])
  const column = table.columns.get('day')?.column
  const days = column?.kind === 'date' ? [...column.values] : []
  const dayOf = (text: string): number => Date.parse(`${text}T00:00:00Z`) / 86_400_000
  expect(days).toEqual([dayOf('1582-10-15'), dayOf('1899-12-31'), Number.NaN, Number.NaN, Number.NaN])
  expect(notes.map(({ message }) => message)).toEqual([
    "3 cells have errors and count as missing: A4, A5, A6, as in '0001-01-01'",
  ])
})

test('a hundred damaged files: cut off anywhere, or with bytes changed, they are read or told, and never fail', async () => {
  const answers = new Set<string>()
  let seed = 71
  const next = (most: number): number => {
    seed = (Math.imul(seed, 1_103_515_245) + 12_345) >>> 0
    return seed % most
  }
  for (let i = 0; i < 100; i++) {
    const bytes = i % 2 === 0 ? good.slice(0, 1 + next(good.length - 1)) : good.slice()
    if (i % 2 === 1) for (let k = 0; k < 1 + next(4); k++) bytes[4 + next(bytes.length - 4)] = next(256)
    answers.add((await told(bytes)).replace(/\d+/g, '#').slice(0, 40))
  }
  // Both happen: what cannot be read is said, and a changed byte of a number is not seen.
  expect([...answers].some((answer) => answer.startsWith('this workbook cannot be read'))).toBe(true)
})

test.runIf(FULL)(
  'bombs are refused in little memory: what unpacks to a thousand times as much, and what repeats',
  async () => {
    const bomb = archive(documentXml(sheetXml('Orders', head + `<table:table-row/>${' '.repeat(2000)}`.repeat(65_000))))
    const cwd = await folder({})
    const path = join(cwd, 'bomb.ods')
    await writeFile(path, bomb)
    await writeFile(
      join(cwd, 'rows.ods'),
      sheet(
        '<table:table-row table:number-rows-repeated="5000000"><table:table-cell office:value-type="float" office:value="1"/></table:table-row>',
      ),
    )
    const script = `
    import { readFileSync } from 'node:fs'
    import { readSource } from 'acuarela/report'
    for (const name of process.argv.slice(1)) {
      const answer = await readSource([{ name, content: readFileSync(name) }]).then(({ table }) => 'read ' + table.length, (error) => error.problems.map(({ message }) => message).join())
      console.log(answer)
    }
    console.log(Math.round(process.resourceUsage().maxRSS / 1024))`
    const { stdout } = await promisify(execFile)(
      process.execPath,
      ['--input-type=module', '--max-old-space-size=200', '-e', script, path, join(cwd, 'rows.ods')],
      { cwd: ROOT },
    )
    const [first, second, megabytes] = stdout.trim().split('\n')
    expect(first).toMatch(/bytes unpack to more than \d+, as no workbook does/)
    expect(second).toBe('read 5000000')
    // Buffers that are free again count until the next collection.
    expect(Number(megabytes)).toBeLessThan(1000)
  },
)
