import type { PackedColor } from '../color/color.js'
import type { Legend } from '../look/legend.js'
import type { Look } from '../look/look.js'
import type { Bar } from '../look/painting.js'
import type { Status } from '../look/style.js'

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
  notes: readonly string[]
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

export type Exhibit = GridExhibit | ChartExhibit

interface ExhibitHead {
  name: string
  title: string
  note: string | null
  /** The period shown, for readers; empty where there are no dates. */
  periodText: string
  /** Placed at the side of the exhibit before it. */
  beside: boolean
  legends: readonly Legend[]
  notes: readonly string[]
}

/** Keys of a cell, outermost first: null is the missing group. */
export type Keys = readonly { name: string; value: string | null }[]

export type LevelName = 'detail' | 'subtotal' | 'total'

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
  look: Look
  bar: Bar | null
  /** Its words, values written in; null without any, or where one is missing. */
  flag: string | null
  /** The words of its status, empty without one. */
  statusText: string
  /** Its innermost keys as readers write them: `Roses, Mar 2024`. */
  name: string
  /** For hover and assistive technology where the number is hidden: keys and value in one line. */
  hint: string
}

/** A heading with the cells that stand under or beside it. */
export interface Heading {
  keys: Keys
  level: LevelName
  text: string
  look: Look
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
}

/** A table, or a heatmap: the same cells, drawn without gaps. */
export interface GridExhibit extends ExhibitHead {
  kind: 'table' | 'heatmap'
  /** What the row headings are: `Region, shop`. */
  corner: string
  columnHeadings: readonly (readonly ColumnHeading[])[]
  rows: readonly Row[]
}

export interface ChartExhibit extends ExhibitHead {
  kind: 'chart'
  /** The key along the axis. */
  along: string
  measureLabel: string
  points: readonly ChartPoint[]
  /** Whether the axis is time: labels may then be thinned, for readers fill in the rest. */
  timed: boolean
  lines: readonly { value: number; text: string; label: string }[]
  labels: boolean
  /** Short texts for the value axis. */
  axisText(value: number): string
}

export interface ChartPoint extends Cell {
  label: string
  /** The year or other heading above the label; empty where it adds nothing. */
  outer: string
  /** The mark's colour and, where needed for contrast, its outline. */
  mark: PackedColor
  outline: PackedColor | null
}
