// Made by scripts/schema/make.js from the schema of reports.
// Change that, then run `npm run schema`.

export type MeasureEntry =
  | string
  | {
      /** An expression. */
      formula: string
      /** For readers; default: the name. */
      label?: string | undefined
      /**
       * Money CUR, percent or number, then digits, signed, compact, and for a number unit:
       * money EUR 0 signed, number 1 unit kg.
       */
      format?: string | undefined
      /** Which direction is good; default: none. */
      better?: 'higher' | 'lower' | 'neither' | undefined
    }

/** A named number, or one with its bounds, label and format. */
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
      /** The step of the control in a live page. */
      step?: number | undefined
      /** For readers; default: the name. */
      label?: string | undefined
      /**
       * Money CUR, percent or number, then digits, signed, compact, and for a number unit:
       * money EUR 0 signed, number 1 unit kg.
       */
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
  /**
   * CSV, TSV, JSON, NDJSON, Parquet or an OpenDocument spreadsheet, texts also gzipped;
   * a pattern such as orders-*.csv; or stdin; relative to the report.
   */
  file?: string | undefined
  /**
   * Of a workbook: the sheet, or a pattern such as 20*, whose names become a column;
   * default: the first.
   */
  sheet?: string | undefined
  /**
   * Of a workbook: the range of the table with its header, as A3:H200 or A:H; default:
   * all that is used.
   */
  range?: string | undefined
  /**
   * Of a workbook: the row of the header; default: the first with a word above every
   * column.
   */
  header?: number | undefined
  /**
   * Of a workbook: fills the cells that a merged one covers; default: they are missing.
   */
  merged?: 'repeat' | undefined
  /**
   * Instead of a file: env: and the environment variable that holds the address of a
   * server, as in env:LEDGER_URL.
   */
  postgres?: string | undefined
  /** A table or view of the server. */
  table?: string | undefined
  /** A SELECT instead of a table. */
  query?: string | undefined
  /** Time limit of a statement in seconds; default: 60. */
  timeLimit?: number | undefined
  /**
   * The engine of a Parquet file; default: duckdb for a large one if it is installed,
   * else memory.
   */
  engine?: 'memory' | 'duckdb' | undefined
  /** The column with the date. */
  date?: string | undefined
  /**
   * Declared formats of columns: text, condition, number comma, date dd/mm/yyyy;
   * default: inferred.
   */
  read?: { readonly [name: string]: string } | undefined
  /** Labels of keys for readers; default: their names. */
  labels?: { readonly [name: string]: string } | undefined
  /**
   * The keys on which it is joined with the first source, besides time; with shop:
   * shop_name where a lookup table calls the key shop otherwise.
   */
  match?: string | readonly (string | { readonly [name: string]: string })[] | undefined
  /**
   * Its columns are looked up by match and may stand wherever a column may, as in
   * shops.manager: true without a date; exact for the row of the same period, latest for
   * the last one at or before it.
   */
  lookup?: boolean | 'exact' | 'latest' | undefined
  /**
   * Of a lookup table without a date: its amounts are for each such period, as a monthly
   * target.
   */
  per?: 'year' | 'quarter' | 'month' | 'week' | 'day' | undefined
  /** The period of a date; default: the precision of its text. */
  grain?: 'year' | 'quarter' | 'month' | 'week' | 'day' | undefined
  /** Control totals: rows, and sums of columns; other data are refused. */
  expect?: { readonly [name: string]: number } | undefined
  /** Turns columns into pairs of a name and a value. */
  stack?:
    | {
        /** Left out if the data are such pairs already. */
        columns?: readonly string[] | undefined
        /** The new column of names. */
        name: string
        /** The new column of values. */
        value: string
        /**
         * Whether the values measure different things, which are never added; default: true if
         * columns is left out.
         */
        unlike?: boolean | undefined
      }
    | undefined
  /** Turns pairs of a name and a value into columns. */
  unstack?:
    | {
        /** The column whose values become columns. */
        name: string
        /** The new column of their values. */
        value: string
      }
    | undefined
  /** Refuses values that cannot be read, instead of counting them as missing. */
  strict?: boolean | undefined
}
