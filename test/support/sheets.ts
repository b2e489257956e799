import { strToU8, type Zippable, zipSync } from 'fflate'

/** Writes OpenDocument spreadsheets for tests, by other code than that of the library. */

/** A cell: a text, a number, a truth, nothing, or one with a type of its own. */
export type SheetCell =
  | string
  | number
  | boolean
  | null
  | { type: 'date' | 'time'; value: string }
  | { type: 'percentage'; value: number }
  | { type: 'currency'; value: number; currency: string }
  /** Markup as it is. */
  | { xml: string }

export interface WrittenSheet {
  name: string
  rows: readonly (readonly SheetCell[])[]
}

const NAMESPACES = {
  office: 'urn:oasis:names:tc:opendocument:xmlns:office:1.0',
  table: 'urn:oasis:names:tc:opendocument:xmlns:table:1.0',
  text: 'urn:oasis:names:tc:opendocument:xmlns:text:1.0',
  calcext: 'urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0',
}
export const XMLNS = Object.entries(NAMESPACES)
  .map(([prefix, uri]) => ` xmlns:${prefix}="${uri}"`)
  .join('')
export const MIMETYPE = 'application/vnd.oasis.opendocument.spreadsheet'

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;' })[sign] ?? '&quot;')

/** Paragraphs of a text: runs of spaces, tabs and line ends are elements. */
const paragraphs = (text: string): string =>
  text
    .split('\n')
    .map((line) =>
      escaped(line)
        .replace(/ {2,}|^ | $/g, (run) => `<text:s text:c="${run.length}"/>`)
        .replaceAll('\t', '<text:tab/>'),
    )
    .map((line) => `<text:p>${line}</text:p>`)
    .join('')

function attributesOf(cell: SheetCell): [attributes: string, shown: string] {
  if (cell === null) return ['', '']
  if (typeof cell === 'string') return [' office:value-type="string"', cell]
  if (typeof cell === 'number') return [` office:value-type="float" office:value="${cell}"`, String(cell)]
  if (typeof cell === 'boolean')
    return [` office:value-type="boolean" office:boolean-value="${cell}"`, String(cell).toUpperCase()]
  if ('xml' in cell) return ['', '']
  const { type, value } = cell
  const shown = String(value)
  if (type === 'date' || type === 'time') return [` office:value-type="${type}" office:${type}-value="${value}"`, shown]
  const money = type === 'currency' ? ` office:currency="${cell.currency}"` : ''
  return [` office:value-type="${type}" office:value="${value}"${money}`, shown]
}

export function cellXml(cell: SheetCell, more = ''): string {
  if (typeof cell === 'object' && cell !== null && 'xml' in cell) return cell.xml
  const [attributes, shown] = attributesOf(cell)
  const text = shown === '' ? '' : paragraphs(shown)
  return `<table:table-cell${attributes}${more}>${text}</table:table-cell>`
}

export const rowXml = (cells: readonly SheetCell[], attributes = ''): string =>
  `<table:table-row${attributes}>${cells.map((cell) => cellXml(cell)).join('')}</table:table-row>`

export const sheetXml = (name: string, rows: string): string =>
  `<table:table table:name="${escaped(name)}"><table:table-column/>${rows}</table:table>`

/** A document from the markup of its sheets. */
export function documentXml(sheets: string, isFlat = false): string {
  const root = isFlat ? 'office:document' : 'office:document-content'
  const type = isFlat ? ` office:mimetype="${MIMETYPE}"` : ''
  return `<?xml version="1.0" encoding="UTF-8"?>\n<${root}${XMLNS} office:version="1.3"${type}><office:body><office:spreadsheet>${sheets}</office:spreadsheet></office:body></${root}>`
}

/** An archive with content of this markup. */
export function archive(content: string | Uint8Array, more: Zippable = {}): Uint8Array {
  return zipSync({
    mimetype: [strToU8(MIMETYPE), { level: 0 }],
    'content.xml': typeof content === 'string' ? strToU8(content) : content,
    'META-INF/manifest.xml': strToU8('<manifest/>'),
    ...more,
  })
}

/** A workbook of these sheets. */
export function workbook(sheets: readonly WrittenSheet[]): Uint8Array {
  const xml = sheets.map(({ name, rows }) => sheetXml(name, rows.map((row) => rowXml(row)).join('')))
  return archive(documentXml(xml.join('')))
}
