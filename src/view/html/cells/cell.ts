import {
  type Cell,
  type ColumnStyle,
  type GridExhibit,
  type Heading,
  hintOf,
  type RecordCell,
  type Row,
  type Trend,
} from '../../../page/page.js'
import type { CellStyle } from '../../../style/cell-style.js'
import type { DrawnPanel } from '../../chart/chart.js'
import { SPARK } from '../../chart/spark.js'
import { escapeText } from '../../markup.js'
import { barUse, dotUse, iconUse } from '../../model/icon.js'
import type { WrittenRows } from '../../model/rows.js'
import type { StyleClasses } from './style-classes.js'

/** The context in which every part of a page is written. */
export interface Writing {
  classes: StyleClasses
  /** Icons of the report. */
  icons: Readonly<Record<string, string>>
  /** The module that draws trends; present if some are shown. */
  lines?: typeof import('../../chart/trend.js')
  /** Charts drawn before, by exhibit, for a page that is written repeatedly. */
  charts?: Map<string, { key: string; panels: DrawnPanel[] }>
  /** Tables with more rows are written without them: a live page writes the visible ones. */
  long?: number
  /** Whether elements of cells have addresses; see `view/model/address.ts`. */
  addressed?: true
  /**
   * Which rows of a long table a page with a script has as markup; undefined for all. The script
   * shows all of them.
   */
  parted?(rows: number, totals: number): PartedRows | undefined
  /** Every value of a trend as markup, for a page without a script: a live page answers. */
  values?(trend: Trend): string
  /**
   * By exhibit, whether it shares the line of the one before by itself, and whether its legend is
   * at
   * its side; left out, both are found out.
   */
  placement?: { get(exhibit: string): { joins: boolean; aside: boolean } }
  /**
   * A cache for long tables: rows whose styles have classes, and the written rows of each exhibit.
   */
  seen?: { rows: WeakSet<Row>; written: WeakMap<GridExhibit, WrittenRows> }
}

/** The rows of a long table: those shown at once, and those for readers without scripts. */
export interface PartedRows {
  /** The first so many are shown, and the totals from `end` on. */
  shown: number
  end: number
  /** Those up to this one can be read without scripts. */
  readable: number
  /** A paragraph that says how many are not. */
  note: string
}

/** A table with more rows scrolls by itself, under a fixed head. */
export const MIN_SCROLL_ROWS = 40

/** The class of a table's container, by its rows. */
export function wideClass(rows: number): string {
  return rows > MIN_SCROLL_ROWS ? 'wide long' : 'wide'
}

const NUMBER: ColumnStyle = { draw: 'number', icon: 'before' }

/**
 * The content of a cell: picture, icon, the words of the status, bar or point, the number and its
 * flag.
 */
export function cellInside(cell: Cell | RecordCell, writing: Writing, style: ColumnStyle = NUMBER): string {
  const { style: look, statusText } = cell
  const [before, after] = iconsMarkup(cell, writing, style.icon)
  const text = escapeText(cell.text)
  const number = look.hide === 'value' ? `<span class=v>${text}</span>` : `<b>${text}</b>`
  return `${pictureMarkup(look)}${before}${wordsMarkup(statusText)}${drawing(cell, style)}${number}${after}${flagMarkup(cell)}`
}

function pictureMarkup({ picture }: CellStyle): string {
  return picture === null ? '' : `<img class="pic" alt="" src="${escapeText(picture)}">`
}

/** The words of a status, for assistive technology. */
function wordsMarkup(statusText: string): string {
  return statusText === '' ? '' : `<span class=v>${escapeText(statusText)}, </span>`
}

/**
 * The icons of a cell before and after its number. The first has the words of the status beside it
 * if there is one; any other has its name.
 */
export function iconsMarkup(
  { style: { icon, iconAfter, hide }, statusText }: Pick<Cell, 'style' | 'statusText'>,
  { icons }: Writing,
  position: ColumnStyle['icon'] = 'before',
): [string, string] {
  if (hide === 'icon') return ['', '']
  const first = iconUse(icon, icons, statusText === '')
  const second = iconUse(iconAfter, icons, true, '"i a"')
  return position === 'after' ? ['', first + second] : [first, second]
}

function drawing({ bar, extent, value }: Cell | RecordCell, { draw }: ColumnStyle): string {
  const lies = bar ?? extent
  if (draw === 'point' && lies !== null) return dotUse(lies, typeof value === 'number' && value < 0)
  return barUse(lies)
}

function flagMarkup({ flag, was }: Pick<Cell, 'flag' | 'was'>): string {
  if (flag === null) return ''
  if (was === undefined) return `<em>${escapeText(flag)}</em>`
  const words = escapeText(was.words)
  return `<em${flag === was.sign ? ' class=o' : ''} title="${words}">${escapeText(flag)}<span class=v> ${words}</span></em>`
}

/** A row's heading with its style. */
export function headingMarkup(heading: Heading, text: string, writing: Writing): string {
  const { style: look, bar, statusText } = heading
  const style = writing.classes.of(look)
  const [icon, second] = iconsMarkup(heading, writing)
  const content = look.hide === 'value' ? `<span class=v>${escapeText(text)}</span>` : escapeText(text)
  const drawn = icon + second !== '' || look.picture !== null || bar !== null || heading.flag !== null
  const box = look.fill !== null ? 'dab' : drawn ? 'rich' : ''
  const kind = `${box}${box === '' || style === '' ? '' : ' '}${style}`
  return `<span${kind === '' ? '' : ` class="${kind}"`}>${pictureMarkup(look)}${icon}${wordsMarkup(statusText)}${barUse(bar)}${content}${second}${flagMarkup(heading)}</span>`
}

/**
 * Whether one rule fills every cell of a row with one colour: then it is one wash, without gaps.
 */
export function isWholeRow(cells: readonly (Cell | RecordCell | null)[]): boolean {
  const first = cells[0]?.style
  if (first === undefined || first.fill === null || cells.length < 2) return false
  const { fill, paintedBy } = first
  return cells.every((cell) => cell?.style.fill === fill && cell.style.paintedBy.fill === paintedBy.fill)
}

/** The markup before and after the number of a cell, as far as its style determines it. */
interface Frame {
  open: string
  close: string
}

/**
 * Frames by style, for one way to draw a column: cells share few styles, and a page has many cells.
 */
export type Frames = Map<CellStyle, Frame>

/**
 * A cell of a table. A dab is a rounded fill, a block fills the whole cell. The end tag of a cell
 * is optional (HTML, 13.1.2.4), and large pages leave it out.
 */
export function tableCell(
  cell: Cell | RecordCell | null,
  writing: Writing,
  style: ColumnStyle,
  frames: Frames = new Map(),
  kind: string | undefined = '',
): string {
  if (cell === null) return '<td>'
  const { style: look, flag } = cell
  // The parts that only one cell has are written for it alone.
  if (look.hide === 'value' || cell.bar !== null || cell.extent !== null || look.picture !== null) {
    const title = look.hide === 'value' ? ` title="${escapeText(hintOf(cell))}"` : ''
    const { open, close } = frameOf(look, writing, style, kind, title)
    return `${open}${cellInside(cell, writing, style)}${close}`
  }
  let frame = frames.get(look)
  if (frame === undefined) {
    const { open } = frameOf(look, writing, style, kind, '')
    const [before, after] = iconsMarkup(cell, writing, style.icon)
    frame = { open: `${open}${before}${wordsMarkup(cell.statusText)}<b>`, close: `</b>${after}` }
    frames.set(look, frame)
  }
  return flag === null
    ? `${frame.open}${escapeText(cell.text)}${frame.close}</span>`
    : `${frame.open}${escapeText(cell.text)}${frame.close}${flagMarkup(cell)}</span>`
}

function frameOf(look: CellStyle, { classes }: Writing, { draw }: ColumnStyle, kind: string, title: string): Frame {
  const style = classes.of(look)
  if (draw === 'block')
    return {
      open: `<td class="${['block', kind, style].filter((k) => k !== '').join(' ')}"${title}><span>`,
      close: '</span>',
    }
  const className = kind === '' ? '' : ` class=${kind}`
  return { open: `<td${className}${title}><span${style === '' ? '' : ` class=${style}`}>`, close: '</span>' }
}

/** A trend; hovering or focusing it shows a small labelled chart. */
export function trendMarkup(trend: Trend | null, { lines, values }: Writing): string {
  if (trend === null || lines === undefined) return `<span class="tr" style="width:${SPARK.width}px"></span>`
  return `<span class="tr" tabindex="0" role="img" aria-label="${escapeText(trend.hint)}">${lines.sparkline(trend)}<span class="tip">${lines.trendChart(trend)}${values?.(trend) ?? ''}</span></span>`
}
