import type { Cell, ColumnStyle, Heading, RecordCell, Trend } from '../../page/page.js'
import { barUse, dotUse, iconUse } from '../icon.js'
import { escapeText } from '../markup.js'
import { SPARK, sparkline, trendChart } from '../trend.js'
import type { LookClasses } from './looks.js'

/** What every part of a page is written with. */
export interface Writing {
  classes: LookClasses
  /** The report's own drawings. */
  icons: Readonly<Record<string, string>>
}

const NUMBER: ColumnStyle = { draw: 'number', icon: 'before' }

/** What stands inside a cell: picture, drawing, the words of the status, bar or dot, the number and its flag. */
export function cellInside(cell: Cell | RecordCell, { icons }: Writing, style: ColumnStyle = NUMBER): string {
  const { look, statusText } = cell
  const icon = look.icon === null || look.hide === 'icon' ? '' : iconUse(look.icon, icons)
  const picture = look.picture === null ? '' : `<img class="pic" alt="" src="${escapeText(look.picture)}">`
  const words = statusText === '' ? '' : `<span class="v">${escapeText(statusText)}, </span>`
  const text = escapeText(cell.text)
  const number = look.hide === 'value' ? `<span class="v">${text}</span>` : `<b>${text}</b>`
  const before = style.icon === 'after' ? '' : icon
  const after = style.icon === 'after' ? icon : ''
  return `${picture}${before}${words}${drawing(cell, style)}${number}${after}${flagMarkup(cell)}`
}

function drawing({ bar, extent, value }: Cell | RecordCell, { draw }: ColumnStyle): string {
  const lies = bar ?? extent
  if (draw === 'dot' && lies !== null) return dotUse(lies, typeof value === 'number' && value < 0)
  return barUse(lies)
}

function flagMarkup({ flag }: Pick<Cell, 'flag'>): string {
  return flag === null ? '' : `<em>${escapeText(flag)}</em>`
}

/** A row's heading, painted where some rule reaches it. */
export function headingMarkup(heading: Heading, text: string, { classes, icons }: Writing): string {
  const { look, bar, statusText } = heading
  const style = classes.of(look)
  const icon = look.icon === null || look.hide === 'icon' ? '' : iconUse(look.icon, icons)
  const picture = look.picture === null ? '' : `<img class="pic" alt="" src="${escapeText(look.picture)}">`
  const words = statusText === '' ? '' : `<span class="v">${escapeText(statusText)}, </span>`
  const own = look.hide === 'value' ? `<span class="v">${escapeText(text)}</span>` : escapeText(text)
  const kind = look.fill === null ? style : `dab ${style}`
  return `<span${kind === '' ? '' : ` class="${kind}"`}>${picture}${icon}${words}${barUse(bar)}${own}${flagMarkup(heading)}</span>`
}

/** A cell of a table. A dab is painted paper, a block the whole cell. */
export function tableCell(cell: Cell | RecordCell | null, writing: Writing, style: ColumnStyle): string {
  if (cell === null) return '<td></td>'
  const kind = writing.classes.of(cell.look)
  const inside = cellInside(cell, writing, style)
  const title = cell.look.hide === 'value' ? ` title="${escapeText(cell.hint)}"` : ''
  if (style.draw === 'block')
    return `<td class="block${kind === '' ? '' : ` ${kind}`}"${title}><span>${inside}</span></td>`
  const dab = cell.look.fill === null ? kind : `dab ${kind}`
  return `<td${title}><span${dab === '' ? '' : ` class="${dab}"`}>${inside}</span></td>`
}

/** A line of values; hovering, or reaching it by keyboard, shows it as a small labelled chart. */
export function trendMarkup(trend: Trend | null): string {
  if (trend === null) return `<span class="tr" style="width:${SPARK.width}px"></span>`
  return `<span class="tr" tabindex="0" role="img" aria-label="${escapeText(trend.hint)}">${sparkline(trend)}<span class="tip">${trendChart(trend)}</span></span>`
}
