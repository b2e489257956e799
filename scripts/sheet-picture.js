// @ts-check
/** Draws a sheet of a workbook as its cells are written: values, paint and widths. */
import { strFromU8, unzipSync } from 'fflate'
import { DOMParser } from 'linkedom'

const PIXELS_A_CM = 37.8
const ROW = 23
const SIZE = 13
const HAIR = '#d9dee8'

/** @param {string} text */
const escaped = (text) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;')

/**
 * @param {Element} element
 * @param {string} name
 */
const number = (element, name) => Number(element.getAttribute(name) ?? 1)

/**
 * @param {Uint8Array} bytes of a workbook
 * @param {string} title of the sheet
 */
export function sheetPicture(bytes, title) {
  const xml = strFromU8(unzipSync(bytes)['content.xml'])
  const document = new DOMParser().parseFromString(xml, 'text/xml')
  /** @type {(root: { querySelectorAll(selector: string): ArrayLike<unknown> }, name: string) => Element[]} */
  const all = (root, name) => /** @type {Element[]} */ (Array.from(root.querySelectorAll(name.replace(':', '\\:'))))
  const styles = new Map(all(document, 'style:style').map((style) => [style.getAttribute('style:name'), style]))
  /** @type {(style: string | null, name: string) => string | undefined} */
  const property = (style, name) => new RegExp(` ${name}="([^"]*)"`).exec(styles.get(style ?? '')?.outerHTML ?? '')?.[1]
  const table = all(document, 'table:table').find((one) => one.getAttribute('table:name') === title)
  if (table === undefined) throw new Error(`the workbook has no sheet ${title}`)
  const widths = all(table, 'table:table-column').map(
    (column) =>
      Number.parseFloat(property(column.getAttribute('table:style-name'), 'style:column-width') ?? '2') * PIXELS_A_CM,
  )
  const left = widths.map((_, c) => widths.slice(0, c).reduce((sum, width) => sum + width, 0))
  const rows = all(table, 'table:table-row')
  const [grounds, texts] = [/** @type {string[]} */ ([]), /** @type {string[]} */ ([])]
  for (const [r, row] of rows.entries()) {
    let c = 0
    for (const cell of /** @type {Element[]} */ (Array.from(row.children))) {
      const style = cell.getAttribute('table:style-name')
      const text = all(cell, 'text:p')
        .map((paragraph) => paragraph.textContent ?? '')
        .join(' ')
      const span = number(cell, 'table:number-columns-spanned')
      const width = widths.slice(c, c + span).reduce((sum, own) => sum + own, 0)
      const height = ROW * number(cell, 'table:number-rows-spanned')
      const fill = property(style, 'fo:background-color')
      const isTable = row.getAttribute('table:style-name') !== 'about'
      const isCovered = cell.nodeName === 'table:covered-table-cell'
      if (!isCovered && (isTable || fill !== undefined))
        grounds.push(
          `<rect x="${left[c].toFixed(1)}" y="${r * ROW}" width="${width.toFixed(1)}" height="${height}" fill="${fill ?? '#ffffff'}"${isTable ? ` stroke="${HAIR}"` : ''}/>`,
        )
      if (text !== '') {
        const isNumber = /float|currency|percentage/.test(cell.getAttribute('office:value-type') ?? '')
        const align = property(style, 'fo:text-align') ?? (isNumber ? 'end' : 'start')
        const x = align === 'end' ? left[c] + width - 6 : align === 'center' ? left[c] + width / 2 : left[c] + 6
        const anchor = align === 'end' ? 'end' : align === 'center' ? 'middle' : 'start'
        const weight = property(style, 'fo:font-weight') === 'bold' ? ' font-weight="600"' : ''
        texts.push(
          `<text x="${x.toFixed(1)}" y="${r * ROW + 16}" text-anchor="${anchor}" fill="${property(style, 'fo:color') ?? '#1b2340'}"${weight}>${escaped(text)}</text>`,
        )
      }
      c += number(cell, 'table:number-columns-repeated')
    }
  }
  const [width, height] = [widths.reduce((sum, own) => sum + own, 0), rows.length * ROW]
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${Math.ceil(width) + 24}" height="${height + 24}" viewBox="-12 -12 ${Math.ceil(width) + 24} ${height + 24}" font-family="system-ui, sans-serif" font-size="${SIZE}"><title>${escaped(title)}</title><rect x="-12" y="-12" width="100%" height="100%" fill="#fbfcfd"/>${grounds.join('')}${texts.join('')}</svg>\n`
}
