import { escapeText } from '../markup.js'

/** The parts of a document beside its content (ISO/IEC 26300, part 2). */

const NAMES = 'urn:oasis:names:tc:opendocument:xmlns:'
const NAMESPACES: Readonly<Record<string, string>> = {
  office: `${NAMES}office:1.0`,
  style: `${NAMES}style:1.0`,
  text: `${NAMES}text:1.0`,
  table: `${NAMES}table:1.0`,
  draw: `${NAMES}drawing:1.0`,
  fo: `${NAMES}xsl-fo-compatible:1.0`,
  number: `${NAMES}datastyle:1.0`,
  svg: `${NAMES}svg-compatible:1.0`,
  meta: `${NAMES}meta:1.0`,
  config: `${NAMES}config:1.0`,
  xlink: 'http://www.w3.org/1999/xlink',
  dc: 'http://purl.org/dc/elements/1.1/',
}

const HEAD = '<?xml version="1.0" encoding="UTF-8"?>\n'

/** What stands before and after the content of a part: its root with the namespaces it uses. */
export function rootTags(name: string, prefixes: readonly string[]): [before: string, after: string] {
  const spaces = prefixes.map((prefix) => ` xmlns:${prefix}="${NAMESPACES[prefix]}"`).join('')
  return [`${HEAD}<office:${name}${spaces} office:version="1.3">`, `</office:${name}>`]
}

function rootXml(name: string, prefixes: readonly string[], inside: string): string {
  return rootTags(name, prefixes).join(inside)
}

/** Page set-up: upright, and across for wide tables. */
export function stylesXml(locale: string): string {
  const { language, region } = new Intl.Locale(locale).maximize()
  const layout = (name: string, isWide: boolean): string =>
    `<style:page-layout style:name="${name}"><style:page-layout-properties fo:page-width="${isWide ? '29.7cm' : '21cm'}" fo:page-height="${isWide ? '21cm' : '29.7cm'}" style:print-orientation="${isWide ? 'landscape' : 'portrait'}" fo:margin-top="1.5cm" fo:margin-bottom="1.5cm" fo:margin-left="1.5cm" fo:margin-right="1.5cm" style:scale-to-X="1"/></style:page-layout>`
  const master = (name: string): string =>
    `<style:master-page style:name="${name}" style:page-layout-name="${name}-layout"><style:footer><text:p><text:sheet-name/> · <text:page-number/></text:p></style:footer></style:master-page>`
  const country = region === undefined ? '' : ` fo:country="${escapeText(region)}"`
  return rootXml(
    'document-styles',
    ['office', 'style', 'text', 'fo'],
    `<office:styles><style:default-style style:family="table-cell"><style:text-properties fo:font-size="10pt" fo:language="${escapeText(language)}"${country}/></style:default-style><style:style style:name="Default" style:family="table-cell"/></office:styles><office:automatic-styles>${layout('upright-layout', false)}${layout('across-layout', true)}</office:automatic-styles><office:master-styles>${master('upright')}${master('across')}</office:master-styles>`,
  )
}

/** Title and date: that of the report, so that the same run gives the same bytes. */
export function metaXml({ title, asOf }: { title: string; asOf: string | null }): string {
  const date = asOf === null ? '' : `<dc:date>${asOf}T00:00:00</dc:date>`
  return rootXml(
    'document-meta',
    ['office', 'meta', 'dc'],
    `<office:meta><meta:generator>Acuarela</meta:generator><dc:title>${escapeText(title)}</dc:title>${date}</office:meta>`,
  )
}

/** The rows and columns of each sheet that stay in place while others scroll. */
export function settingsXml(sheets: readonly { name: string; rows: number; columns: number }[]): string {
  const item = (name: string, value: number): string => {
    const type = name.endsWith('Mode') ? 'short' : 'int'
    return `<config:config-item config:name="${name}" config:type="${type}">${value}</config:config-item>`
  }
  const entries = sheets
    .filter(({ rows }) => rows > 0)
    .map(({ name, rows, columns }) => {
      const across = columns > 0 ? item('HorizontalSplitMode', 2) + item('HorizontalSplitPosition', columns) : ''
      const right = columns > 0 ? item('PositionRight', columns) : ''
      return `<config:config-item-map-entry config:name="${escapeText(name)}">${across}${item('VerticalSplitMode', 2)}${item('VerticalSplitPosition', rows)}${item('ActiveSplitRange', columns > 0 ? 3 : 2)}${right}${item('PositionBottom', rows)}</config:config-item-map-entry>`
    })
  return rootXml(
    'document-settings',
    ['office', 'config'],
    `<office:settings><config:config-item-set config:name="ooo:view-settings"><config:config-item-map-indexed config:name="Views"><config:config-item-map-entry><config:config-item-map-named config:name="Tables">${entries.join('')}</config:config-item-map-named></config:config-item-map-entry></config:config-item-map-indexed></config:config-item-set></office:settings>`,
  )
}

export const TYPE = 'application/vnd.oasis.opendocument.spreadsheet'

/** The list of parts, by their names. */
export function manifestXml(names: readonly string[]): string {
  const typeOf = (name: string): string =>
    name.endsWith('.svg') ? 'image/svg+xml' : name.endsWith('.png') ? 'image/png' : 'text/xml'
  const listed = names.map(
    (name) => `<manifest:file-entry manifest:full-path="${escapeText(name)}" manifest:media-type="${typeOf(name)}"/>`,
  )
  return `${HEAD}<manifest:manifest xmlns:manifest="${NAMES}manifest:1.0" manifest:version="1.3"><manifest:file-entry manifest:full-path="/" manifest:version="1.3" manifest:media-type="${TYPE}"/>${listed.join('')}</manifest:manifest>`
}
