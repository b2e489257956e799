import { ProblemError, problem } from '../../../problem/problem.js'
import type { ZoneDay } from '../../../time/zone.js'
import { MAX_COLUMNS } from '../../limits.js'
import { CellReader, type CellValue, KIND } from './cell.js'
import { longer } from './longer.js'
import { Merges } from './merges.js'
import type { Attributes, Listener } from './xml.js'

/** The cells of a row, by column; one object serves for all rows. */
export interface SheetRow {
  /** One more than the last column with a value. */
  length: number
  kinds: Uint8Array
  numbers: Float64Array
  texts: string[]
  currencies: string[]
  /** Where it stands in the sheet, from 0, and how often. */
  index: number
  times: number
  /** Why it is not shown; undefined for one that is. */
  hidden: 'hidden' | 'filtered' | undefined
  /** Whether it is one of the rows that are repeated on paper. */
  isHeading: boolean
  /** The name of its style. */
  style: string
  /** How many of its cells are covered by merged ones, and the first of them. */
  covered: number
  firstCovered: number
}

/** Who reads sheets. */
export interface SheetVisitor {
  /**
   * A sheet begins; undefined if its rows are not wanted. `merged`: whether merged cells fill those
   * that they cover.
   */
  sheet(name: string, style: string): { merged: boolean } | undefined
  /** So many further columns have a style. */
  columns(style: string, times: number): void
  /** A row with at least one value. */
  row(row: SheetRow): void
  /** The sheet ends. */
  end(): void
}

/** Elements that only hold rows or columns. */
const HOLDERS = new Set([
  'table:table-rows',
  'table:table-header-rows',
  'table:table-row-group',
  'table:table-columns',
  'table:table-header-columns',
  'table:table-column-group',
])
/** Elements of a paragraph whose text is not that of the cell. */
const ASIDE = new Set(['office:annotation', 'text:note', 'text:tracked-changes'])

/** Where the reader is: inside of which element of interest. */
type State = 'outside' | 'spreadsheet' | 'sheet' | 'row' | 'cell' | 'paragraph'

/** How sheets are read. */
export interface SheetReading {
  zone: ZoneDay | undefined
  /** The place of problems. */
  file: string
  noLimit: boolean
}

/**
 * Follows the elements of a document to the rows of its sheets. Whatever is not part of a sheet is
 * passed by: changes that are tracked, linked tables, shapes, annotations.
 */
export class SheetReader implements Listener {
  readonly #visitor: SheetVisitor
  readonly #reading: SheetReading
  readonly #cells: CellReader
  readonly #row = createSheetRow()
  readonly #cell: CellValue = { kind: 0, number: Number.NaN, text: '', currency: '' }
  readonly #merges = new Merges()
  #at: State = 'outside'
  /** Elements inside of one that is passed by. */
  #skipped = 0
  #inParagraph = 0
  #headings = 0
  #column = 0
  #attributes: Attributes = {}
  #isCovered = false
  #isMerged = false
  #text = ''
  #paragraph = ''
  #paragraphs = 0

  constructor(visitor: SheetVisitor, reading: SheetReading) {
    this.#visitor = visitor
    this.#reading = reading
    this.#cells = new CellReader(reading.zone)
  }

  open(name: string, attributes: Attributes): void {
    if (this.#skipped > 0) {
      this.#skipped++
      return
    }
    const next = this.#opened(name, attributes)
    if (next === undefined) this.#skipped = 1
    else this.#at = next
  }

  close(name: string): void {
    if (this.#skipped > 0) {
      this.#skipped--
      return
    }
    switch (this.#at) {
      case 'paragraph':
        this.#endParagraph()
        break
      case 'cell':
        this.#endCell()
        this.#at = 'row'
        break
      case 'row':
        this.#endRow()
        this.#at = 'sheet'
        break
      case 'sheet':
        if (name === 'table:table-header-rows') this.#headings--
        if (name !== 'table:table') break
        this.#visitor.end()
        this.#at = 'spreadsheet'
        break
      case 'spreadsheet':
        this.#at = 'outside'
    }
  }

  text(piece: string): void {
    if (this.#skipped === 0 && this.#at === 'paragraph') this.#paragraph += piece
  }

  /** The state after an element inside of the present one; undefined if it is passed by. */
  #opened(name: string, attributes: Attributes): State | undefined {
    switch (this.#at) {
      case 'outside':
        return name === 'office:spreadsheet' ? 'spreadsheet' : 'outside'
      case 'spreadsheet':
        return name === 'table:table' ? this.#startSheet(attributes) : undefined
      case 'sheet':
        return this.#inSheet(name, attributes)
      case 'row':
        this.#isCovered = name === 'table:covered-table-cell'
        if (!this.#isCovered && name !== 'table:table-cell') return undefined
        this.#attributes = attributes
        this.#text = ''
        this.#paragraphs = 0
        return 'cell'
      case 'cell':
        if (name !== 'text:p' && name !== 'text:h') return undefined
        this.#paragraph = ''
        this.#inParagraph = 0
        return 'paragraph'
      default:
        return this.#inText(name, attributes)
    }
  }

  #startSheet(attributes: Attributes): State | undefined {
    const [name, style] = [attributes['table:name'] ?? '', attributes['table:style-name'] ?? '']
    const sheet = this.#visitor.sheet(name, style)
    if (sheet === undefined) return undefined
    this.#isMerged = sheet.merged
    this.#row.index = 0
    this.#headings = 0
    this.#merges.clear()
    return 'sheet'
  }

  #inSheet(name: string, attributes: Attributes): State | undefined {
    if (name === 'table:table-header-rows') this.#headings++
    if (HOLDERS.has(name)) return 'sheet'
    if (name === 'table:table-column')
      this.#visitor.columns(attributes['table:style-name'] ?? '', count(attributes['table:number-columns-repeated']))
    if (name !== 'table:table-row') return undefined
    const row = this.#row
    const visibility = attributes['table:visibility']
    row.times = count(attributes['table:number-rows-repeated'])
    row.hidden = visibility === 'collapse' ? 'hidden' : visibility === 'filter' ? 'filtered' : undefined
    row.isHeading = this.#headings > 0
    row.style = attributes['table:style-name'] ?? ''
    row.covered = 0
    row.kinds.fill(KIND.missing, 0, row.length)
    row.length = 0
    this.#column = 0
    return 'row'
  }

  #inText(name: string, attributes: Attributes): State | undefined {
    if (ASIDE.has(name)) return undefined
    this.#inParagraph++
    if (name === 'text:s') this.#paragraph += SPACE.repeat(Math.min(count(attributes['text:c']), MAX_SPACES))
    else if (name === 'text:tab') this.#paragraph += TAB
    else if (name === 'text:line-break') this.#paragraph += BREAK
    return 'paragraph'
  }

  #endParagraph(): void {
    if (this.#inParagraph > 0) {
      this.#inParagraph--
      return
    }
    const text = plainText(this.#paragraph)
    this.#text = this.#paragraphs++ === 0 ? text : `${this.#text}\n${text}`
    this.#at = 'cell'
  }

  #endCell(): void {
    const attributes = this.#attributes
    const row = this.#row
    const column = this.#column
    const times = count(attributes['table:number-columns-repeated'])
    this.#column += times
    if (this.#isCovered) {
      if (row.covered === 0) row.firstCovered = column
      row.covered += times
      if (this.#isMerged)
        this.#merges.each(row.index, column, times, (from, count, cell) => this.#put(from, count, cell))
      return
    }
    const cell = this.#cell
    this.#cells.read(cell, attributes, this.#text)
    if (cell.kind === KIND.missing) return
    this.#put(column, times, cell)
    if (this.#isMerged && times === 1)
      this.#merges.add(row.index, column, cell, {
        width: count(attributes['table:number-columns-spanned']),
        height: count(attributes['table:number-rows-spanned']),
      })
  }

  #put(from: number, times: number, { kind, number, text, currency }: CellValue): void {
    const row = this.#row
    const to = from + times
    if (to > MAX_COLUMNS && !this.#reading.noLimit)
      throw new ProblemError([
        problem('too-many-columns', { count: to, most: MAX_COLUMNS }, { file: this.#reading.file }),
      ])
    if (to > row.kinds.length) {
      row.kinds = longer(row.kinds, to)
      row.numbers = longer(row.numbers, to)
    }
    for (let c = from; c < to; c++) {
      row.kinds[c] = kind
      row.numbers[c] = number
      row.texts[c] = text
      row.currencies[c] = currency
    }
    if (to > row.length) row.length = to
  }

  #endRow(): void {
    const row = this.#row
    if (row.length > 0) this.#visitor.row(row)
    row.index += row.times
    this.#merges.forget(row.index)
  }
}

function createSheetRow(): SheetRow {
  return {
    length: 0,
    kinds: new Uint8Array(64),
    numbers: new Float64Array(64),
    texts: [],
    currencies: [],
    index: 0,
    times: 1,
    hidden: undefined,
    isHeading: false,
    style: '',
    covered: 0,
    firstCovered: 0,
  }
}

// Stand for characters that are elements; none of them is allowed in XML.
const SPACE = '\u0001'
const TAB = '\u0002'
const BREAK = '\u0003'
const MAX_SPACES = 10_000

/** White space of a paragraph is one space, and none at its ends; that of elements stays. */
function plainText(paragraph: string): string {
  if (!ODD_SPACE.test(paragraph)) return paragraph
  return paragraph
    .replace(/[\t\r\n ]+/g, ' ')
    .replace(/^ | $/g, '')
    .replaceAll(SPACE, ' ')
    .replaceAll(TAB, '\t')
    .replaceAll(BREAK, '\n')
}
// biome-ignore lint/suspicious/noControlCharactersInRegex: those that stand for elements
const ODD_SPACE = /[\t\r\n\u0001-\u0003]|^ | $| {2}/

/** A positive integer, 1 for what is none. */
function count(text: string | undefined): number {
  if (text === undefined) return 1
  const value = Number(text)
  return Number.isInteger(value) && value > 0 ? value : 1
}
