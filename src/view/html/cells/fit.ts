import type { GridExhibit } from '../../../page/page.js'
import type { CellStyle } from '../../../style/cell-style.js'
import { SPARK } from '../../chart/spark.js'
import { measuredRows, type WrittenRows } from '../../model/rows.js'

/** The width of a printed page in pixels: A4 without its margins. */
const PAPER_WIDTH = 950
/**
 * The widest character of a cell, and the space around a number: padding, an icon, a bar or point.
 */
export const CHARACTER_WIDTH = 9.2
export const CELL_PADDING = 40
export const ICON_WIDTH = 27
export const DRAWING_WIDTH = 108
/** The widest heading column. */
const MAX_HEADING_WIDTH = 330

/** The largest width of a table. */
export interface Room {
  /** In pixels. */
  width: number
  /** The length of its longest flag. */
  flag: number
}

/**
 * Scales tables that are wider than paper when they are printed, as paper cannot be scrolled: by
 * the width of their texts in the widest fonts. Written to the style sheet, for print alone. Flags
 * have a common width, so that numbers align.
 */
export function fitOf({ width, flag }: Room): string {
  const parts = [
    ...(width <= PAPER_WIDTH ? [] : [`--fit:${Math.max(0.3, Math.floor((100 * PAPER_WIDTH) / width) / 100)}`]),
    ...(flag === 0 ? [] : [`--flag:${flag}ch`]),
  ]
  return parts.length === 0 ? '' : ` style="${parts.join(';')}"`
}

export function gridRoom(exhibit: GridExhibit, rows: WrittenRows): Room {
  const { styles, trends, columns } = exhibit
  const heads: number[] = []
  const letters = new Int32Array(styles.length)
  const looks = styles.map(() => new Set<CellStyle>())
  let flag = 0
  for (const { heads: rowHeads, row } of measuredRows(exhibit, rows)) {
    for (let k = 0; k < rowHeads.length; k++) heads[k] = Math.max(heads[k] ?? 0, rowHeads[k].length)
    // A long table has looked at its columns.
    for (let c = 0; columns === undefined && c < letters.length; c++) {
      const cell = row.cells[c]
      if (cell === null) continue
      if (cell.text.length > letters[c]) letters[c] = cell.text.length
      if (cell.flag !== null && cell.flag.length > flag) flag = cell.flag.length
      looks[c].add(cell.style)
    }
  }
  columns?.forEach(({ widest, styles: used }, c) => {
    letters[c] = widest?.text.length ?? 0
    flag = Math.max(flag, widest?.flag?.length ?? 0)
    for (const style of used) looks[c].add(style)
  })
  let width = heads.reduce((sum, length) => sum + Math.min(MAX_HEADING_WIDTH, length * CHARACTER_WIDTH + 30), 0)
  styles.forEach(({ draw }, c) => {
    const styles = [...looks[c]]
    const drawn = draw === 'point' || draw === 'bar' || styles.some(({ bar }) => bar !== null)
    const flagged = styles.some((look) => look.flag !== null) ? flag + 1 : 0
    const icon = styles.some((look) => look.icon !== null) ? ICON_WIDTH : 0
    width += (letters[c] + flagged) * CHARACTER_WIDTH + CELL_PADDING + icon + (drawn ? DRAWING_WIDTH : 0)
  })
  return { width: width + trends.length * (SPARK.width + 30), flag }
}
