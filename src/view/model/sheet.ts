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

/** A table for writers without HTML: every row with all its cells, headings first. */
export interface Sheet {
  /** The number of row heading columns. */
  headings: number
  columns: readonly { label: string; right: boolean }[]
  /**
   * The headings above them, outermost first: the first column and the number of columns of each.
   */
  tops: readonly (readonly { text: string; from: number; span: number }[])[]
  rows: readonly SheetRow[]
}

export interface SheetRow {
  kind: 'detail' | 'group' | 'subtotal' | 'total'
  /** The indent of its heading. */
  indent: number
  /** How many keys it is split by; 0 for a total, and for what has none. */
  depth: number
  cells: readonly SheetCell[]
}

export interface SheetCell {
  text: string
  look: CellStyle
  bar: Pick<Bar, 'from' | 'to' | 'beyond'> | null
  /** Whether the bar is drawn as a point, and at which of its ends. */
  dot: 'from' | 'to' | null
  flag: string | null
  statusText: string
  /** The position of its icon. */
  icon: ColumnStyle['icon']
  trend: Trend | null
  /** Whether a value is missing. */
  missing: boolean
  /** The cell that it shows; null for headings and for what is not one value. */
  of: Cell | RecordCell | null
  /** Whether it shows its status in place of its value. */
  isStatus: boolean
  /** Of a heading, the value of its key. */
  key: string | null
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
  of: null,
  isStatus: false,
  key: null,
}

/** A table, heatmap or list. */
export function gridSheet(exhibit: GridExhibit): Sheet {
  const corners = exhibit.nest === 'columns' ? exhibit.corners : [exhibit.corner]
  const headings = corners.length
  // The index of each cell column with the trend columns among them.
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
      const heading = { text, from: place(from), span }
      from += span
      return heading
    })
  })
  const rows = writtenRows(exhibit)
    .slice()
    .map(({ row, heads, own: level }): SheetRow => {
      const cells: SheetCell[] = columns.map(() => EMPTY)
      heads.forEach((text, k) => {
        cells[k] = k === level ? headingCell(row.heading, text) : { ...EMPTY, text }
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
      const indent = exhibit.nest === 'indented' ? Math.max(0, row.depth - 1) : 0
      return { kind, indent, depth: row.depth, cells }
    })
  return { headings, columns, tops, rows }
}

/** Records, a row each. */
export function recordsSheet({ columns, records }: RecordsExhibit): Sheet {
  return {
    headings: 1,
    columns: [
      { label: 'Row', right: !records.some(({ group }) => group !== undefined) },
      ...columns.map(({ label, numeric }) => ({ label, right: numeric })),
    ],
    tops: [],
    rows: records.flatMap(({ record, cells, group }): SheetRow[] => {
      const row: SheetRow = {
        kind: 'detail',
        indent: 0,
        depth: 0,
        cells: [{ ...EMPTY, text: String(record) }, ...cells.map((cell) => sheetCell(cell))],
      }
      if (group === undefined) return [row]
      return [
        { kind: 'group', indent: 0, depth: 0, cells: [{ ...EMPTY, text: group }, ...cells.map(() => EMPTY)] },
        row,
      ]
    }),
  }
}

/** A single record: a row for each column, beside averages and totals. */
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
      depth: 0,
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
    of: cell,
    isStatus: style.draw === 'status',
  }
}

function headingCell({ style: look, bar, flag, statusText, keys }: Heading, text: string): SheetCell {
  return { ...EMPTY, text, look, bar, flag, statusText, key: keys.at(-1)?.value ?? null }
}
