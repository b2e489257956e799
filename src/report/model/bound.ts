import type { Bound } from '../../expression/bound.js'
import type { SourceControl } from '../../page/page.js'
import type { Path, Problem } from '../../problem/problem.js'
import type { NamedParameter } from '../../rule/bind/parameters.js'
import type { Vocabulary } from '../../rule/bind/vocabulary.js'
import type { BoundRule } from '../../rule/model.js'
import type { ExhibitKindKey } from '../../spec/exhibits.js'
import type { Status } from '../../spec/rules.js'
import type { SourceSpec } from '../../spec/sources.js'
import type { Palette } from '../../style/palette.js'
import type { ReadPicture } from '../../style/picture.js'
import type { TopN } from '../../summary/cells/top-n.js'
import type { Engine } from '../../summary/contract.js'
import type { Measure } from '../../summary/plan/measures.js'
import type { Table } from '../../table/table.js'
import type { Calendar } from '../../time/calendar.js'
import type { PeriodUnit } from '../../time/period.js'
import type { Following } from './progress.js'

/** An exhibit with resolved names: what is summarised for it, and how it is drawn. */
export interface BoundExhibit extends BoundParts {
  kind: ExhibitKindKey
  /** Its index in the report. */
  index: number
  name: string
  title: string
  note: string | null
  /** The heading of a section that begins here. */
  section: string | null
  /** Placed beside the exhibit before it. */
  beside: boolean
  /** Never placed beside another by itself. */
  alone: boolean
  /** Shown without colours beside it, too. */
  besideUnpainted: boolean
  where: readonly Bound[]
  /** As written; undefined for that of the report. */
  period: string | undefined
  /** The earlier date that it is compared with, as written, and where it is written. */
  since?: { text: string; path: Path }
  /** What happens to cells whose own period is unfinished, if they are not painted as others. */
  unfinished: 'unpainted' | 'leaveOut' | undefined
  hide: boolean
  /** The rows that are shown: those with a detail cell of some statuses. */
  showing?: { statuses: readonly string[]; of: string }
}

/** The parts of single kinds. */
export interface BoundParts {
  rows: readonly string[]
  columns: readonly string[]
  /** The summarised measures, each once; of records also fields. */
  show: readonly string[]
  totals: { rows: 'top' | 'bottom' | 'none'; columns: 'left' | 'right' | 'none'; subtotals: boolean }
  sort: { measure: string; falling: boolean } | undefined
  /** The sort order if none is written, or only keys are. */
  byDefault: { measure: string; falling: boolean } | undefined
  /** Row keys sorted from last to first. */
  turned: readonly string[]
  /** Written orders by key. */
  orders: ReadonlyMap<string, readonly string[]>
  topN: readonly TopN[]
  /** The columns of a table, in order. */
  slots: readonly BoundSlot[]
  nest: 'indented' | 'columns'
  spacing: 'close' | 'normal' | 'wide'
  chart?: BoundChart | undefined
  cards?: readonly BoundCard[] | undefined
  records?: {
    first: number
    /** Whether so many of each group are shown, instead of in all. */
    ofGroup: boolean
    one: boolean
    sorts: readonly { measure: string; falling: boolean }[]
    /** The column whose values head the rows. */
    group: string | undefined
  }
  list?: { statuses: readonly string[]; of: string } | undefined
  reading?: { of: string; versus: string | undefined; along: string | undefined } | undefined
  /** The bound part of a kind that only its own layout reads. */
  plan?: unknown
}

/** How the numbers of a column are drawn. */
export type Draw = 'number' | 'bar' | 'point' | 'block' | 'status'

/** One column of a table: a measure or a trend. */
export type BoundSlot =
  | {
      measure: string
      label: string | undefined
      draw: Draw
      icon: 'before' | 'after' | 'alone'
      /** Whether a rule may give its cells a second icon. */
      second?: true
    }
  | { trend: BoundTrend; label: string | undefined }

/** Values of a measure along a key. */
export interface BoundTrend {
  of: string
  along: string
  /** As written; undefined for that of the exhibit. */
  period: string | undefined
}

/**
 * How values are printed at marks: `fit` in full if that fits, else short; `ends` only the ends.
 */
export type ChartLabels = 'full' | 'short' | 'fit' | 'ends' | 'none'

export interface BoundChart {
  series: string | undefined
  panels: string | undefined
  stacked: boolean
  horizontal: boolean
  draws: readonly {
    measure: string
    draw: 'bar' | 'line' | 'point' | 'mark'
    labels: ChartLabels
    label: string | undefined
  }[]
  references: readonly { bound: Bound; text: string; label: string | undefined }[]
}

export interface BoundCard {
  measure: string
  label: string | undefined
  versus: string | undefined
  note: string | undefined
  trend: BoundTrend | undefined
}

/** A source with its fields and its engine. */
export interface BoundSource {
  name: string
  /** The file, table or query, for readers; empty for data from the program. */
  from: string
  /** The stacked pairs of a name and a value, if it was stacked or is stacked by nature. */
  stack: SourceSpec['stack']
  /** Expected control totals: rows, and sums of columns. */
  expect: Readonly<Record<string, number>>
  /** Its columns with their types; with rows if they are in memory. */
  table: Table
  date: string | undefined
  /** The period of its dates; default: day. */
  grain: PeriodUnit
  /** The keys and conditions that it can answer; undefined for home, which answers all. */
  known: ReadonlySet<string> | undefined
  /** The shared keys, by their names in home. */
  match: readonly string[]
  /**
   * Set for a lookup table: its rows hold always, in the same period, or until the next ones.
   */
  lookup?: 'always' | 'exact' | 'latest'
  /** The period that the amounts of a lookup table without dates are for each. */
  per?: PeriodUnit
  /** Finds the key of a lookup table that a text most likely means; not in pages. */
  nearest?(key: string, among: readonly string[]): string | undefined
  /** The columns of lookup tables that it knows: `shops.manager`. */
  attributes: ReadonlySet<string>
  /** The fields, each after those that it uses. */
  fields: ReadonlyMap<string, Bound>
  engine: Engine
}

/** Missing rows and values of sources, over all rows, whatever the filters. */
export interface Coverage {
  gaps: readonly Gap[]
  blanks: readonly Blank[]
}

/** Keys and periods for which home has rows and a further source has none. */
export interface Gap {
  source: string
  /** The shared keys. */
  match: readonly string[]
  /** The periods that are compared; undefined if one of the two has no dates. */
  unit?: PeriodUnit
  /** The fields of the first source that look it up. */
  fields?: readonly string[]
  /** For keys that a lookup table lacks: the key there that is most likely meant. */
  near?: ReadonlyMap<string, string>
  /**
   * One row for each missing combination and each value of a filter column: the keys, the first day
   * of the period, and the filter columns.
   */
  rows: Table
}

/** Rows of a source without a value in a summed column. */
export interface Blank {
  source: string
  column: string
  rows: number
  of: number
}

/** Control totals that do not depend on filters, with their texts: a page carries them. */
export interface SourceFacts extends Omit<SourceControl, 'filtered' | 'text'> {
  /** The texts before and after the excluded rows. */
  words: [string, string]
  /** Messages above the exhibits. */
  notes: readonly string[]
}

/** Settings of one run, outside the file. */
export interface Settings extends Following {
  /**
   * New values of parameters: plain numbers (0.15 for 15 %), or texts: `{ target: 70000, share:
   * '15%' }`.
   */
  parameters?: Readonly<Record<string, number | string>>
  /** A further condition on rows. */
  where?: string
  /** Replaces the report's period. */
  period?: string
  /** Replaces the report's date: ISO 8601, latest, or today. */
  asOf?: string
  /** Compares with the report at an earlier date: `1 month`, or ISO 8601. */
  since?: string
  /** Days since 1970-01-01, for `asOf: today`; no clock is read. */
  today?: number
  /** Lifts the limits that keep broken or hostile files from filling the memory. */
  noLimit?: boolean
  /** Reads picture files that the report or its data name; default: data URLs alone. */
  picture?: ReadPicture
}

/** The exhibit and measure that the strip counts. */
export interface StripSource {
  exhibit: string
  measure: string
}

/**
 * A report with all names resolved against its data. It contains nothing as written, only bound
 * parts and texts for readers.
 */
export interface BoundReport {
  title: string
  note: string | null
  /** Columns, fields and `period` that readers of a live page may filter by. */
  filters: readonly string[]
  locale: string
  /** Home first. */
  sources: readonly BoundSource[]
  /** Home columns that further sources need. */
  wanted: ReadonlySet<string>
  /** How years and quarters are cut. */
  calendar: Calendar
  /** Labels of keys. */
  labels: ReadonlyMap<string, string>
  parameters: ReadonlyMap<string, NamedParameter>
  measures: ReadonlyMap<string, Measure>
  statuses: Readonly<Record<string, Status>>
  palette: Palette
  /** The facts about measures for rules and sentences. */
  measureFacts: Vocabulary['measures']
  rules: readonly BoundRule[]
  where: readonly Bound[]
  whereText: string | null
  /** The condition and period of the file, if settings replace them. */
  unfiltered?: { where: readonly Bound[]; period: string }
  exhibits: readonly BoundExhibit[]
  /** What the strip counts; left out, the first measure with statuses. */
  strip?: StripSource | 'none'
  asOf: string
  period: string
  today: number | undefined
  notes: readonly Problem[]
  /** The missing rows of its sources, if they were determined already. */
  coverage?: Coverage
  /** The control totals, likewise. */
  controls?: readonly SourceFacts[]
}
