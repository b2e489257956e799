import { type NumberFormat, PLAIN_FORMAT } from '../../format/format.js'
import type { Cell, Page, RecordCell } from '../../page/page.js'
import { type CellStyle, iconOf, PLAIN_STYLE } from '../../style/cell-style.js'
import { escapeText } from '../markup.js'
import { blockBar, blockDot, blockTrend } from '../model/blocks.js'
import { glyphsOf } from '../model/glyph.js'
import type { Sheet, SheetCell, SheetRow } from '../model/sheet.js'
import { signLook } from './ink.js'
import { digitsOf, planColumns, type SheetColumn, type SheetPlan } from './plan.js'
import { NO_SINK, type Sink } from './sink.js'
import type { CellForm, Styles } from './styles.js'
import { paragraphs } from './text.js'

/** What the cells of a document share. */
export interface Writing {
  styles: Styles
  formats: Page['formats']
  /** The decimal mark of the locale. */
  decimal: string
  /** What painted a cell, in words; undefined where that is not asked for. */
  why: ((cell: Cell | RecordCell) => string) | undefined
}

/** A table as it is written: its columns, and its rows of headings. */
export interface SheetXml {
  plan: SheetPlan
  /** In centimetres. */
  widths: number[]
  heads: string
  /** How many rows there are of headings, and below. */
  headCount: number
  rowCount: number
}

const ISO_DAY = /^\d{4}-\d{2}-\d{2}$/
const BAR_WIDTH = 10
export const EMPTY_CELL = '<table:table-cell/>'
const COVERED = '<table:covered-table-cell/>'

/** The forms of the cells of one column, for each kind of row. */
type Forms = Readonly<Record<SheetRow['kind'], CellForm>>

function formsOf(form: CellForm): Forms {
  return {
    detail: form,
    group: { ...form, bold: true },
    subtotal: { ...form, bold: true, line: 'above' },
    total: { ...form, bold: true, line: 'above' },
  }
}

const TEXTS = formsOf({})
const SIGNS = formsOf({ align: 'center' })
const BARS = formsOf({ align: 'start' })

/** Writes tables as the rows of sheets. */
export class SheetWriter {
  readonly #writing: Writing
  readonly #sheet: Sheet
  readonly #plan: SheetPlan
  /** The forms of numbers, by column, measure, and whether they are hidden. */
  readonly #numbers = new Map<string, Forms>()
  readonly #last: ({ measure: string; isHidden: boolean; forms: Forms } | undefined)[] = []
  readonly #openings = new Map<CellForm, Map<CellStyle, string>>()
  readonly #signs = new Map<string, string>()
  readonly #bars = new Map<number, CellForm>()
  #dates: Forms | undefined

  constructor(sheet: Sheet, writing: Writing) {
    this.#sheet = sheet
    this.#writing = writing
    this.#plan = planColumns(sheet)
  }

  /** What stands before the rows. */
  head(): SheetXml {
    const { tops } = this.#sheet
    const heads = [...tops.map((top) => this.#topXml(top)), this.#headXml()]
    return {
      plan: this.#plan,
      widths: this.#widths(),
      heads: heads.join(''),
      headCount: heads.length,
      rowCount: this.#sheet.rows.length,
    }
  }

  /** A row of headings above others, each across all columns of its own. */
  #topXml(top: Sheet['tops'][number]): string {
    const { places } = this.#plan
    const style = this.#writing.styles.cell(PLAIN_STYLE, TOP)
    let at = 0
    let xml = ''
    for (const { text, from, span } of top) {
      const first = places[from].from
      const last = places[Math.min(places.length, from + span) - 1]
      const width = last.from + last.count - first
      xml +=
        EMPTY_CELL.repeat(Math.max(0, first - at)) +
        textCell(text, style, width > 1 ? ` table:number-columns-spanned="${width}" table:number-rows-spanned="1"` : '')
      xml += COVERED.repeat(width - 1)
      at = first + width
    }
    return `<table:table-row table:style-name="heading">${xml}</table:table-row>`
  }

  #headXml(): string {
    const { styles } = this.#writing
    const cells = this.#plan.columns.map(({ part, of }) => {
      const { label, right } = this.#sheet.columns[of]
      const isNamed = part === 'head' || part === 'value' || part === 'trend'
      return textCell(isNamed ? label : '', styles.cell(PLAIN_STYLE, right ? HEAD_RIGHT : HEAD))
    })
    return `<table:table-row table:style-name="heading">${cells.join('')}</table:table-row>`
  }

  /** The rows. */
  write(out: Sink): void {
    const { rows, headings } = this.#sheet
    const spans = headings > 1 ? spansOf(this.#sheet) : undefined
    const hasTotals = rows.some(({ kind, depth }) => depth > 0 && (kind === 'subtotal' || kind === 'group'))
    let open = 0
    for (let r = 0; r < rows.length; r++) {
      const row = rows[r]
      // Rows of a group fold under its total, or its heading.
      const depth = hasTotals ? Math.max(0, row.depth - 1) : 0
      for (; open < depth; open++) out.add('<table:table-row-group>')
      for (; open > depth; open--) out.add('</table:table-row-group>')
      this.#row(row, r, spans, out)
    }
    for (; open > 0; open--) out.add('</table:table-row-group>')
  }

  #row({ kind, cells }: SheetRow, r: number, spans: Int32Array[] | undefined, out: Sink): void {
    out.add('<table:table-row table:style-name="')
    out.add(kind)
    out.add('">')
    for (const column of this.#plan.columns) {
      const cell = cells[column.of]
      if (column.part === 'value') this.#value(cell, column.of, kind, out)
      else if (column.part !== 'head') out.add(this.#besideXml(cell, column.part, kind))
      else this.#heading(cell, kind, spans?.[column.of]?.[r] ?? 1, out)
    }
    out.add('</table:table-row>')
  }

  /** What stands beside a value: its sign, bar or flag; or a trend. */
  #besideXml(cell: SheetCell, part: SheetColumn['part'], kind: SheetRow['kind']): string {
    const { styles } = this.#writing
    const { look, bar, dot, flag, trend } = cell
    switch (part) {
      case 'trend':
        return trend === null ? EMPTY_CELL : textCell(blockTrend(trend, false), styles.cell(PLAIN_STYLE, BARS[kind]))
      case 'bar': {
        if (bar === null) return EMPTY_CELL
        const text = dot === null ? blockBar(bar, BAR_WIDTH, false) : blockDot(bar, dot, BAR_WIDTH, false)
        const form = look.bar === null ? BARS[kind] : this.#barForm(look.bar.color)
        return textCell(text.trimEnd(), styles.cell(PLAIN_STYLE, form))
      }
      case 'flag':
        return flag === null ? EMPTY_CELL : textCell(flag, styles.cell(PLAIN_STYLE, TEXTS[kind]))
      default: {
        if (look === PLAIN_STYLE) return EMPTY_CELL
        const { before, after } = glyphsOf(look, cell.icon)
        const words = part === 'before' ? this.#plan.words(cell) : ''
        const sign = part === 'after' ? after : words === '' ? before : `${before} ${words}`.trim()
        // A sign is in the colour of the cell's text, on its fill.
        if (sign === '' && look.fill === null) return EMPTY_CELL
        return this.#signXml(sign, styles.cell(signLook(look), SIGNS[kind]))
      }
    }
  }

  /** The form of a bar in its colour. */
  #barForm(color: number): CellForm {
    let form = this.#bars.get(color)
    if (form === undefined) {
      form = { align: 'start', color }
      this.#bars.set(color, form)
    }
    return form
  }

  /** Few signs in few styles: each cell of them is made once. */
  #signXml(sign: string, style: string): string {
    const key = `${style} ${sign}`
    let xml = this.#signs.get(key)
    if (xml === undefined) {
      xml = textCell(sign, style)
      this.#signs.set(key, xml)
    }
    return xml
  }

  #heading(cell: SheetCell, kind: SheetRow['kind'], span: number, out: Sink): void {
    const { text, look, key } = cell
    const more = span > 1 ? ` table:number-columns-spanned="1" table:number-rows-spanned="${span}"` : ''
    const isDay = key !== null && ISO_DAY.test(key) && kind === 'detail'
    // The number of a record.
    const isNumber = key === null && this.#sheet.columns[0].right && /^\d+$/.test(text)
    const { styles } = this.#writing
    if (span === 0) out.add(COVERED)
    else if (text === '' && look.fill === null && kind === 'detail')
      out.add(more === '' ? EMPTY_CELL : `<table:table-cell${more}/>`)
    else if (isDay) out.add(dayCell(key, text, styles.cell(look, this.#dateForms()[kind]), more))
    else if (isNumber)
      out.add(
        `<table:table-cell office:value-type="float" office:value="${text}"${more}><text:p>${text}</text:p></table:table-cell>`,
      )
    else out.add(textCell(text, styles.cell(look, TEXTS[kind]), more))
  }

  #value(cell: SheetCell, of: number, kind: SheetRow['kind'], out: Sink): void {
    const { text, look, of: source } = cell
    const value = source === null ? null : source.value
    if (typeof value !== 'number' || cell.isStatus) {
      out.add(this.#wordXml(cell, kind))
      return
    }
    const opening = this.#numberOpening(look, of, source?.measure ?? '', kind)
    // Numbers are slow to print, and have no part in styles.
    if (out === NO_SINK) return
    out.add(opening)
    out.add(String(value))
    out.add('">')
    if (source !== null) out.add(this.#noteXml(source))
    out.add('<text:p>')
    out.add(escapeText(text))
    out.add('</text:p></table:table-cell>')
  }

  /** A cell whose value is no number: a text, a day, or nothing. */
  #wordXml({ text, look, of: source, isStatus }: SheetCell, kind: SheetRow['kind']): string {
    const { styles } = this.#writing
    const note = source === null ? '' : this.#noteXml(source)
    const value = source === null ? null : isStatus ? text : source.value
    if (value === null) {
      if (text === '' && look === PLAIN_STYLE && kind === 'detail') return EMPTY_CELL
      // A missing value has its paint, and no text.
      return textCell(
        source === null ? text : '',
        styles.cell(look, source === null ? TEXTS_RIGHT[kind] : TEXTS[kind]),
        '',
        note,
      )
    }
    if (typeof value !== 'string' || !ISO_DAY.test(value) || text === value)
      return textCell(text, styles.cell(look, TEXTS[kind]), '', note)
    return dayCell(value, text, styles.cell(look, this.#dateForms()[kind]), '', note)
  }

  /** A cell up to its number: the same for all of a look, a column and a kind of row. */
  #numberOpening(look: CellStyle, of: number, measure: string, kind: SheetRow['kind']): string {
    const form = this.#numberForms(of, measure, look.hide === 'value')[kind]
    let openings = this.#openings.get(form)
    if (openings === undefined) {
      openings = new Map()
      this.#openings.set(form, openings)
    }
    let opening = openings.get(look)
    if (opening === undefined) {
      const format = this.#formatOf(measure)
      const type =
        format.kind === 'money'
          ? `currency" office:currency="${escapeText(format.currency ?? '')}`
          : format.kind === 'percent'
            ? 'percentage'
            : 'float'
      opening = `<table:table-cell table:style-name="${this.#writing.styles.cell(look, form)}" office:value-type="${type}" office:value="`
      openings.set(look, opening)
    }
    return opening
  }

  #noteXml(cell: Cell | RecordCell): string {
    const { why } = this.#writing
    const text = why === undefined || Object.keys(cell.style.paintedBy).length === 0 ? '' : why(cell)
    return text === '' ? '' : `<office:annotation>${paragraphs(text)}</office:annotation>`
  }

  #formatOf(measure: string): NumberFormat {
    const { formats } = this.#writing
    return Object.hasOwn(formats, measure) ? formats[measure] : PLAIN_FORMAT
  }

  #numberForms(of: number, measure: string, isHidden: boolean): Forms {
    // Nearly every column has one measure.
    const last = this.#last[of]
    if (last !== undefined && last.measure === measure && last.isHidden === isHidden) return last.forms
    const key = `${of} ${isHidden} ${measure}`
    let forms = this.#numbers.get(key)
    if (forms === undefined) {
      const { styles, decimal } = this.#writing
      const format = this.#formatOf(measure)
      const digits = digitsOf(format, textsOf(this.#sheet, of, measure), decimal)
      forms = formsOf({ data: styles.numbers.number({ ...format, digits }, isHidden), align: 'end' })
      this.#numbers.set(key, forms)
    }
    this.#last[of] = { measure, isHidden, forms }
    return forms
  }

  #dateForms(): Forms {
    this.#dates ??= formsOf({ data: this.#writing.styles.numbers.date(), align: 'end' })
    return this.#dates
  }

  /** Widths that fit the texts: of signs narrow, of bars as many blocks as they have. */
  #widths(): number[] {
    return this.#plan.columns.map(({ part, of }) => {
      if (part === 'before' || part === 'after') return part === 'before' && this.#hasWords(of) ? 2.4 : 0.75
      if (part === 'bar') return 2.6
      let longest = part === 'flag' ? 4 : [...this.#sheet.columns[of].label].length
      for (const { cells } of this.#sheet.rows) {
        const { text, flag, trend } = cells[of]
        const shown = part === 'flag' ? (flag ?? '') : trend === null ? text : 'x'.repeat(trend.points.length)
        if (shown.length > longest) longest = shown.length
      }
      return Math.min(MAX_WIDTH, 0.6 + longest * CHARACTER)
    })
  }

  #hasWords(of: number): boolean {
    return this.#sheet.rows.some(({ cells }) => {
      const { look } = cells[of]
      return iconOf(look) !== null && this.#plan.words(cells[of]) !== ''
    })
  }
}

/** The width of a character, in centimetres, and of the widest column. */
const CHARACTER = 0.205
const MAX_WIDTH = 9
const HEAD: CellForm = { bold: true, line: 'below' }
const HEAD_RIGHT: CellForm = { bold: true, line: 'below', align: 'end' }
const TOP: CellForm = { bold: true, align: 'center' }
const TEXTS_RIGHT = formsOf({ align: 'end' })

function* textsOf({ rows }: Sheet, column: number, measure: string): Generator<string> {
  for (const { cells } of rows) {
    const { text, of } = cells[column]
    if (text !== '' && of?.measure === measure) yield text
  }
}

/**
 * For each column of outer keys and each row how many rows its cell spans: 0 for one that is
 * covered by the cell above, which has the same keys.
 */
function spansOf({ headings, rows }: Sheet): Int32Array[] {
  const all = Array.from({ length: headings - 1 }, () => new Int32Array(rows.length).fill(1))
  const first = new Int32Array(headings - 1).fill(-1)
  rows.forEach(({ kind, cells }, r) => {
    let isSame = kind === 'detail' && r > 0 && rows[r - 1].kind === 'detail'
    all.forEach((spans, k) => {
      isSame &&= cells[k].text !== '' && cells[k].text === rows[r - 1].cells[k].text
      if (isSame) {
        spans[first[k]]++
        spans[r] = 0
      } else first[k] = r
    })
  })
  return all
}

/** A cell with a text: never a formula, whatever it begins with. */
export function textCell(text: string, style: string, more = '', note = ''): string {
  const own = style === 'Default' ? '' : ` table:style-name="${style}"`
  if (text === '') return `<table:table-cell${own}${more}>${note}</table:table-cell>`
  return `<table:table-cell${own} office:value-type="string"${more}>${note}${paragraphs(text)}</table:table-cell>`
}

/** A cell with a day. */
function dayCell(day: string, text: string, style: string, more = '', note = ''): string {
  return `<table:table-cell table:style-name="${style}" office:value-type="date" office:date-value="${day}"${more}>${note}${paragraphs(text)}</table:table-cell>`
}
