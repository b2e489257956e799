// Made by scripts/schema/make.js from the schema of reports.
// Change that, then run `npm run schema`.
import type { Limit } from './rules.js'

export type KeySpec =
  | string
  | {
      /** A column, or year quarter month week day monthOfYear weekday. */
      key: string
      /** These values first, in this order. */
      order?: readonly (string | number | boolean)[] | undefined
      /**
       * How many are shown: the first by the sort order, or by the first measure, in each
       * group, or of the whole table as in { count: 10, of: table }.
       */
      first?:
        | number
        | {
            /** How many. */
            count: number
            /** Over all groups of the table. */
            of: 'table'
          }
        | undefined
      /** The label of the others together; left out, they are not shown. */
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
      /** Default: if there are totals of rows. */
      subtotals?: boolean | undefined
    }

export interface TrendSpec {
  /** The measure; default: the first shown, or that of the card. */
  of?: string | undefined
  /** The time unit, or another key, along the line. */
  along: string
  /** Default: the exhibit's own. */
  period?: string | number | undefined
}

export type ColumnSpec =
  | string
  | {
      /** A measure. */
      show?: string | undefined
      /** Instead of a measure: a trend line in each row. */
      trend?: TrendSpec | undefined
      /** Instead of a measure: the status of one, as its icon and label. */
      status?: string | undefined
      /** The heading; default: the measure's label. */
      label?: string | undefined
      /**
       * Beside the number a bar, or a point on a line; block fills the whole cell; default:
       * number.
       */
      draw?: 'number' | 'bar' | 'point' | 'block' | undefined
      /** The position of the icon; alone hides the number; default: before. */
      icon?: 'before' | 'after' | 'alone' | undefined
    }

export interface TableSpec {
  /**
   * Keys, outermost first: columns, or year quarter month week day monthOfYear weekday.
   */
  rows: KeySpec | readonly KeySpec[]
  /**
   * Keys, outermost first: columns, or year quarter month week day monthOfYear weekday.
   */
  columns?: KeySpec | readonly KeySpec[] | undefined
  /** Measures, how they are drawn, and lines of their trend. */
  show: ColumnSpec | readonly ColumnSpec[]
  /** Default: none. */
  totals?: TotalsSpec | undefined
  /** A shown measure or a row key; with a minus in descending order. */
  sort?: string | readonly string[] | undefined
  /**
   * Indented: nested rows; columns: each key in a column of its own; default: indented.
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
       * Values written at its marks: full as in tables, short with as many digits as
       * distinguish them, ends (the first and the last of a series), none; true: full if
       * that fits, else short; default: true at bars of a single series.
       */
      labels?: 'full' | 'short' | 'ends' | 'none' | boolean | undefined
      /** In the legend; default: the measure's label. */
      label?: string | undefined
    }

export interface ChartSpec {
  /**
   * The key along the axis; of several, outermost first, the places of each group stand
   * together.
   */
  along: KeySpec | readonly KeySpec[]
  /** Measures of one unit, and how each is drawn. */
  show: SeriesSpec | readonly SeriesSpec[]
  /** A key: each of its values is a series of marks. */
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
   * Values written at the bars: full, short or none; true: full if that fits, else
   * short; default: true for a single series.
   */
  labels?: 'full' | 'short' | 'ends' | 'none' | boolean | undefined
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
  /** Columns and fields of the first source, and measures of a single row. */
  show: string | readonly string[]
  /** Shown columns, the first one first; with a minus in descending order. */
  sort?: string | readonly string[] | undefined
  /** A column or field: its values head the rows that have them. */
  group?: string | undefined
  /**
   * How many are shown, of each group if there are groups; rules compare with all;
   * default: 200 in all.
   */
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
   * Keys, outermost first: columns, or year quarter month week day monthOfYear weekday.
   */
  by: KeySpec | readonly KeySpec[]
  /** More measures beside it. */
  show?: string | readonly string[] | undefined
  /** Default: from the lowest if higher is better, else from the highest. */
  sort?: string | readonly string[] | undefined
}

export interface MovesSpec {
  /** The measure whose statuses are compared. */
  of: string
  /**
   * Keys, outermost first: columns, or year quarter month week day monthOfYear weekday.
   */
  by: KeySpec | readonly KeySpec[]
}

export interface ReadingSpec {
  /** The measure of the reading. */
  of: string
  /**
   * Keys, outermost first: columns, or year quarter month week day monthOfYear weekday.
   */
  by: KeySpec | readonly KeySpec[]
  /** The time unit of its strong and weak periods; default: month if there are dates. */
  along?: string | undefined
  /** The measure that it is compared with. */
  versus?: string | undefined
}

export interface ExhibitSpec {
  /** An id, unique; default: derived from its title or kind. */
  name?: string | undefined
  /** Its heading; default: its name. */
  title?: string | undefined
  /** Words under it. */
  note?: string | undefined
  /** The heading of a section that begins with this exhibit. */
  section?: string | undefined
  /** What it shows; default: the report's own period. */
  period?: string | number | undefined
  /** An expression. */
  where?: string | undefined
  /**
   * Marks what changed its status since an earlier date of the report: 1 month before,
   * or an ISO 8601 date.
   */
  since?: string | undefined
  /**
   * Cells whose own period ends after the date of the report: unpainted, or left out
   * with their period; default: painted.
   */
  unfinished?: 'unpainted' | 'leaveOut' | undefined
  /**
   * Hides rows without a detail cell of these statuses, after everything is decided; for
   * tables, heatmaps and records.
   */
  showing?:
    | {
        /** The statuses. */
        status: string | readonly string[]
        /** A shown measure, or of records a shown column. */
        of: string
      }
    | undefined
  /** Hides the numbers; they stay in tooltips and for assistive technology. */
  hide?: 'value' | undefined
  /** The same without colours beside it. */
  besideUnpainted?: boolean | undefined
  /**
   * The exhibit before it, beside which it is placed; none: on lines of its own;
   * default: narrow exhibits share a line.
   */
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
  /** The cells whose status changed since an earlier date. */
  moves?: MovesSpec | undefined
  /** Sentences about a measure. */
  reading?: ReadingSpec | undefined
}
/** The kinds of exhibits, by their keys. */
export type ExhibitKindKey = 'table' | 'heatmap' | 'chart' | 'cards' | 'records' | 'list' | 'moves' | 'reading'
