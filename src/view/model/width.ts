import type { Exhibit, GridExhibit } from '../../page/page.js'
import { SPARK } from '../chart/spark.js'
import { textWidth } from '../chart/text-width.js'

/** Rows that are measured; of longer tables those with the longest texts are measured, too. */
const MEASURED_ROWS = 60
/** Sizes of the style sheet, in pixels. */
const TEXT = 15
const HEAD = 13
const CELL_PADDING = 36
const HEADING_PADDING = 22
const ICON = 27
const BAR = 108
/** A reading needs so much to be read. */
const READING = 480

/**
 * An estimate of the width that an exhibit needs, in pixels; undefined for one that takes the width
 * of the page.
 */
export function neededWidth(exhibit: Exhibit): number | undefined {
  if (exhibit.kind === 'reading') return READING
  if (exhibit.kind !== 'table' && exhibit.kind !== 'list') return undefined
  const title = textWidth(exhibit.title, 18.5) + 70
  return Math.max(title, gridWidth(exhibit))
}

function gridWidth(exhibit: GridExhibit): number {
  const { rows, corners, corner, nest, columnHeadings, trends, styles, columns: surveyed, longestHeading } = exhibit
  // A long table that makes its cells when they are looked at knows its widest ones.
  const measured = [...rows.slice(0, MEASURED_ROWS), ...(surveyed === undefined ? longestRows(rows) : [])]
  const heads = nest === 'columns' ? corners : [corner]
  const headings = heads.map((label, k) => {
    const own = measured.filter(({ depth }) => nest === 'indented' || depth === k + 1)
    const texts = own.map(({ heading, depth }) => textWidth(heading.text, TEXT) + Math.max(0, depth - 1) * 16)
    return Math.max(textWidth(label, HEAD), textWidth(longestHeading ?? '', TEXT), ...texts) + HEADING_PADDING
  })
  const lowest = columnHeadings.at(-1) ?? []
  const columns = styles.map((_, c) => {
    const cells = [...measured.map(({ cells }) => cells[c]), surveyed?.[c].widest].map((cell) => {
      if (cell == null) return 0
      const drawn = cell.bar === null && cell.extent === null ? 0 : BAR
      const icon = cell.style.icon === null ? 0 : ICON
      const flag = cell.flag === null ? 0 : textWidth(cell.flag, TEXT) + 12
      return (cell.style.hide === 'value' ? 0 : textWidth(cell.text, TEXT)) + drawn + icon + flag
    })
    return Math.max(textWidth(lowest[c]?.text ?? '', HEAD), ...cells) + CELL_PADDING
  })
  return [...headings, ...columns, ...trends.map(() => SPARK.width + CELL_PADDING)].reduce((sum, w) => sum + w, 0)
}

/** The rows after the measured ones with the longest text of a column or heading; all are made. */
function longestRows(rows: GridExhibit['rows']): GridExhibit['rows'] {
  const longest = new Map<number, number>()
  const found = new Map<number, GridExhibit['rows'][number]>()
  const compare = (place: number, text: string, row: GridExhibit['rows'][number]): void => {
    if (text.length <= (longest.get(place) ?? 0)) return
    longest.set(place, text.length)
    found.set(place, row)
  }
  for (const row of rows.slice(MEASURED_ROWS)) {
    compare(-1, row.heading.text, row)
    for (const [c, cell] of row.cells.entries()) if (cell !== null) compare(c, cell.text, row)
  }
  return [...new Set(found.values())]
}
