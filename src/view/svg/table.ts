import { colorText } from '../../color/color.js'
import { QUIET, SOOT } from '../../color/pigments.js'
import { SPARK } from '../chart/spark.js'
import { cutTo, textWidth } from '../chart/text-width.js'
import { sparkline } from '../chart/trend.js'
import { escapeText } from '../markup.js'
import type { Sheet, SheetCell } from '../model/sheet.js'
import { barAt, drawText, groundAt, HAIR, iconAt, imageAt, inkOf, lineAt, type Piece } from './draw.js'

const FONT_SIZE = 13
const ROW_HEIGHT = 28
const CELL_PADDING = 10
const ICON_SIZE = 14
const BAR_WIDTH = 84
const MAX_HEADING_WIDTH = 260
const INDENT_WIDTH = 16

/** A table; with `flat` a heatmap: cells without gaps, those without a value hatched. */
export function tablePiece(sheet: Sheet, flat: boolean, icons: Readonly<Record<string, string>>): Piece {
  // Numbers end at one place, whatever stands behind some of them.
  const behind = sheet.columns.map(({ right }, c) =>
    flat || !right || c < sheet.headings ? 0 : Math.max(0, ...sheet.rows.map((row) => flagWidth(row.cells[c]))),
  )
  // So do those of a column in which some cells have a second icon.
  const second = sheet.columns.map((_, c) => (sheet.rows.some((row) => hasSecond(row.cells[c])) ? ICON_SIZE + 8 : 0))
  const widths = sheet.columns.map(({ label }, c) => {
    const cells = sheet.rows.map(({ cells: row, indent }) => {
      const cell = behind[c] > 0 ? { ...row[c], flag: null } : row[c]
      return insideWidth(cell, c < sheet.headings) + behind[c] + second[c] + (c === 0 ? indent * INDENT_WIDTH : 0)
    })
    const heading = textWidth(label, FONT_SIZE - (flat && c >= sheet.headings ? 2 : 0))
    const width = Math.max(heading, ...cells, 16)
    return c < sheet.headings
      ? Math.min(MAX_HEADING_WIDTH, width) + CELL_PADDING
      : width + (flat ? 8 : 2 * CELL_PADDING)
  })
  const lefts: number[] = []
  let width = 0
  for (const [c, columnWidth] of widths.entries()) {
    lefts.push(width)
    width += columnWidth + (flat || c < sheet.headings ? 0 : 6)
  }
  const parts: string[] = []
  let y = 0
  for (const row of sheet.tops) {
    y += 20
    for (const { text, from, span } of row) {
      const end = lefts[from + span - 1] + widths[from + span - 1]
      const middle = (lefts[from] + end) / 2
      parts.push(
        drawText(middle, y - 6, cutTo(text, FONT_SIZE, end - lefts[from]), {
          anchor: 'middle',
          weight: 600,
          color: QUIET,
        }),
      )
    }
  }
  y += 22
  for (const [c, { label, right }] of sheet.columns.entries()) {
    const size = flat && c >= sheet.headings ? FONT_SIZE - 2 : FONT_SIZE
    const text = cutTo(label, size, widths[c])
    const style = { size, weight: flat && c >= sheet.headings ? 400 : 600, color: QUIET }
    if (flat && c >= sheet.headings)
      parts.push(drawText(lefts[c] + widths[c] / 2, y - 7, text, { ...style, anchor: 'middle' }))
    else if (right)
      parts.push(drawText(lefts[c] + widths[c] - CELL_PADDING - behind[c], y - 7, text, { ...style, anchor: 'end' }))
    else parts.push(drawText(lefts[c] + (c < sheet.headings ? 0 : CELL_PADDING), y - 7, text, style))
  }
  parts.push(lineAt(0, y, width, y, HAIR))
  for (const row of sheet.rows) {
    if (row.kind === 'group' || row.kind === 'total')
      parts.push(lineAt(0, y, width, y, row.kind === 'total' ? SOOT : HAIR))
    row.cells.forEach((cell, c) => {
      const box = {
        x: lefts[c] + (c === 0 ? row.indent * INDENT_WIDTH : 0),
        y,
        width: widths[c] - (c === 0 ? row.indent * INDENT_WIDTH : 0),
      }
      const weight = cell.look.weight === 'bold' ? 700 : row.kind === 'detail' ? 400 : 600
      parts.push(
        cellMarkup(cell, box, {
          heading: c < sheet.headings,
          right: sheet.columns[c].right,
          flat,
          weight,
          icons,
          behind: behind[c],
          second: second[c],
        }),
      )
    })
    y += ROW_HEIGHT
  }
  return { width, height: y, markup: parts.join('') }
}

/** The room that the flag of a cell takes behind its number. */
function flagWidth({ flag }: SheetCell): number {
  return flag === null ? 0 : textWidth(` ${flag}`, FONT_SIZE) * 1.06
}

function hasSecond({ look: { iconAfter, hide } }: SheetCell): boolean {
  return iconAfter !== null && hide !== 'icon'
}

function insideWidth({ text, look, bar, flag, trend }: SheetCell, heading: boolean): number {
  if (trend !== null) return SPARK.width
  const shown = look.hide === 'value' ? '' : text
  const flagged = flag === null ? '' : ` ${flag}`
  const words = Math.min(
    heading ? MAX_HEADING_WIDTH : Number.POSITIVE_INFINITY,
    textWidth(shown + flagged, FONT_SIZE) * 1.06,
  )
  return (
    words +
    (look.icon === null || look.hide === 'icon' ? 0 : ICON_SIZE + 8) +
    (bar === null ? 0 : BAR_WIDTH + 8) +
    (look.picture === null ? 0 : 30)
  )
}

interface CellStyle {
  heading: boolean
  right: boolean
  flat: boolean
  weight: number
  icons: Readonly<Record<string, string>>
  /** The room behind the number that flags of its column take. */
  behind: number
  /** The room for the second icons of its column. */
  second: number
}

function cellMarkup(
  cell: SheetCell,
  { x, y, width }: { x: number; y: number; width: number },
  { heading, right, flat, weight, icons, behind, second }: CellStyle,
): string {
  const { look, bar, dot, flag, trend, text } = cell
  if (trend !== null)
    return sparkline(trend).replace('<svg', `<svg x="${x + CELL_PADDING}" y="${y + 1}" color="${colorText(SOOT)}"`)
  const parts: string[] = []
  const full = flat && !heading
  if (look.fill !== null)
    parts.push(
      full
        ? groundAt(x, y, width, ROW_HEIGHT, look, true)
        : groundAt(x - (heading ? 6 : 0), y + 1, width, ROW_HEIGHT - 2, look, false),
    )
  else if (full && cell.missing)
    parts.push(
      `<path d="M${x + 4} ${y + ROW_HEIGHT - 6}L${x + width - 4} ${y + 6}" stroke="${colorText(HAIR)}" fill="none"/>`,
    )
  const ink = inkOf(look)
  const middle = y + ROW_HEIGHT / 2
  const base = middle + 4.5
  let left = x + (heading ? 0 : full ? 4 : CELL_PADDING)
  if (look.picture !== null) {
    parts.push(imageAt(left, y + 4, 24, 20, look.picture))
    left += 30
  }
  const icon = look.icon === null || look.hide === 'icon' ? '' : look.icon
  if (icon !== '' && cell.icon !== 'after') {
    parts.push(iconAt(left, middle - ICON_SIZE / 2, ICON_SIZE, icon, ink, icons))
    left += ICON_SIZE + 8
  }
  if (bar !== null) {
    parts.push(barAt(left, middle, BAR_WIDTH, bar, dot, look))
    left += BAR_WIDTH + 8
  }
  let end = x + width - (full ? 4 : CELL_PADDING)
  if (icon !== '' && cell.icon === 'after') {
    parts.push(iconAt(end - ICON_SIZE, middle - ICON_SIZE / 2, ICON_SIZE, icon, ink, icons))
    end -= ICON_SIZE + 8
  }
  if (look.iconAfter !== null && hasSecond(cell))
    parts.push(iconAt(end - ICON_SIZE, middle - ICON_SIZE / 2, ICON_SIZE, look.iconAfter, ink, icons))
  end -= second
  const number = look.hide === 'value' ? '' : text
  if (behind > 0 && flag !== null)
    parts.push(drawText(end - behind + 4, base, flag, { size: FONT_SIZE, color: ink, weight }))
  const shown = behind > 0 || flag === null ? number : `${number} ${flag}`
  end -= behind
  if (shown !== '') {
    const style = { size: full ? 12 : FONT_SIZE, color: ink, weight }
    const room = cutTo(shown, FONT_SIZE, heading ? MAX_HEADING_WIDTH : Number.POSITIVE_INFINITY)
    if (full && icon === '' && second === 0)
      parts.push(drawText(x + width / 2, base, room, { ...style, anchor: 'middle' }))
    else parts.push(right ? drawText(end, base, room, { ...style, anchor: 'end' }) : drawText(left, base, room, style))
  }
  const title = [cell.statusText, look.hide === 'value' ? text : ''].filter((part) => part !== '').join(', ')
  return title === '' ? parts.join('') : `<g><title>${escapeText(title)}</title>${parts.join('')}</g>`
}
