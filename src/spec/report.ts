// Made by scripts/schema/make.js from the schema of reports.
// Change that, then run `npm run schema`.
import type { FindingCode } from '../problem/catalogue/findings.js'
import type { ExhibitSpec } from './exhibits.js'
import type { Status, WrittenRule } from './rules.js'
import type { MeasureEntry, ParameterSpec, PigmentSpec, SourceSpec } from './sources.js'

/** A report as written, in a file or as a plain object. */
export interface ReportSpec {
  /** The heading of the page. */
  title: string
  /** Words under the title. */
  note?: string | undefined
  /** BCP 47; default: en. */
  locale?: string | undefined
  /** Latest (default), or an ISO 8601 date. */
  asOf?: string | undefined
  /**
   * Marks what changed its status since an earlier date of the report: 1 month before,
   * or an ISO 8601 date.
   */
  since?: string | undefined
  /** The period of exhibits without one of their own; default: all. */
  period?: string | number | undefined
  /** An expression. */
  where?: string | undefined
  calendar?:
    | {
        /**
         * The month in which years begin; they are named by the year they begin in; default:
         * January.
         */
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
        /** An IANA time zone: moments are converted to it before their day is taken. */
        zone?: string | undefined
      }
    | undefined
  /** Where rows come from, by name; the first is the one that exhibits are split by. */
  sources: { readonly [name: string]: SourceSpec }
  /**
   * Labels of keys for readers, whatever their source; default: those of the sources, or
   * their names.
   */
  labels?: { readonly [name: string]: string } | undefined
  /** Worked out per row, by source. */
  fields?: { readonly [name: string]: { readonly [name: string]: string } } | undefined
  /** The aggregated values, as formulas; a report that only lists rows has none. */
  measures?: { readonly [name: string]: MeasureEntry } | undefined
  /** Named numbers for limits and formulas. */
  parameters?: { readonly [name: string]: ParameterSpec } | undefined
  /**
   * Files shared with other reports: their rules, statuses, parameters, pigments and
   * icons, and their sources, fields, measures, labels and calendar.
   */
  include?: readonly string[] | undefined
  /** The states of cells with their styles; legends keep this order. */
  statuses?: { readonly [name: string]: Status } | undefined
  /**
   * Colours of the report under new or house names: one colour, or wash, body and ink.
   */
  pigments?: { readonly [name: string]: PigmentSpec } | undefined
  /** Icons of the report: image files, or data URLs. */
  icons?: { readonly [name: string]: string } | undefined
  /** In order of precedence: the first that sets a channel of a cell wins it. */
  rules?: readonly WrittenRule[] | undefined
  /** What is on the page, in this order. */
  exhibits: readonly ExhibitSpec[]
  /**
   * The exhibit and measure whose statuses are counted in the band under the title, as
   * shops.revenue, or none; default: the first table, heatmap, chart or list with
   * statuses.
   */
  strip?: string | undefined
  /**
   * What the reader of a live report may filter by: columns and fields of the first
   * source, and period.
   */
  filters?: readonly string[] | undefined
  /** Findings that proof ignores. */
  proof?:
    | {
        ignore?:
          | readonly {
              /** Its code. */
              code: FindingCode
              /** A rule, exhibit, exhibit.measure, status …; left out: everywhere. */
              at?: string | undefined
              /** The reason, for readers of the file. */
              because: string
            }[]
          | undefined
      }
    | undefined
}
