import type { PackedColor } from '../color/color.js'
import type { NumberFormat } from '../format/format.js'
import type { LevelName, Status } from '../spec/rules.js'
import type { CellStyle } from '../style/cell-style.js'
import type { Legend } from '../style/legend.js'
import type { Bar } from '../style/painting.js'

/** What is shown, whatever the medium: views print it and decide nothing. */
export interface Page {
  title: string
  note: string | null
  /** BCP 47. */
  locale: string
  /** ISO 8601, or null where there are no dates. */
  asOf: string | null
  asOfText: string | null
  /** Source files, as named. */
  sources: readonly string[]
  /** What each source holds, beside what counts. */
  controls: readonly SourceControl[]
  parameters: readonly PageParameter[]
  /** The condition that narrows the whole report, as text. */
  where: string | null
  statuses: Readonly<Record<string, Status>>
  /** Own drawings by name, as data addresses. */
  icons: Readonly<Record<string, string>>
  exhibits: readonly Exhibit[]
  /** What was said of the whole report. */
  messages: readonly string[]
}

/** Control totals of a source. */
export interface SourceControl {
  source: string
  /** The file, table or query. */
  from: string
  rows: number
  /** Rows without a date, where there are dates. */
  undated: number
  /** Rows that the report's own condition leaves out. */
  filtered: number
  /** Rows dated after the report's date. */
  late: number
  /** Keys that home does not have. */
  unmatched: readonly { key: string; words: readonly string[] }[]
  /**
   * Keys and periods that home has rows for and it has none, whatever the report narrows; periods
   * are empty where one has no dates.
   */
  lacking: readonly { keys: Readonly<Record<string, string>>; periods: readonly string[] }[]
  /** Rows that have nothing in a column that is added up. */
  blank: readonly { column: string; rows: number }[]
  /** Over all rows, whatever the report narrows; null is missing. */
  sums: readonly { measure: string; label: string; value: number | null; text: string }[]
  /** All of it in one line. */
  text: string
}

export interface PageParameter {
  name: string
  label: string
  value: number
  text: string
}

/** What a page shows: one of these, by its `kind`. */
export type Exhibit = GridExhibit | ChartExhibit | CardsExhibit | RecordsExhibit | ReadingExhibit

/** What every exhibit has, whatever it shows. */
export interface ExhibitHead {
  name: string
  title: string
  note: string | null
  /** The period shown, for readers; empty where there are no dates. */
  periodText: string
  /** A heading over it and those after it. */
  section: string | null
  /** Placed at the side of the exhibit before it. */
  beside: boolean
  /** Shown without paint, too, at its side. */
  besideUnpainted: boolean
  legends: readonly Legend[]
  messages: readonly string[]
  /** The keys that its cells can be split by, in their order. */
  keys: { row: readonly string[]; column: readonly string[] }
}

/** Keys of a cell, outermost first: null is the missing group. */
export type Keys = readonly { name: string; value: string | null }[]

export type { LevelName } from '../spec/rules.js'

/** One measure at one crossing. */
export interface Cell {
  row: Keys
  column: Keys
  level: { row: LevelName; column: LevelName }
  measure: string
  measureLabel: string
  /** Null is missing. */
  value: number | null
  /** As shown to readers; empty where missing. */
  text: string
  style: CellStyle
  bar: Bar | null
  /** Where a bar or dot that the exhibit asks for lies, where no rule gives one; 0 to 1. */
  extent: Pick<Bar, 'from' | 'to' | 'beyond'> | null
  /** Its words, values written in; null without any, or where one is missing. */
  flag: string | null
  /** The words of its status, empty without one. */
  statusText: string
  /** All its keys as readers write them: `Coast, Larkmoor, Mar 2024`; `Total` without any. */
  name: string
  /** All its keys as readers write them, outermost first. */
  places: readonly string[]
}

/**
 * A cell in one line, for hover and assistive technology where its number is hidden: keys, value
 * and status.
 */
export function hintOf({ places, measureLabel, text, statusText }: Cell | RecordCell): string {
  const said = `${places.length === 0 ? 'Total' : places.join(', ')}: ${measureLabel} ${text === '' ? 'missing' : text}`
  return statusText === '' ? said : `${said}, ${statusText}`
}

/** One column of one row of the source: a number, a text, or a date in ISO 8601. */
export interface RecordCell extends Omit<Cell, 'value'> {
  value: number | string | null
}

/** A heading with the cells that stand under or beside it. */
export interface Heading {
  keys: Keys
  level: LevelName
  text: string
  style: CellStyle
  bar: Bar | null
  flag: string | null
  statusText: string
}

export interface ColumnHeading extends Heading {
  /** How many columns it spans. */
  span: number
  /** Whether numbers stand under it, right aligned. */
  numeric: boolean
}

export interface Row {
  heading: Heading
  /** 0 for a total, 1 for the outermost key. */
  depth: number
  /** A group's own row, above its details. */
  group: boolean
  cells: readonly (Cell | null)[]
  /** One for each of the exhibit's trends. */
  trends: readonly (Trend | null)[]
}

/** Values along a key, drawn as a line. */
export interface Trend {
  measure: string
  measureLabel: string
  /** Whose values they are: `Larkmoor`. */
  name: string
  points: readonly { keys: Keys; label: string; value: number | null; text: string }[]
  /** Places of the last value, the lowest and the highest; -1 where there is none. */
  last: number
  lowest: number
  highest: number
  /** All that hovering shows, in one line. */
  hint: string
}

/** How a column of cells is drawn. */
export interface ColumnStyle {
  draw: 'number' | 'bar' | 'point' | 'block'
  icon: 'before' | 'after' | 'alone'
}

/** A table, a heatmap (the same cells, drawn without gaps), or the cells of a status as a list. */
export interface GridExhibit extends ExhibitHead {
  kind: 'table' | 'heatmap' | 'list'
  /** What the row headings are: `Region, shop`. */
  corner: string
  /** The same, a key each. */
  corners: readonly string[]
  columnHeadings: readonly (readonly ColumnHeading[])[]
  /** One for each column of cells. */
  styles: readonly ColumnStyle[]
  /** Columns of lines, and the column of cells before which each stands. */
  trends: readonly { label: string; at: number }[]
  rows: readonly Row[]
  /** Nested rows under each other, or each key in a column of its own. */
  nest: 'indented' | 'columns'
  spacing: 'close' | 'normal' | 'wide'
}

/** A chart: places along an axis, series, and a point for each. */
export interface ChartExhibit extends ExhibitHead {
  kind: 'chart'
  /** The key along the axis. */
  along: string
  measureLabel: string
  /** The places along the axis, in their order. */
  places: readonly ChartPlace[]
  /** One chart a value of a key; one without a name where there is no such key. */
  panels: readonly { label: string; keys: Keys }[]
  series: readonly ChartSeries[]
  /** By panel, then series, then place. */
  points: readonly ChartPoint[]
  stacked: boolean
  horizontal: boolean
  /** Whether the axis is time: labels may then be thinned, for readers fill in the rest. */
  timed: boolean
  references: readonly ReferenceLine[]
  /** How values along the axis are written: short, with `digits` behind the point at least. */
  axis: { format: NumberFormat; digits: number; locale: string }
}

/** A line across a chart at one value. */
export interface ReferenceLine {
  value: number
  text: string
  label: string
  /**
   * The panel that it is of, where panels have lines of their own; left out, it runs through all.
   */
  panel?: number
}

export interface ChartPlace {
  label: string
  /** The year or other heading above the label; empty where it adds nothing. */
  outer: string
}

export interface ChartSeries {
  label: string
  draw: 'bar' | 'line' | 'point' | 'mark'
  /** How values are written at its marks; `fit` is in full where that fits, else short. */
  labels: 'full' | 'short' | 'fit' | 'none'
  /** Its colour where no rule gives one and, where needed for contrast, its outline. */
  mark: PackedColor
  outline: PackedColor | null
}

export interface ChartPoint extends Cell {
  /** Where it stands among panels, series and places. */
  panel: number
  series: number
  place: number
  /** The mark's colour and, where needed for contrast, its outline. */
  mark: PackedColor
  outline: PackedColor | null
  /** Whether a rule coloured it. */
  painted: boolean
}

/** Single numbers, large. */
export interface CardsExhibit extends ExhibitHead {
  kind: 'cards'
  cards: readonly Card[]
}

/** One card: a value, what it is compared with, and a line. */
export interface Card {
  label: string
  cell: Cell
  versus: Cell | null
  /**
   * Against `versus`, in words: `€1,200 (+4%) above last year`; null where one of them is missing.
   */
  change: { icon: 'up' | 'sideways' | 'down'; text: string } | null
  note: string | null
  trend: Trend | null
}

/** Rows of the source. */
export interface RecordsExhibit extends ExhibitHead {
  kind: 'records'
  columns: readonly { name: string; label: string; numeric: boolean }[]
  records: readonly PageRecord[]
  /** How many rows there are in all. */
  count: number
  /** Each shown by itself. */
  oneAtATime: boolean
  /** Of all rows, a text a column; empty where it has none. */
  averages: readonly string[]
  totals: readonly string[]
}

export interface PageRecord {
  /** The row in its source, counted from 1. */
  record: number
  cells: readonly RecordCell[]
  /** Whether a rule painted something of it. */
  painted: boolean
}

/** What the cells say, in sentences. */
export interface ReadingExhibit extends ExhibitHead {
  kind: 'reading'
  sentences: readonly { text: string; style: CellStyle | null; statusText: string }[]
  /** The cells that were read. */
  cells: readonly Cell[]
}

/** Calls `visit` on every cell of an exhibit, in reading order. */
export function eachCell(exhibit: Exhibit, visit: (cell: Cell | RecordCell) => void): void {
  switch (exhibit.kind) {
    case 'chart':
      for (const point of exhibit.points) visit(point)
      return
    case 'cards':
      for (const { cell, versus } of exhibit.cards) {
        visit(cell)
        if (versus !== null) visit(versus)
      }
      return
    case 'records':
      for (const { cells } of exhibit.records) for (const cell of cells) visit(cell)
      return
    case 'reading':
      for (const cell of exhibit.cells) visit(cell)
      return
    default:
      for (const { cells } of exhibit.rows) for (const cell of cells) if (cell !== null) visit(cell)
  }
}

/** Every cell of an exhibit, in reading order. */
export function cellsOf(exhibit: Exhibit): readonly (Cell | RecordCell)[] {
  const cells: (Cell | RecordCell)[] = []
  eachCell(exhibit, (cell) => cells.push(cell))
  return cells
}
