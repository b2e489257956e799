import type {
  Cell,
  ColumnStyle,
  GridExhibit,
  Heading,
  PageRecord,
  RecordCell,
  RecordsExhibit,
  Trend,
} from '../../page/page.js'
import { type CellStyle, PLAIN_STYLE } from '../../style/cell-style.js'
import type { Bar } from '../../style/painting.js'
import { writtenRows } from './rows.js'

/**
 * A table as views draw it that have no tables of their own: every row with all its cells, headings
 * first.
 */
export interface Sheet {
  /** How many of the columns are headings of rows. */
  headings: number
  columns: readonly { label: string; right: boolean }[]
  /** Headings above those, from the outermost: where each begins, and how many columns it spans. */
  tops: readonly (readonly { text: string; from: number; span: number }[])[]
  rows: readonly SheetRow[]
}

export interface SheetRow {
  kind: 'detail' | 'group' | 'subtotal' | 'total'
  /** How far its heading is indented. */
  indent: number
  cells: readonly SheetCell[]
}

export interface SheetCell {
  text: string
  look: CellStyle
  bar: Pick<Bar, 'from' | 'to' | 'beyond'> | null
  /** Whether the bar is drawn as a dot, and at which of its ends. */
  dot: 'from' | 'to' | null
  flag: string | null
  statusText: string
  /** Where its icon stands. */
  icon: ColumnStyle['icon']
  trend: Trend | null
  /** Whether there is no value where one belongs. */
  missing: boolean
}

/** A cell with nothing in it. */
export const EMPTY: SheetCell = {
  text: '',
  look: PLAIN_STYLE,
  bar: null,
  dot: null,
  flag: null,
  statusText: '',
  icon: 'before',
  trend: null,
  missing: false,
}

/** A table, heatmap or list. */
export function gridSheet(exhibit: GridExhibit): Sheet {
  const corners = exhibit.nest === 'columns' ? exhibit.corners : [exhibit.corner]
  const headings = corners.length
  // Where each column of cells stands once the columns of lines are among them.
  const place = (c: number): number => headings + c + exhibit.trends.filter(({ at }) => at <= c).length
  const last = exhibit.columnHeadings.at(-1) ?? []
  const width = exhibit.styles.length + exhibit.trends.length
  const columns = Array.from({ length: headings + width }, (_, i) => ({
    label: corners[i] ?? '',
    right: i >= headings,
  }))
  let at = 0
  for (const { text, span } of last) {
    columns[place(at)] = { label: text, right: true }
    at += span
  }
  exhibit.trends.forEach(({ label, at: before }, k) => {
    columns[headings + before + k] = { label, right: false }
  })
  const tops = exhibit.columnHeadings.slice(0, -1).map((row) => {
    let from = 0
    return row.map(({ text, span }) => {
      const own = { text, from: place(from), span }
      from += span
      return own
    })
  })
  const rows = writtenRows(exhibit).map(({ row, heads, own }): SheetRow => {
    const cells: SheetCell[] = columns.map(() => EMPTY)
    heads.forEach((text, k) => {
      cells[k] = k === own ? headingCell(row.heading, text) : { ...EMPTY, text }
    })
    row.cells.forEach((cell, c) => {
      if (cell !== null) cells[place(c)] = sheetCell(cell, exhibit.styles[c])
    })
    row.trends.forEach((trend, k) => {
      cells[headings + exhibit.trends[k].at + k] = { ...EMPTY, trend }
    })
    const kind = row.group
      ? 'group'
      : row.heading.level === 'detail'
        ? 'detail'
        : row.depth === 0
          ? 'total'
          : 'subtotal'
    return { kind, indent: exhibit.nest === 'indented' ? Math.max(0, row.depth - 1) : 0, cells }
  })
  return { headings, columns, tops, rows }
}

/** Records, a row each. */
export function recordsSheet({ columns, records }: RecordsExhibit): Sheet {
  return {
    headings: 1,
    columns: [{ label: 'Row', right: true }, ...columns.map(({ label, numeric }) => ({ label, right: numeric }))],
    tops: [],
    rows: records.map(({ record, cells }) => ({
      kind: 'detail',
      indent: 0,
      cells: [{ ...EMPTY, text: String(record) }, ...cells.map((cell) => sheetCell(cell))],
    })),
  }
}

/** One record by itself: a row a column, beside the average and the total of all. */
export function recordSheet({ columns, averages, totals }: RecordsExhibit, { record, cells }: PageRecord): Sheet {
  return {
    headings: 1,
    columns: [
      { label: '', right: false },
      { label: `Row ${record}`, right: true },
      { label: 'Average', right: true },
      { label: 'Total', right: true },
    ],
    tops: [],
    rows: columns.map(({ label }, c) => ({
      kind: 'detail',
      indent: 0,
      cells: [
        { ...EMPTY, text: label },
        sheetCell(cells[c]),
        { ...EMPTY, text: averages[c] },
        { ...EMPTY, text: totals[c] },
      ],
    })),
  }
}

export function sheetCell(cell: Cell | RecordCell, style: ColumnStyle = { draw: 'number', icon: 'before' }): SheetCell {
  const { text, style: look, flag, statusText, value } = cell
  const bar = cell.bar ?? cell.extent
  const negative = typeof value === 'number' && value < 0
  return {
    ...EMPTY,
    text,
    look,
    bar,
    dot: style.draw === 'point' && bar !== null ? (negative ? 'from' : 'to') : null,
    flag,
    statusText,
    icon: style.icon,
    missing: value === null,
  }
}

function headingCell({ style: look, bar, flag, statusText }: Heading, text: string): SheetCell {
  return { ...EMPTY, text, look, bar, flag, statusText }
}
