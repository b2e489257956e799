// Made by scripts/schema/make.js from the schema of reports: change that, then run `npm run schema`.
// A file over 400 lines because it is made and holds every key of a report.
import type { FindingCode } from '../problem/findings.js'
import type { ColorName, IconName, PigmentName, Ramp } from './suggested.js'

export type { ColorName, IconName, PigmentName, Ramp } from './suggested.js'

/** A number, or an expression in which value is the judged value. */
export type Limit = number | string

export interface Style {
  /** A pigment: sets the fill and a readable ink together. */
  wash?: PigmentName | undefined
  /** A pigment or any CSS colour. */
  fill?: ColorName | undefined
  /** A pigment or any CSS colour. */
  ink?: ColorName | undefined
  /** Of the text. */
  weight?: 'bold' | 'normal' | undefined
  /** A drawing, a step of a family such as petals-2-of-5, or direction: the arrow of the judged value. */
  icon?: IconName | undefined
  /** Words with formatted values in them: '{growth} {status}'. */
  flag?: string | undefined
  /** An image file beside the report, or a data address. */
  picture?: string | undefined
  /** Taken off the page; kept in hover text, exports and for assistive technology. */
  hide?: 'value' | 'icon' | undefined
}

export interface Status extends Style {
  /** For readers; default: the name. */
  label?: string | undefined
  /** Whether it is good news; left out, it is neither. */
  means?: 'good' | 'fair' | 'bad' | undefined
}

/** A status by name, or a style. */
export type Outcome = string | Style

export interface BandSpec {
  /** A number, or an expression in which value is the judged value. */
  atLeast?: Limit | undefined
  /** A number, or an expression in which value is the judged value. */
  above?: Limit | undefined
  /** A number, or an expression in which value is the judged value. */
  atMost?: Limit | undefined
  /** A number, or an expression in which value is the judged value. */
  below?: Limit | undefined
  /** Plain text, number, period or truth; never a name. */
  equals?: string | number | boolean | undefined
  /** Any of these, each plain as in equals. */
  oneOf?: readonly (string | number | boolean)[] | undefined
  /** A part of the judged text. */
  contains?: string | undefined
  /** A free condition. */
  when?: string | undefined
  /** What a missing value, or one compared with a missing limit, takes. */
  missing?: Outcome | undefined
  /** What is left when every limit above could be compared; stands last. */
  otherwise?: Outcome | undefined
  /** A status by name. */
  status?: string | undefined
  /** A look without a status. */
  style?: Style | undefined
}

export interface GradientSpec {
  /** Pigments or colours from low to high; one pigment: paper to it; or judged: bad to good by the direction of the measure. */
  ramp?: Ramp | readonly ColorName[] | undefined
  /** Instead of a ramp where it gives icons: drawings from low to high, or a family: petals, arrows, stems. */
  icons?: IconName | readonly IconName[] | undefined
  /** The low end; default: lowest. */
  from?: Limit | undefined
  /** Default: 0 where the ends lie on both sides of zero, else halfway. */
  middle?: Limit | undefined
  /** The high end; default: highest. */
  to?: Limit | undefined
  /** A number of steps; left out, the ramp is smooth. */
  shades?: number | undefined
  /** What is set; default: fill, or icon where icons are. */
  gives?: 'fill' | 'ink' | 'icon' | undefined
}

export interface BarSpec {
  /** The left end; default: 0, or lowest where some values are negative. */
  from?: Limit | undefined
  /** The right end; default: highest, or 0 where all values are negative. */
  to?: Limit | undefined
  /** Where bars start; default: 0, or the end nearest to it. */
  base?: Limit | undefined
  /** A pigment or any CSS colour; default: pebble. */
  wash?: ColorName | undefined
  /** The colour left of the base; default: that of wash. */
  negative?: ColorName | undefined
  /** Default: solid. */
  finish?: 'solid' | 'fading' | undefined
}

export interface BorrowSpec {
  /** A text column of names or labels of statuses. */
  status?: string | undefined
  /** A text column of pigments or CSS colours. */
  fill?: string | undefined
  /** A text column of pigments or CSS colours. */
  ink?: string | undefined
  /** A text column of drawings. */
  icon?: string | undefined
  /** A text column of image files or data addresses. */
  picture?: string | undefined
}

export interface RankSpec {
  /** A count, or a share such as 10%. */
  top?: number | string | undefined
  /** A count, or a share such as 10%. */
  bottom?: number | string | undefined
  /** The good end, by the direction of the measure. */
  best?: number | string | undefined
  /** A count, or a share such as 10%. */
  worst?: number | string | undefined
  /** Parts from best to worst, or from highest to lowest without a direction. */
  split?:
    | readonly {
        /** A count, or a share such as 10%. */
        share?: number | string | undefined
        /** A status by name, or a style. */
        rest?: Outcome | undefined
        /** A status by name. */
        status?: string | undefined
        /** A look without a status. */
        style?: Style | undefined
      }[]
    | undefined
  /** A status by name. */
  status?: string | undefined
  /** A look without a status. */
  style?: Style | undefined
}

/** What rules of every kind can say. */
export interface RuleBase {
  /** An id, unique; made up when left out. */
  name?: string | undefined
  /** For readers; default: the name. */
  title?: string | undefined
  /** The measures, fields or row headers painted, each a population of its own; row is whole rows, all is every measure. */
  paint: string | readonly string[]
  /** The expression whose value decides; default: the painted one. */
  judge?: string | undefined
  /** Narrows what is painted, never what is compared with. */
  where?: string | undefined
  /** Narrows the population. */
  among?: string | undefined
  /** Each group is a population of its own. */
  within?: string | readonly string[] | undefined
  /** The keys that a cell must be split by for the rule to reach it. */
  grain?: string | readonly string[] | undefined
  /** The exhibits it is for; default: all that show the measure. */
  only?: readonly string[] | undefined
  /** Default: details. */
  levels?: 'details' | 'totals' | 'all' | undefined
  /** The painted measures are one population; their units must agree. */
  together?: boolean | undefined
  /** What of the cells that it matches is taken off the page. */
  hide?: 'value' | 'icon' | undefined
  /** No later rule paints the cells it matched. */
  seal?: boolean | undefined
  /** Kept, not applied. */
  paused?: boolean | undefined
}
/** A rule as written, in a report file or as a plain object: exactly one of bands, gradient, bar, rank, borrow decides. */
export type RuleSpec = RuleBase &
  (
    | {
        /** Limits in order; the first that holds decides. */
        bands: readonly BandSpec[]
        gradient?: undefined
        bar?: undefined
        rank?: undefined
        borrow?: undefined
      }
    | {
        /** Where the value lies between two ends, as a colour. */
        gradient: GradientSpec
        bands?: undefined
        bar?: undefined
        rank?: undefined
        borrow?: undefined
      }
    | {
        /** Where the value lies between two ends, as a bar in its cell. */
        bar: BarSpec
        bands?: undefined
        gradient?: undefined
        rank?: undefined
        borrow?: undefined
      }
    | {
        /** The value's place in its population. */
        rank: RankSpec
        bands?: undefined
        gradient?: undefined
        bar?: undefined
        borrow?: undefined
      }
    | {
        /** Text columns that already hold the answer. */
        borrow: BorrowSpec
        bands?: undefined
        gradient?: undefined
        bar?: undefined
        rank?: undefined
      }
  )

export type MeasureEntry =
  | string
  | {
      /** An expression. */
      formula: string
      /** For readers; default: the name. */
      label?: string | undefined
      /** Money CUR, percent or number, then digits, signed, compact, and for a number unit: money EUR 0 signed, number 1 unit kg. */
      format?: string | undefined
      /** Which direction is good; left out, nothing judges by it. */
      better?: 'higher' | 'lower' | 'neither' | undefined
    }

export type ParameterSpec =
  | number
  | string
  | {
      /** A number, or a percent such as 15%. */
      value: number | string
      /** The lowest a reader can set. */
      from?: number | string | undefined
      /** The highest a reader can set. */
      to?: number | string | undefined
      /** How far the dial of a live page moves at once. */
      step?: number | undefined
      /** For readers; default: the name. */
      label?: string | undefined
      /** Money CUR, percent or number, then digits, signed, compact, and for a number unit: money EUR 0 signed, number 1 unit kg. */
      format?: string | undefined
    }

export type PigmentSpec =
  | string
  | {
      /** For fills. */
      wash: string
      /** For bars and marks. */
      body: string
      /** For text on the wash. */
      ink: string
    }

export interface SourceSpec {
  /** CSV, TSV, JSON, NDJSON or Parquet, texts also gzipped; a pattern such as orders-*.csv; or stdin; relative to the report. */
  file?: string | undefined
  /** Instead of a file: env: and the environment variable that holds the address of a server, as in env:LEDGER_URL. */
  postgres?: string | undefined
  /** A table or view of the server. */
  table?: string | undefined
  /** A SELECT instead of a table. */
  query?: string | undefined
  /** Seconds that a statement may take; default: 60. */
  timeLimit?: number | undefined
  /** Who summarises a Parquet file; default: duckdb for a large one where it is installed, else memory. */
  engine?: 'memory' | 'duckdb' | undefined
  /** The column that time is read from. */
  date?: string | undefined
  /** Only where reading by itself would guess wrong: text, condition, number comma, date dd/mm/yyyy. */
  read?: { readonly [name: string]: string } | undefined
  /** What keys are called for readers; default: their names. */
  labels?: { readonly [name: string]: string } | undefined
  /** The keys on which it is joined with the first source, beside time. */
  match?: string | readonly string[] | undefined
  /** What a date stands for; default: the precision of its text. */
  grain?: 'year' | 'quarter' | 'month' | 'week' | 'day' | undefined
  /** Control totals: rows, and sums of columns; other data are refused. */
  expect?: { readonly [name: string]: number } | undefined
  /** Turns columns side by side into pairs of a name and a value. */
  stack?:
    | {
        /** Left out where the data are such pairs already. */
        columns?: readonly string[] | undefined
        /** The new column of names. */
        name: string
        /** The new column of values. */
        value: string
        /** Whether the values measure different things, never put together; default: where columns is left out. */
        unlike?: boolean | undefined
      }
    | undefined
  /** Turns pairs of a name and a value into columns. */
  unstack?:
    | {
        /** The column whose values become columns. */
        name: string
        /** The column of what stands in them. */
        value: string
      }
    | undefined
  /** Refuse what cannot be read, instead of counting it as missing. */
  strict?: boolean | undefined
}

export type KeySpec =
  | string
  | {
      /** A column, or year quarter month week day monthOfYear weekday. */
      key: string
      /** These first, in this order; the others behind. */
      order?: readonly (string | number | boolean)[] | undefined
      /** How many are shown: the first by the sort, or by the first measure. */
      keep?: number | undefined
      /** What the others together are called; left out, they are not shown. */
      rest?: string | undefined
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
      /** Beside the number a bar, or a dot on a line; block fills the whole cell; default: number. */
      draw?: 'number' | 'bar' | 'dot' | 'block' | undefined
      /** Where an icon stands; alone hides the number; default: before. */
      icon?: 'before' | 'after' | 'alone' | undefined
    }

export interface TableSpec {
  /** Keys from the outermost in: columns, or year quarter month week day monthOfYear weekday. */
  rows: KeySpec | readonly KeySpec[]
  /** Keys from the outermost in: columns, or year quarter month week day monthOfYear weekday. */
  columns?: KeySpec | readonly KeySpec[] | undefined
  /** Measures, how they are drawn, and lines of their trend. */
  show: ColumnSpec | readonly ColumnSpec[]
  /** Default: none. */
  totals?: TotalsSpec | undefined
  /** A shown measure or a row key; with a minus from the highest, or from the last. */
  sort?: string | readonly string[] | undefined
  /** Nested rows under each other, or each key in a column of its own; default: indented. */
  nest?: 'indented' | 'columns' | undefined
  /** Between rows; default: normal. */
  spacing?: 'close' | 'normal' | 'wide' | undefined
}

export type SeriesSpec =
  | string
  | {
      /** A measure. */
      show: string
      /** Marker is a short line across the place of a bar, as for a plan; default: bars. */
      draw?: 'bars' | 'line' | 'points' | 'marker' | undefined
      /** Values written at its marks: full as in tables, short with as many digits as tell them apart, none; true: full where that fits, else short; default: true at bars of a single series. */
      labels?: 'full' | 'short' | 'none' | boolean | undefined
      /** In the key; default: the measure's label. */
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
        keep?: number | undefined
        /** What the others together are called; left out, they are not shown. */
        rest?: string | undefined
      }
  /** Measures of one unit, and how each is drawn. */
  show: SeriesSpec | readonly SeriesSpec[]
  /** A key: each of its values has marks of its own. */
  series?: string | undefined
  /** A key: each of its values has a small chart of its own, all on one scale. */
  each?: string | undefined
  /** Bars on top of each other instead of side by side. */
  stacked?: boolean | undefined
  /** Bars from left to right. */
  lying?: boolean | undefined
  /** Lines across the chart: a number, a parameter, a measure that is one value, or a statistic such as mean(revenue). */
  lines?:
    | readonly {
        /** A number, or an expression in which value is the judged value. */
        at: Limit
        /** Written at it; default: its words. */
        label?: string | undefined
      }[]
    | undefined
  /** Values written at the bars: full, short or none; true: full where that fits, else short; default: true for a single series. */
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
  /** Columns of the first source, its fields, and measures, which are then of one row. */
  show: string | readonly string[]
  /** A shown column; with a minus from the highest. */
  sort?: string | undefined
  /** How many are shown; rules compare with all; default: 200. */
  first?: number | undefined
  /** One at a time, beside the averages and totals of all. */
  one?: boolean | undefined
}

export interface ListSpec {
  /** The statuses whose cells are listed. */
  status: string | readonly string[]
  /** The measure whose cells are judged. */
  of: string
  /** Keys from the outermost in: columns, or year quarter month week day monthOfYear weekday. */
  by: KeySpec | readonly KeySpec[]
  /** More measures beside it. */
  show?: string | readonly string[] | undefined
  /** Default: from the lowest where higher is better, else from the highest. */
  sort?: string | readonly string[] | undefined
}

export interface WordsSpec {
  /** The measure that is read. */
  of: string
  /** Keys from the outermost in: columns, or year quarter month week day monthOfYear weekday. */
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
  /** The same without paint at its side. */
  plain?: 'beside' | undefined
  /** The exhibit before it, at whose side it is placed. */
  beside?: string | undefined
  /** Measures by keys, with totals. */
  table?: TableSpec | undefined
  /** A table of coloured fields without gaps. */
  heatmap?: TableSpec | undefined
  /** Measures along a key, as bars, lines, points or markers. */
  chart?: ChartSpec | undefined
  /** Single figures. */
  cards?: readonly CardSpec[] | undefined
  /** Rows of the first source as they are. */
  records?: RecordsSpec | undefined
  /** The cells of some statuses, by name. */
  list?: ListSpec | undefined
  /** What a measure says, in sentences. */
  words?: WordsSpec | undefined
}

export interface ReportSpec {
  /** The heading of the page. */
  title: string
  /** Words under the title. */
  note?: string | undefined
  /** BCP 47; default: en. */
  locale?: string | undefined
  /** Latest (default), or an ISO 8601 date. */
  asOf?: string | undefined
  /** What is shown unless an exhibit says otherwise; default: all. */
  period?: string | number | undefined
  /** An expression. */
  where?: string | undefined
  calendar?:
    | {
        /** The month in which years begin; they are named by the year they begin in; default: January. */
        yearStarts?:
          | 'January'
          | 'February'
          | 'March'
          | 'April'
          | 'May'
          | 'June'
          | 'July'
          | 'August'
          | 'September'
          | 'October'
          | 'November'
          | 'December'
          | undefined
        /** An IANA time zone: moments are moved there before their day is taken. */
        zone?: string | undefined
      }
    | undefined
  /** Where rows come from, by name; the first is the one that exhibits are split by. */
  sources: { readonly [name: string]: SourceSpec }
  /** Worked out per row, by source. */
  fields?: { readonly [name: string]: { readonly [name: string]: string } } | undefined
  /** What is summarised, as formulas; a report that only lists rows has none. */
  measures?: { readonly [name: string]: MeasureEntry } | undefined
  /** Named numbers that limits and formulas refer to. */
  parameters?: { readonly [name: string]: ParameterSpec } | undefined
  /** Rule sets shared with other reports: their statuses, parameters, pigments, icons and rules. */
  uses?: readonly string[] | undefined
  /** What a cell can be, and how that looks; legends keep this order. */
  statuses?: { readonly [name: string]: Status } | undefined
  /** Own colours under own or house names: one colour, or the three that it is used as. */
  pigments?: { readonly [name: string]: PigmentSpec } | undefined
  /** Own drawings: image files, or data addresses. */
  icons?: { readonly [name: string]: string } | undefined
  /** In order of precedence: the first that sets a channel of a cell wins it. */
  rules?: readonly RuleSpec[] | undefined
  /** What is on the page, in this order. */
  exhibits: readonly ExhibitSpec[]
  /** What the reader of a live report may narrow by: columns and fields of the first source, and period. */
  filters?: readonly string[] | undefined
  /** What proof is to be quiet about. */
  proof?:
    | {
        ignore?:
          | readonly {
              /** Its code. */
              finding: FindingCode
              /** A rule, exhibit, exhibit.measure, status …; left out: everywhere. */
              at?: string | undefined
              /** The reason, for whoever reads the file. */
              because: string
            }[]
          | undefined
      }
    | undefined
}
