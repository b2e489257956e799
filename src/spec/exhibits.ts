// Made by scripts/schema/make.js from the schema of reports.
// Change that, then run `npm run schema`.
import type { Limit } from './rules.js'

export type KeySpec =
  | string
  | {
      /** A column, or year quarter month week day monthOfYear weekday. */
      key: string
      /** These first, in this order; the others behind. */
      order?: readonly (string | number | boolean)[] | undefined
      /** How many are shown: the first by the sort, or by the first measure. */
      first?: number | undefined
      /** What the others together are called; left out, they are not shown. */
      others?: string | undefined
    }

export type TotalsSpec =
  | 'top'
  | 'bottom'
  | 'none'
  | {
      /** Where the row of totals stands; default: none. */
      rows?: 'top' | 'bottom' | 'none' | undefined
      /** Where the column of totals stands; default: none. */
      columns?: 'left' | 'right' | 'none' | undefined
      /** Default: where there are totals of rows. */
      subtotals?: boolean | undefined
    }

export interface TrendSpec {
  /** The measure; default: the first shown, or that of the card. */
  of?: string | undefined
  /** The time, or another key, along the line. */
  along: string
  /** Default: the exhibit's own. */
  period?: string | number | undefined
}

export type ColumnSpec =
  | string
  | {
      /** A measure. */
      show?: string | undefined
      /** Instead of a measure: a line of its values, one a row. */
      trend?: TrendSpec | undefined
      /** The heading; default: the measure's label. */
      label?: string | undefined
      /**
       * Beside the number a bar, or a point on a line; block fills the whole cell; default:
       * number.
       */
      draw?: 'number' | 'bar' | 'point' | 'block' | undefined
      /** Where an icon stands; alone hides the number; default: before. */
      icon?: 'before' | 'after' | 'alone' | undefined
    }

export interface TableSpec {
  /**
   * Keys from the outermost in: columns, or year quarter month week day monthOfYear
   * weekday.
   */
  rows: KeySpec | readonly KeySpec[]
  /**
   * Keys from the outermost in: columns, or year quarter month week day monthOfYear
   * weekday.
   */
  columns?: KeySpec | readonly KeySpec[] | undefined
  /** Measures, how they are drawn, and lines of their trend. */
  show: ColumnSpec | readonly ColumnSpec[]
  /** Default: none. */
  totals?: TotalsSpec | undefined
  /** A shown measure or a row key; with a minus from the highest, or from the last. */
  sort?: string | readonly string[] | undefined
  /**
   * Nested rows under each other, or each key in a column of its own; default: indented.
   */
  nest?: 'indented' | 'columns' | undefined
  /** Between rows; default: normal. */
  spacing?: 'close' | 'normal' | 'wide' | undefined
}

export type SeriesSpec =
  | string
  | {
      /** A measure. */
      show: string
      /** Mark is a short line across the place of a bar, as for a plan; default: bar. */
      draw?: 'bar' | 'line' | 'point' | 'mark' | undefined
      /**
       * Values written at its marks: full as in tables, short with as many digits as tell
       * them apart, none; true: full where that fits, else short; default: true at bars of a
       * single series.
       */
      labels?: 'full' | 'short' | 'none' | boolean | undefined
      /** In the legend; default: the measure's label. */
      label?: string | undefined
    }

export interface ChartSpec {
  /** The key along the axis. */
  along:
    | string
    | {
        /** A column, or year quarter month week day monthOfYear weekday. */
        key: string
        /** These first, in this order; the others behind. */
        order?: readonly (string | number | boolean)[] | undefined
        /** How many are shown: the first by the sort, or by the first measure. */
        first?: number | undefined
        /** What the others together are called; left out, they are not shown. */
        others?: string | undefined
      }
  /** Measures of one unit, and how each is drawn. */
  show: SeriesSpec | readonly SeriesSpec[]
  /** A key: each of its values has marks of its own. */
  series?: string | undefined
  /** A key: each of its values has a small chart of its own, all on one scale. */
  panels?: string | undefined
  /** Bars on top of each other instead of side by side. */
  stacked?: boolean | undefined
  /** Bars from left to right. */
  horizontal?: boolean | undefined
  /**
   * Reference lines across the chart: a number, a parameter, a measure that is one
   * value, or a statistic such as mean(revenue).
   */
  references?:
    | readonly {
        /** A number, or an expression in which value is the judged value. */
        at: Limit
        /** Written at it; default: its words. */
        label?: string | undefined
      }[]
    | undefined
  /**
   * Values written at the bars: full, short or none; true: full where that fits, else
   * short; default: true for a single series.
   */
  labels?: 'full' | 'short' | 'none' | boolean | undefined
}

export interface CardSpec {
  /** A measure. */
  show: string
  /** The caption; default: the measure's label. */
  label?: string | undefined
  /** The measure that it is compared with. */
  versus?: string | undefined
  /** Words with formatted values in them: '{growth} on last year'. */
  note?: string | undefined
  /** A line under the value. */
  trend?: TrendSpec | undefined
}

export interface RecordsSpec {
  /**
   * Columns of the first source, its fields, and measures, which are then of one row.
   */
  show: string | readonly string[]
  /** A shown column; with a minus from the highest. */
  sort?: string | undefined
  /** How many are shown; rules compare with all; default: 200. */
  first?: number | undefined
  /** One record at a time, beside the averages and totals of all. */
  oneAtATime?: boolean | undefined
}

export interface ListSpec {
  /** The statuses whose cells are listed. */
  status: string | readonly string[]
  /** The measure whose cells are judged. */
  of: string
  /**
   * Keys from the outermost in: columns, or year quarter month week day monthOfYear
   * weekday.
   */
  by: KeySpec | readonly KeySpec[]
  /** More measures beside it. */
  show?: string | readonly string[] | undefined
  /** Default: from the lowest where higher is better, else from the highest. */
  sort?: string | readonly string[] | undefined
}

export interface ReadingSpec {
  /** The measure that is read. */
  of: string
  /**
   * Keys from the outermost in: columns, or year quarter month week day monthOfYear
   * weekday.
   */
  by: KeySpec | readonly KeySpec[]
  /** The time of its strong and weak periods; default: month where there are dates. */
  along?: string | undefined
  /** The measure that it is compared with. */
  versus?: string | undefined
}

export interface ExhibitSpec {
  /** An id, unique; made up when left out. */
  name?: string | undefined
  /** Its heading; default: its name. */
  title?: string | undefined
  /** Words under it. */
  note?: string | undefined
  /** A heading over this exhibit and those after it. */
  section?: string | undefined
  /** What it shows; default: the report's own period. */
  period?: string | number | undefined
  /** An expression. */
  where?: string | undefined
  /** Numbers taken off the page, kept for hover and assistive technology. */
  hide?: 'value' | undefined
  /** The same without colours at its side. */
  besideUnpainted?: boolean | undefined
  /** The exhibit before it, at whose side it is placed. */
  beside?: string | undefined
  /** Measures by keys, with totals. */
  table?: TableSpec | undefined
  /** A table of coloured fields without gaps. */
  heatmap?: TableSpec | undefined
  /** Measures along a key, as bars, lines, points or marks. */
  chart?: ChartSpec | undefined
  /** Single figures. */
  cards?: readonly CardSpec[] | undefined
  /** Rows of the first source as they are. */
  records?: RecordsSpec | undefined
  /** The cells of some statuses, by name. */
  list?: ListSpec | undefined
  /** What a measure says, in sentences. */
  reading?: ReadingSpec | undefined
}
/** The kinds of exhibits, by their keys. */
export type ExhibitKindKey = 'table' | 'heatmap' | 'chart' | 'cards' | 'records' | 'list' | 'reading'
