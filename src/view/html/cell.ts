import {
  type Cell,
  type ColumnStyle,
  type GridExhibit,
  type Heading,
  hintOf,
  type RecordCell,
  type Row,
  type Trend,
} from '../../page/page.js'
import type { CellStyle } from '../../style/cell-style.js'
import type { DrawnPanel } from '../chart/chart.js'
import { SPARK } from '../chart/spark.js'
import { escapeText } from '../markup.js'
import { barUse, dotUse, iconUse } from '../model/icon.js'
import type { WrittenRow } from '../model/rows.js'
import type { StyleClasses } from './style-classes.js'

/** What every part of a page is written with. */
export interface Writing {
  classes: StyleClasses
  /** The report's own drawings. */
  icons: Readonly<Record<string, string>>
  /** What draws lines in rows and cards; there where some are shown. */
  lines?: typeof import('../chart/trend.js')
  /** Charts as they were drawn before, by exhibit, for a page that is written again and again. */
  charts?: Map<string, { key: string; panels: DrawnPanel[] }>
  /**
   * Tables with more rows than this are written without them: whoever shows the page writes those
   * that are in sight.
   */
  long?: number
  /** Elements of cells say which cell they show; see `view/model/address.ts`. */
  addressed?: true
  /**
   * Tables with more rows than this go on in a part that browsers read only where no script runs; a
   * script shows the rows itself.
   */
  first?: number
  /**
   * Of long tables: rows that were looked through, and the rows of each exhibit as they are
   * written.
   */
  seen?: { rows: WeakSet<Row>; written: WeakMap<GridExhibit, readonly WrittenRow[]> }
}

/** With more rows than this a table scrolls by itself, under a head that stays. */
export const MIN_SCROLL_ROWS = 40

/** The class of what a table lies in, by its rows. */
export function wideClass(rows: number): string {
  return rows > MIN_SCROLL_ROWS ? 'wide long' : 'wide'
}

const NUMBER: ColumnStyle = { draw: 'number', icon: 'before' }

/**
 * What stands inside a cell: picture, drawing, the words of the status, bar or dot, the number and
 * its flag.
 */
export function cellInside(cell: Cell | RecordCell, { icons }: Writing, style: ColumnStyle = NUMBER): string {
  const { style: look, statusText } = cell
  const icon = look.icon === null || look.hide === 'icon' ? '' : iconUse(look.icon, icons)
  const picture = look.picture === null ? '' : `<img class="pic" alt="" src="${escapeText(look.picture)}">`
  const words = statusText === '' ? '' : `<span class=v>${escapeText(statusText)}, </span>`
  const text = escapeText(cell.text)
  const number = look.hide === 'value' ? `<span class="v">${text}</span>` : `<b>${text}</b>`
  const before = style.icon === 'after' ? '' : icon
  const after = style.icon === 'after' ? icon : ''
  return `${picture}${before}${words}${drawing(cell, style)}${number}${after}${flagMarkup(cell)}`
}

function drawing({ bar, extent, value }: Cell | RecordCell, { draw }: ColumnStyle): string {
  const lies = bar ?? extent
  if (draw === 'point' && lies !== null) return dotUse(lies, typeof value === 'number' && value < 0)
  return barUse(lies)
}

function flagMarkup({ flag }: Pick<Cell, 'flag'>): string {
  return flag === null ? '' : `<em>${escapeText(flag)}</em>`
}

/** A row's heading, painted where some rule reaches it. */
export function headingMarkup(heading: Heading, text: string, { classes, icons }: Writing): string {
  const { style: look, bar, statusText } = heading
  const style = classes.of(look)
  const icon = look.icon === null || look.hide === 'icon' ? '' : iconUse(look.icon, icons)
  const picture = look.picture === null ? '' : `<img class="pic" alt="" src="${escapeText(look.picture)}">`
  const words = statusText === '' ? '' : `<span class="v">${escapeText(statusText)}, </span>`
  const own = look.hide === 'value' ? `<span class="v">${escapeText(text)}</span>` : escapeText(text)
  const drawn = icon !== '' || picture !== '' || bar !== null || heading.flag !== null
  const box = look.fill !== null ? 'dab' : drawn ? 'rich' : ''
  const kind = `${box}${box === '' || style === '' ? '' : ' '}${style}`
  return `<span${kind === '' ? '' : ` class="${kind}"`}>${picture}${icon}${words}${barUse(bar)}${own}${flagMarkup(heading)}</span>`
}

/** What stands before the number of a cell and behind it, as far as its look alone decides. */
interface Frame {
  open: string
  close: string
}

/**
 * Frames by look, for one way to draw a column: cells share few looks, and a page has many cells.
 */
export type Frames = Map<CellStyle, Frame>

/**
 * A cell of a table. A dab is painted paper, a block the whole cell. The end tag of a cell may be
 * left out (HTML, 13.1.2.4), and on a large page that counts.
 */
export function tableCell(
  cell: Cell | RecordCell | null,
  writing: Writing,
  style: ColumnStyle,
  frames: Frames = new Map(),
  kind = '',
): string {
  if (cell === null) return '<td>'
  const { style: look, flag } = cell
  // What only one cell has is written for it alone.
  if (look.hide === 'value' || cell.bar !== null || cell.extent !== null || look.picture !== null) {
    const title = look.hide === 'value' ? ` title="${escapeText(hintOf(cell))}"` : ''
    const { open, close } = frameOf(look, writing, style, kind, title)
    return `${open}${cellInside(cell, writing, style)}${close}`
  }
  let frame = frames.get(look)
  if (frame === undefined) {
    const { open } = frameOf(look, writing, style, kind, '')
    const icon = look.icon === null || look.hide === 'icon' ? '' : iconUse(look.icon, writing.icons)
    const words = cell.statusText === '' ? '' : `<span class=v>${escapeText(cell.statusText)}, </span>`
    const after = style.icon === 'after'
    frame = { open: `${open}${after ? '' : icon}${words}<b>`, close: `</b>${after ? icon : ''}` }
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
  const own = kind === '' ? '' : ` class=${kind}`
  return { open: `<td${own}${title}><span${style === '' ? '' : ` class=${style}`}>`, close: '</span>' }
}

/** A line of values; hovering, or reaching it by keyboard, shows it as a small labelled chart. */
export function trendMarkup(trend: Trend | null, { lines }: Writing): string {
  if (trend === null || lines === undefined) return `<span class="tr" style="width:${SPARK.width}px"></span>`
  return `<span class="tr" tabindex="0" role="img" aria-label="${escapeText(trend.hint)}">${lines.sparkline(trend)}<span class="tip">${lines.trendChart(trend)}</span></span>`
}
