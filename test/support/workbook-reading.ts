import { strFromU8, unzipSync } from 'fflate'
import { parseHTML } from 'linkedom'

/** Reads written workbooks by other code than the library's: an unzipper and a parser of markup. */

export interface ReadCell {
  text: string
  /** `office:value-type`; empty for a cell without a value. */
  type: string
  value: string
  currency: string
  fill: string | undefined
  ink: string | undefined
  bold: boolean
  /** The name of its data style. */
  data: string
  annotation: string
  isCovered: boolean
  hasFormula: boolean
  spans: [columns: number, rows: number]
}

export interface ReadRow {
  style: string
  /** In how many groups that fold it stands. */
  groups: number
  isHeading: boolean
  cells: ReadCell[]
}

export interface ReadSheet {
  name: string
  style: string
  printRange: string
  columns: { style: string; width: number }[]
  rows: ReadRow[]
  pictures: string[]
}

export interface ReadBook {
  files: Readonly<Record<string, Uint8Array>>
  content: string
  sheets: ReadSheet[]
  /** Data styles by name, as markup. */
  data: ReadonlyMap<string, Element>
  /** Names of styles that cells, rows, columns and sheets refer to, and those that are defined. */
  used: ReadonlySet<string>
  defined: ReadonlySet<string>
}

const attribute = (element: Element, name: string): string => element.getAttribute(name) ?? ''

/** All elements of a name, in their order. */
function all(root: ParentNode, name: string): Element[] {
  return [...root.querySelectorAll(name.replace(':', '\\:'))]
}

const child = (element: Element, name: string): Element | undefined =>
  [...element.children].find((one) => one.nodeName.toLowerCase() === name)

export function readBook(bytes: Uint8Array): ReadBook {
  const files = unzipSync(bytes)
  const content = strFromU8(files['content.xml'])
  // Elements that close themselves are no such in HTML.
  const markup = content.replace(/^<\?[^>]*>\s*/, '').replace(/<([\w:-]+)((?:\s[^<>]*?)?)\/>/g, '<$1$2></$1>')
  const { document } = parseHTML(`<!doctype html><html><body>${markup}</body></html>`)
  const styles = new Map(
    all(document, 'style:style').map((style) => [
      `${attribute(style, 'style:family')} ${attribute(style, 'style:name')}`,
      style,
    ]),
  )
  const data = new Map(
    ['number:number-style', 'number:percentage-style', 'number:currency-style', 'number:date-style'].flatMap((name) =>
      all(document, name).map((style) => [attribute(style, 'style:name'), style] as const),
    ),
  )
  const used = new Set<string>()
  const use = (family: string, element: Element): Element | undefined => {
    const name = attribute(element, 'table:style-name')
    if (name !== '') used.add(`${family} ${name}`)
    return styles.get(`${family} ${name}`)
  }
  const cellOf = (element: Element): ReadCell => {
    const style = use('table-cell', element)
    const part = (name: string): Element | undefined => (style === undefined ? undefined : child(style, name))
    const cell = part('style:table-cell-properties')
    const text = part('style:text-properties')
    const dataStyle = style === undefined ? '' : attribute(style, 'style:data-style-name')
    if (dataStyle !== '') used.add(`data ${dataStyle}`)
    const note = child(element, 'office:annotation')
    const spans = ['columns', 'rows'].map((what) => Number(attribute(element, `table:number-${what}-spanned`) || 1))
    return {
      text: paragraphsOf(element),
      type: attribute(element, 'office:value-type'),
      value: attribute(element, 'office:date-value') || attribute(element, 'office:value'),
      currency: attribute(element, 'office:currency'),
      fill: cell?.getAttribute('fo:background-color') ?? undefined,
      ink: text?.getAttribute('fo:color') ?? undefined,
      bold: text?.getAttribute('fo:font-weight') === 'bold',
      data: dataStyle,
      annotation: note === undefined ? '' : paragraphsOf(note),
      isCovered: element.nodeName.toLowerCase() === 'table:covered-table-cell',
      hasFormula: element.hasAttribute('table:formula'),
      spans: [spans[0], spans[1]],
    }
  }
  const sheets = all(document, 'table:table').map((table): ReadSheet => {
    use('table', table)
    return {
      name: attribute(table, 'table:name'),
      style: attribute(table, 'table:style-name'),
      printRange: attribute(table, 'table:print-ranges'),
      columns: all(table, 'table:table-column').map((column) => {
        const width = use('table-column', column)?.innerHTML ?? ''
        return {
          style: attribute(column, 'table:style-name'),
          width: Number(/style:column-width="([\d.]+)cm"/.exec(width)?.[1]),
        }
      }),
      rows: all(table, 'table:table-row').map((row): ReadRow => {
        use('table-row', row)
        const above = ancestors(row).map((one) => one.nodeName.toLowerCase())
        return {
          style: attribute(row, 'table:style-name'),
          groups: above.filter((name) => name === 'table:table-row-group').length,
          isHeading: above.includes('table:table-header-rows'),
          cells: [...row.children].map(cellOf),
        }
      }),
      pictures: all(table, 'draw:image').map((image) => attribute(image, 'xlink:href')),
    }
  })
  return {
    files,
    content,
    sheets,
    data,
    used,
    defined: new Set([...styles.keys(), ...[...data.keys()].map((name) => `data ${name}`)]),
  }
}

function ancestors(element: Element): Element[] {
  const { parentElement } = element
  return parentElement === null ? [] : [parentElement, ...ancestors(parentElement)]
}

/** The text of the paragraphs of an element, with the spaces that are elements. */
function paragraphsOf(element: Element): string {
  return [...element.children]
    .filter(({ nodeName }) => nodeName.toLowerCase() === 'text:p')
    .map((paragraph) =>
      [...paragraph.childNodes]
        .map((node) => {
          const name = node.nodeName.toLowerCase()
          if (name === 'text:s') return ' '.repeat(Number(attribute(node as Element, 'text:c') || 1))
          return name === 'text:tab' ? '\t' : (node.textContent ?? '')
        })
        .join(''),
    )
    .join('\n')
}

/** A number as a data style shows it, worked out from the style alone. */
export function shownBy(style: Element, value: number, data: ReadBook['data'], locale: string): string {
  for (const map of [...style.children].filter(({ nodeName }) => nodeName.toLowerCase() === 'style:map')) {
    const [, sign, limit] = /^value\(\)(>=|<=|>|<)(-?[\d.e+]+)$/.exec(attribute(map, 'style:condition')) ?? []
    const above = sign === '>=' ? value >= Number(limit) : value > Number(limit)
    const isMet = sign.startsWith('>') ? above : sign === '<=' ? value <= Number(limit) : value < Number(limit)
    const other = data.get(attribute(map, 'style:apply-style-name'))
    // A sign of its own stands in a conditional style.
    if (isMet && other !== undefined) return shownBy(other, Math.abs(value), data, locale)
  }
  const times = style.nodeName.toLowerCase() === 'number:percentage-style' ? 100 : 1
  return [...style.children]
    .map((part) => {
      const name = part.nodeName.toLowerCase()
      if (name === 'number:text' || name === 'number:currency-symbol') return part.textContent ?? ''
      if (name !== 'number:number') return ''
      const digits = Number(attribute(part, 'number:decimal-places'))
      return new Intl.NumberFormat(locale, {
        minimumFractionDigits: digits,
        maximumFractionDigits: digits,
        useGrouping: attribute(part, 'number:grouping') === 'true',
      }).format((value * times) / Number(attribute(part, 'number:display-factor') || 1))
    })
    .join('')
}
