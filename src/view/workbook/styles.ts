import { colorText } from '../../color/color.js'
import { QUIET } from '../../color/pigments.js'
import type { CellStyle } from '../../style/cell-style.js'
import { NumberStyles } from './number-styles.js'

/** What a cell looks like beside its own paint. */
export interface CellForm {
  /** The name of its data style; left out for texts. */
  data?: string
  align?: 'start' | 'center' | 'end'
  bold?: boolean
  /** Of headings below, of totals above. */
  line?: 'above' | 'below'
  size?: number
  quiet?: boolean
  wrap?: boolean
  color?: number
}

/** Styles of cells: as few as there are looks, each with a name. */
export class Styles {
  readonly numbers: NumberStyles
  readonly #names = new Map<string, string>()
  readonly #known = new Map<CellStyle, Map<CellForm, string>>()
  readonly #widths = new Map<string, string>()
  readonly #xml: string[] = []

  constructor(locale: string) {
    this.numbers = new NumberStyles(locale)
  }

  /**
   * The style of a cell with paint. Both are looked up by identity first: a table has many cells
   * and few of them.
   */
  cell(look: CellStyle, form: CellForm): string {
    let forms = this.#known.get(look)
    if (forms === undefined) {
      forms = new Map()
      this.#known.set(look, forms)
    }
    let name = forms.get(form)
    if (name === undefined) {
      name = this.#cellName(look, form)
      forms.set(form, name)
    }
    return name
  }

  /** A column of a width in centimetres. */
  column(width: number): string {
    const key = width.toFixed(2)
    let name = this.#widths.get(key)
    if (name === undefined) {
      name = `co${this.#widths.size + 1}`
      this.#widths.set(key, name)
    }
    return name
  }

  toString(): string {
    const columns = [...this.#widths].map(([width, name]) => columnXml(name, Number(width)))
    return this.numbers.toString() + columns.join('') + this.#xml.join('')
  }

  #cellName({ fill, ink, weight }: CellStyle, form: CellForm): string {
    const { data, align, bold = false, line, size, quiet = false, wrap = false, color } = form
    const cell = [
      fill === null ? '' : ` fo:background-color="${colorText(fill)}"`,
      line === 'above' ? ` fo:border-top="0.5pt solid ${colorText(QUIET)}"` : '',
      line === 'below' ? ` fo:border-bottom="0.5pt solid ${colorText(QUIET)}"` : '',
      wrap ? ' fo:wrap-option="wrap" style:vertical-align="top"' : '',
    ].join('')
    const inkColor = ink ?? color ?? (quiet ? QUIET : null)
    const isBold = weight === null ? bold : weight === 'bold'
    const text = [
      inkColor === null ? '' : ` fo:color="${colorText(inkColor)}"`,
      isBold ? ' fo:font-weight="bold"' : '',
      size === undefined ? '' : ` fo:font-size="${size}pt"`,
    ].join('')
    const properties = [
      cell === '' ? '' : `<style:table-cell-properties${cell}/>`,
      align === undefined ? '' : `<style:paragraph-properties fo:text-align="${align}"/>`,
      text === '' ? '' : `<style:text-properties${text}/>`,
    ].join('')
    const of = data === undefined ? '' : ` style:data-style-name="${data}"`
    const key = of + properties
    if (key === '') return 'Default'
    let name = this.#names.get(key)
    if (name === undefined) {
      name = `c${this.#names.size + 1}`
      this.#names.set(key, name)
      this.#xml.push(
        `<style:style style:name="${name}" style:family="table-cell" style:parent-style-name="Default"${of}>${properties}</style:style>`,
      )
    }
    return name
  }
}

export function columnXml(name: string, width: number): string {
  return `<style:style style:name="${name}" style:family="table-column"><style:table-column-properties style:column-width="${width.toFixed(2)}cm"/></style:style>`
}
