import type { Bound } from '../../expression/bound.js'
import type { SourceControl } from '../../page/page.js'
import type { Problem } from '../../problem/problem.js'
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

/** An exhibit whose every name is resolved: what is summarised for it, and how it is drawn. */
export interface BoundExhibit extends BoundParts {
  kind: ExhibitKindKey
  /** Where it stands in the report, counted from 0. */
  index: number
  name: string
  title: string
  note: string | null
  /** A heading over it and those after it. */
  section: string | null
  /** Placed at the side of the exhibit before it. */
  beside: boolean
  /** Shown without paint, too, at its side. */
  besideUnpainted: boolean
  where: readonly Bound[]
  /** As written, or undefined for the report's own. */
  period: string | undefined
  hide: boolean
}

/** What each kind has to say. */
export interface BoundParts {
  rows: readonly string[]
  columns: readonly string[]
  /** The measures summarised for it, each once; of records also fields. */
  show: readonly string[]
  totals: { rows: 'top' | 'bottom' | 'none'; columns: 'left' | 'right' | 'none'; subtotals: boolean }
  sort: { measure: string; falling: boolean } | undefined
  /** The same where nothing is said of it, or keys alone are. */
  byDefault: { measure: string; falling: boolean } | undefined
  /** Row keys sorted from the last to the first. */
  turned: readonly string[]
  /** Given orders, by key. */
  orders: ReadonlyMap<string, readonly string[]>
  topN: readonly TopN[]
  /** The columns of a table, in their order. */
  slots: readonly BoundSlot[]
  nest: 'indented' | 'columns'
  spacing: 'close' | 'normal' | 'wide'
  chart?: BoundChart | undefined
  cards?: readonly BoundCard[] | undefined
  records?: { first: number; one: boolean }
  list?: { statuses: readonly string[]; of: string } | undefined
  reading?: { of: string; versus: string | undefined; along: string | undefined } | undefined
  /** What a kind made of its part of the report that nothing but its own builder reads. */
  plan?: unknown
}

/** How the numbers of a column are drawn. */
export type Draw = 'number' | 'bar' | 'point' | 'block'

/** One column of a table: a measure, or a line a row. */
export type BoundSlot =
  | { measure: string; label: string | undefined; draw: Draw; icon: 'before' | 'after' | 'alone' }
  | { trend: BoundTrend; label: string | undefined }

/** Values of a measure along a key. */
export interface BoundTrend {
  of: string
  along: string
  /** As written, or undefined for the exhibit's own. */
  period: string | undefined
}

/** How values are written at marks; `fit` is full where that fits, else short. */
export type ChartLabels = 'full' | 'short' | 'fit' | 'none'

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

/** A source with its fields, ready to be asked. */
export interface BoundSource {
  name: string
  /** The file, table or query, for readers; empty for data that were handed over. */
  from: string
  /** Pairs of a name and a value that its columns were turned into, or that its rows are. */
  stack: SourceSpec['stack']
  /** Control totals as written: rows, and sums of columns. */
  expect: Readonly<Record<string, number>>
  /** Its columns with their types; rows, too, where they are in memory. */
  table: Table
  date: string | undefined
  /** What its dates stand for; days unless they are coarser. */
  grain: PeriodUnit
  /** Keys and conditions it can answer; undefined for home, which answers all. */
  known: ReadonlySet<string> | undefined
  /** The shared keys. */
  match: readonly string[]
  /** Worked out per row, each after those it uses. */
  fields: ReadonlyMap<string, Bound>
  engine: Engine
}

/**
 * What sources lack beside each other and in themselves, over all rows and whatever is narrowed
 * later.
 */
export interface Coverage {
  gaps: readonly Gap[]
  blanks: readonly Blank[]
}

/** Keys and periods in which home has rows and a further source has none. */
export interface Gap {
  source: string
  /** The shared keys. */
  match: readonly string[]
  /** The periods that are compared; left out where one of the two has no dates. */
  unit?: PeriodUnit
  /**
   * One row for each combination that is lacking and each value beside it of what the report may be
   * narrowed by: the keys, home's date at the first day of the period, and those columns.
   */
  rows: Table
}

/** Rows of a source that have nothing to add up. */
export interface Blank {
  source: string
  column: string
  rows: number
  of: number
}

/** Control totals but for what the report is narrowed by: a page carries them, and their words. */
export interface SourceFacts extends Omit<SourceControl, 'filtered' | 'text'> {
  /** What is said before and after the rows that are left out. */
  words: [string, string]
  /** What is said above the exhibits. */
  notes: readonly string[]
}

/** What is changed for one run, from outside the file. */
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
  /** Days since 1970-01-01, for `asOf: today`. Nothing is read from a clock in here. */
  today?: number
  /** Lifts the bounds on data that keep broken or hostile files from filling the memory. */
  noLimit?: boolean
  /** Reads picture files that the report or its data name; default: data addresses alone. */
  picture?: ReadPicture
}

/**
 * A report whose every name is resolved against its data. It holds nothing as written: what is
 * asked of it later is bound, or is text for readers.
 */
export interface BoundReport {
  title: string
  note: string | null
  /** Columns, fields and `period` that the reader of a live page may narrow by. */
  filters: readonly string[]
  locale: string
  /** Home first. */
  sources: readonly BoundSource[]
  /** Names of home that further sources are asked for. */
  wanted: ReadonlySet<string>
  /** The month (1 to 12) in which years begin. */
  calendar: Calendar
  /** What keys are called for readers. */
  labels: ReadonlyMap<string, string>
  parameters: ReadonlyMap<string, NamedParameter>
  measures: ReadonlyMap<string, Measure>
  statuses: Readonly<Record<string, Status>>
  palette: Palette
  /** What rules and whoever reads them know of the measures. */
  measureFacts: Vocabulary['measures']
  rules: readonly BoundRule[]
  where: readonly Bound[]
  whereText: string | null
  /** What the file says, where settings narrow it further or choose another period. */
  unfiltered?: { where: readonly Bound[]; period: string }
  exhibits: readonly BoundExhibit[]
  asOf: string
  period: string
  today: number | undefined
  notes: readonly Problem[]
  /** What its sources lack, where that was found out already. */
  coverage?: Coverage
  /** Control totals, likewise. */
  controls?: readonly SourceFacts[]
}
