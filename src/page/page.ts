import type { PackedColor } from '../color/color.js'
import type { NumberFormat } from '../format/format.js'
import type { LevelName, Status } from '../spec/rules.js'
import type { CellStyle } from '../style/cell-style.js'
import type { Legend } from '../style/legend.js'
import type { Bar } from '../style/painting.js'
import type { SinceHead, Was } from './since.js'
import type { Strip } from './strip.js'

export type { Move, SinceHead, Was } from './since.js'
export type { Strip, StripPart } from './strip.js'

/** The content of a page, independent of the output. Writers print it and decide nothing. */
export interface Page {
  title: string
  note: string | null
  /** BCP 47. */
  locale: string
  /** ISO 8601; null without dates. */
  asOf: string | null
  asOfText: string | null
  /** Source files, as named in the report. */
  sources: readonly string[]
  /** Control totals of each source. */
  controls: readonly SourceControl[]
  parameters: readonly PageParameter[]
  /** The condition of the whole report, as text. */
  where: string | null
  statuses: Readonly<Record<string, Status>>
  /**
   * How the numbers of each measure are printed; without `digits`, with as many as a column needs.
   */
  formats: Readonly<Record<string, NumberFormat>>
  /** Icons of the report by name, as data URLs. */
  icons: Readonly<Record<string, string>>
  /** The statuses of one measure in one band; null if the report has none. */
  strip: Strip | null
  exhibits: readonly Exhibit[]
  /** Messages about the whole report. */
  messages: readonly string[]
}

/** Control totals of a source. */
export interface SourceControl {
  source: string
  /** The file, table or query. */
  from: string
  rows: number
  /** Rows without a date; 0 without dates. */
  undated: number
  /** Rows that the condition of the report excludes. */
  filtered: number
  /** Rows dated after the report's date. */
  late: number
  /** Keys that the home source does not have. */
  unmatched: readonly { key: string; words: readonly string[] }[]
  /**
   * Keys and periods for which home has rows and this source has none, whatever the filters;
   * periods are empty if one of them has no dates.
   */
  lacking: readonly { keys: Readonly<Record<string, string>>; periods: readonly string[] }[]
  /** Rows without a value in a summed column. */
  blank: readonly { column: string; rows: number }[]
  /** Over all rows, whatever the filters; null is missing. */
  sums: readonly { measure: string; label: string; value: number | null; text: string }[]
  /** The control totals in one line. */
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

/** The parts that every exhibit has. */
export interface ExhibitHead {
  name: string
  title: string
  note: string | null
  /** The period for readers; empty without dates. */
  periodText: string
  /** What changed since an earlier date; left out if the exhibit is not compared with one. */
  since?: SinceHead
  /** The heading of a section that begins here. */
  section: string | null
  /** Placed beside the exhibit before it. */
  beside: boolean
  /** Never placed beside another by itself, however narrow it is. */
  alone: boolean
  /** Shown without colours beside it, too. */
  besideUnpainted: boolean
  legends: readonly Legend[]
  messages: readonly string[]
  /** The keys that its cells are split by, in order. */
  keys: { row: readonly string[]; column: readonly string[] }
}

/** Keys of a cell, outermost first: null is the missing group. */
export type Keys = readonly { name: string; value: string | null }[]

export type { LevelName } from '../spec/rules.js'

/** A cell: one measure for one row and column. */
export interface Cell {
  row: Keys
  column: Keys
  level: { row: LevelName; column: LevelName }
  measure: string
  measureLabel: string
  /** Null is missing. */
  value: number | null
  /** The value for readers; empty if missing. */
  text: string
  style: CellStyle
  bar: Bar | null
  /** The bar or point of the exhibit's column, if no rule draws a bar; 0 to 1. */
  extent: Pick<Bar, 'from' | 'to' | 'beyond'> | null
  /**
   * The flag with its values, after the sign of a changed status; null without both, or if a value
   * of the flag is missing.
   */
  flag: string | null
  /** The label of its status, empty without one. */
  statusText: string
  /** What it was at the date that its exhibit is compared with, if its status has changed. */
  was?: Was
  /**
   * How a projected value is found: a finished period is itself, the course of last year, or days.
   */
  method?: 'finished' | 'lastYear' | 'days'
  /** The date of a cell that shows an earlier state, ISO 8601. */
  date?: string
  /** All its keys for readers: `Coast, Larkmoor, Mar 2024`; `Total` without keys. */
  name: string
  /** All its keys for readers, outermost first. */
  places: readonly string[]
}

/**
 * A cell in one line, for tooltips and assistive technology where its number is hidden: keys, value
 * and status.
 */
export function hintOf({ places, measureLabel, text, statusText }: Cell | RecordCell): string {
  const said = `${places.length === 0 ? 'Total' : places.join(', ')}: ${measureLabel} ${text === '' ? 'missing' : text}`
  return statusText === '' ? said : `${said}, ${statusText}`
}

/** One column of one source row: a number, a text, or an ISO 8601 date. */
export interface RecordCell extends Omit<Cell, 'value'> {
  value: number | string | null
}

/** A heading of rows or columns. */
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
  /** Whether its columns hold numbers, which are right-aligned. */
  numeric: boolean
}

export interface Row {
  heading: Heading
  /** 0 for a total, 1 for the outermost key. */
  depth: number
  /** A row of a group, above its details. */
  group: boolean
  /** Its number among the details, in a table that makes its cells when they are looked at. */
  place?: number
  /** Of long tables made when they are looked at. */
  readonly cells: readonly (Cell | null)[]
  /** One for each of the exhibit's trends. */
  trends: readonly (Trend | null)[]
}

/** Values along a key, drawn as a line. */
export interface Trend {
  measure: string
  measureLabel: string
  /** What the values belong to: `Larkmoor`. */
  name: string
  points: readonly TrendPoint[]
  /** Indexes of the last value, the lowest and the highest; -1 if there is none. */
  last: number
  lowest: number
  highest: number
  /** The tooltip, in one line. */
  hint: string
}

/** One place of a trend. */
export interface TrendPoint {
  keys: Keys
  label: string
  value: number | null
  text: string
  /** Whether its period ends after the date of the report. */
  unfinished: boolean
}

/** How a column of cells is drawn. */
export interface ColumnStyle {
  /** In a column of statuses the text of a cell is the label of its status. */
  draw: 'number' | 'bar' | 'point' | 'block' | 'status'
  icon: 'before' | 'after' | 'alone'
  /** Whether a rule may give its cells a second icon: then each has room for one. */
  second?: true
}

/** A table, a heatmap (the same cells, drawn without gaps), or the cells of a status as a list. */
export interface GridExhibit extends ExhibitHead {
  kind: 'table' | 'heatmap' | 'list'
  /** The label of the row headings: `Region, shop`. */
  corner: string
  /** The same, one for each key. */
  corners: readonly string[]
  columnHeadings: readonly (readonly ColumnHeading[])[]
  /** One for each column of cells. */
  styles: readonly ColumnStyle[]
  /** Columns of trends, each with the index of the cell column after it. */
  trends: readonly { label: string; at: number }[]
  rows: readonly Row[]
  /** Nested rows are indented, or each key has a column. */
  nest: 'indented' | 'columns'
  spacing: 'close' | 'normal' | 'wide'
  /** For each column of a long table, what a writer would find by making all of its cells. */
  columns?: readonly ColumnSurvey[]
  /** The same of its headings: the longest text of a detail. Set where `columns` is. */
  longestHeading?: string
}

/** The styles of a column, and its widest cell, as far as a few cells show it. */
export interface ColumnSurvey {
  styles: readonly CellStyle[]
  widest: Cell | null
}

/** A chart: places along an axis, series, and a point for each. */
export interface ChartExhibit extends ExhibitHead {
  kind: 'chart'
  /** The key along the axis. */
  along: string
  measureLabel: string
  /** The places along the axis, in their order. */
  places: readonly ChartPlace[]
  /** The panels; a single one without a name if there is no such key. */
  panels: readonly { label: string; keys: Keys }[]
  series: readonly ChartSeries[]
  /** Sorted by panel, series, place. */
  points: readonly ChartPoint[]
  stacked: boolean
  horizontal: boolean
  /** Whether the axis is time: then some labels may be left out, as readers can fill them in. */
  timed: boolean
  references: readonly ReferenceLine[]
  /** How values on the axis are printed: short, with at least `digits` after the point. */
  axis: { format: NumberFormat; digits: number; locale: string }
}

/** A reference line across a chart at one value. */
export interface ReferenceLine {
  value: number
  text: string
  label: string
  /** Its panel, if panels have lines of their own; left out, it crosses all panels. */
  panel?: number
}

export interface ChartPlace {
  label: string
  /** The year or other heading above the label; empty where it adds nothing. */
  outer: string
  /** Set where that is the group of the place: of a chart along several keys. */
  nested?: true
  /** The day up to which an unfinished period has data: `17`; empty for others. */
  until: string
}

export interface ChartSeries {
  label: string
  draw: 'bar' | 'line' | 'point' | 'mark'
  /**
   * How values are printed at marks; `fit` is in full if that fits, else short; `ends` are the
   * first and the last value of each series.
   */
  labels: 'full' | 'short' | 'fit' | 'ends' | 'none'
  /** Its colour without a rule and, if contrast needs one, its outline. */
  mark: PackedColor
  outline: PackedColor | null
}

export interface ChartPoint extends Cell {
  /** Its panel, series and place. */
  panel: number
  series: number
  place: number
  /** The colour of the mark and, if contrast needs one, its outline. */
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

/** One card: a value, the value it is compared with, and a trend. */
export interface Card {
  label: string
  cell: Cell
  versus: Cell | null
  /**
   * The comparison with `versus` in words: `€1,200 (+4%) above last year`; null if one value is
   * missing.
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
  /** How many rows there are, before the first n are taken. */
  count: number
  /** Whether each is shown by itself. */
  oneAtATime: boolean
  /** Means or sums over all rows, a text for each column; empty if it has none. */
  averages: readonly string[]
  totals: readonly string[]
}

export interface PageRecord {
  /** The row in its source, counted from 1. */
  record: number
  /** The heading of the group that begins with it: `Coast · 12`. */
  group?: string
  cells: readonly RecordCell[]
  /** Whether a rule painted something of it. */
  painted: boolean
}

/** Sentences about the cells of an exhibit. */
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
