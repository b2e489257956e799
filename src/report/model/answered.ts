import type { NumberPrinter } from '../../format/format.js'
import type { Cell, Exhibit, ExhibitHead, Heading, Keys, Page, RecordCell, Row, Was } from '../../page/page.js'
import type { Problem } from '../../problem/problem.js'
import type { BoundRule, Cells, RunCache, StyleCache } from '../../rule/model.js'
import type { PaintResult } from '../../rule/run/paint.js'
import type { CellStyle } from '../../style/cell-style.js'
import type { Legend } from '../../style/legend.js'
import type { Bar, Painted } from '../../style/painting.js'
import type { AxisNode } from '../../summary/cells/axis.js'
import type { Level, Summary } from '../../summary/cells/summarise.js'
import type { SourceStats } from '../../summary/contract.js'
import type { Measure } from '../../summary/plan/measures.js'
import type { Span, TimeUnit } from '../../time/period.js'
import type { Shift } from '../../time/shift.js'
import type { Step } from '../../time/step.js'
import type { BoundExhibit, BoundReport } from './bound.js'

/** The context of all exhibits of a report. */
export interface QueryContext {
  report: BoundReport
  stats: readonly SourceStats[]
  /** The report's date; undefined where there are no dates. */
  asOf: number | undefined
  /** What moves spans; loaded where some measure is read at another time. */
  moving?: Moving
  /** What writes flags; loaded where a style has one. */
  flags?: FlagOf
  /** Runs rules that compare several measures; loaded where there are some. */
  oneScale?: Cells['oneScale']
  /**
   * Whether it may be decided again with other values of parameters, so that results are cached.
   */
  again?: true
  /** Whether long tables are laid out when they are looked at: counts are told before. */
  late?: true
}

/** Writes the flag of a cell; null if one of its values is missing. */
export type FlagOf = (
  make: { labels: { printer(measure: string): NumberPrinter }; statusText(look: CellStyle): string },
  answered: AnsweredExhibit,
  cell: { look: CellStyle; level: Level; at: number; value: string },
) => string | null

/** What moves spans to other times, and says where that gives nothing. */
export interface Moving {
  /** `weeks`: the exhibit is split by week, so a shift by years keeps the ISO week number. */
  move(span: Span, shift: Shift, weeks: boolean): Span
  movesWhole(unit: TimeUnit, shift: Shift): boolean
  keyNote(measures: readonly string[], key: string, shift: Shift): Problem
  /** What is said of measures that read times before the data. */
  outsideNotes(
    report: BoundReport,
    measures: readonly string[],
    keys: readonly string[],
    steps: readonly Step[],
    time: { whole: Span; data: Span },
  ): Problem[]
  /** The keys whose values measures compare at two times. */
  sameBy(measures: readonly Measure[]): string[]
  /** Measures with the ways in which projected ones are found, as measures. */
  withMethods(measures: readonly Measure[]): Measure[]
  /** How a projected value is found, by its name and in words; undefined for others. */
  methodAt(
    level: Level,
    cell: number,
    measure: string,
  ): { name: NonNullable<Cell['method']>; words: string } | undefined
  /** What is said of a summary: times that are alike, and keys that are left out. */
  notes(report: BoundReport, exhibit: BoundExhibit, measures: readonly Measure[], summary: Summary): Problem[]
}

/** The summary without the reader's filters, and the function that runs rules against it. */
export interface UnfilteredSummary extends Pick<NonNullable<Cells['unfiltered']>, 'run'> {
  summary: Summary
}

/** An exhibit with its numbers and styles, before it is laid out. */
export interface AnsweredExhibit {
  report: BoundReport
  /** The report's date; undefined where there are no dates. */
  asOf: number | undefined
  exhibit: BoundExhibit
  summary: Summary
  /** The summary without the reader's filters, if some rule compares with it. */
  unfiltered?: UnfilteredSummary
  /** The cells of a level whose period is unfinished, if some rule leaves them unpainted. */
  unfinished?(level: Level): Pick<Cells, 'unfinished'>
  /** The rules that may paint it, in their order. */
  rules: readonly BoundRule[]
  levels: PaintedLevels
  /** What writes flags; loaded where a style has one. */
  flags?: FlagOf
  /** What reads other times; loaded where some measure does. */
  moving?: Moving
  /** The cache of results, if it may be decided again. */
  cache?: ReuseCache
  /** The same at an earlier date, if it is compared with that. */
  since?: Since
  head: Omit<ExhibitHead, 'legends' | 'messages'>
  /** Messages of answering; the layout may add some. */
  notes: Problem[]
  /**
   * Legends and messages, after everything shown is painted. `shown` are the detail cells on the
   * page, if not all are.
   */
  legendsAndMessages(shown?: ReadonlySet<number>): { legends: Exhibit['legends']; notes: string[] }
}

/** An exhibit beside the same at an earlier date of the report. */
export interface Since {
  /** The earlier date. */
  day: number
  /** Both over all keys, before the first n of a key are taken. */
  now: AnsweredExhibit
  before: AnsweredExhibit
  /** The detail cell with the same keys at the earlier date; -1 without one. */
  past(cell: number): number
  /** What a detail cell was, if its status has changed. */
  was(cell: number, measure: string): Was | undefined
  /** The comparison after the exhibit was decided again with other parameters. */
  again(asked: QueryContext, answered: AnsweredExhibit): AnsweredExhibit
}

/** The decided cells of one level. */
export interface PaintedLevel {
  level: Level
  cells: Cells
  result: PaintResult
}

/** The painted levels of an exhibit; a level is decided on first use. */
export interface PaintedLevels {
  of(level: Level): PaintedLevel
  /** The headings of one depth of rows; undefined if no rule paints them. */
  headings(depth: number): PaintedLevel | undefined
  /** The levels that were used so far, in order. */
  decided(): readonly PaintedLevel[]
}

export interface StyledCell {
  style: CellStyle
  bar: Bar | null
}

/** The painting of a column, whose cells are `row * width + node`. */
export interface PaintedColumn {
  painted: Painted | undefined
  width: number
  node: number
}

/** The cached results of one summary; see `report/answer/reuse-cache.ts` for its contract. */
export interface ReuseCache {
  /** Results of rules over a level. */
  runCache(level: Level): RunCache
  /** Composed styles of a level, by what is painted. */
  styleCaches(level: Level): Map<string, StyleCache>
  /** The cells of one column of a level, by index. */
  cells(level: Level, measure: string): (Cell | RecordCell)[]
  printers: Map<string, NumberPrinter>
  keys: Map<AxisNode, Keys>
  /** Styles with a hidden number, by the style without. */
  hidden: Map<CellStyle, CellStyle>
  /** Cells with the bar or point of their column: by the cell without, and by how it is drawn. */
  drawn: WeakMap<Cell, Map<string, Cell>>
  order: ((depth: number, node: number) => number[]) | undefined
  /** Legends of ramps that no other rule changes, by the result of their rule. */
  legends: WeakMap<object, Legend>
  /** The rows of the last layout. */
  rows: readonly Row[]
  /** The headings of details that were looked at, where they are made then; by node. */
  headings: Heading[]
  /** The longest heading of details, where it was asked for. */
  longestHeading?: string
  /** The rows of the lowest and the highest value of each column, where they were asked for. */
  ends: number[][]
  /** The painting of its columns. */
  painted: readonly PaintedColumn[]
}

/** An answered exhibit with its layout function, which is called again after a new decision. */
export interface BuiltExhibit {
  answered: AnsweredExhibit
  /** The exhibit as it is shown, laid out once: at the first call, where that is late. */
  layOut(): Exhibit
  build(answered: AnsweredExhibit): Exhibit
}

/** An answered report with what decided each cell. */
export interface DecidedReport {
  /** The bound report before further sources were joined to home. */
  bound: BoundReport
  report: BoundReport
  page: Page
  /** The page without its exhibits, which may not be laid out yet. */
  about: Omit<Page, 'exhibits'>
  /** The context of its exhibits. */
  context: QueryContext
  /** In the order of the page. */
  exhibits: readonly AnsweredExhibit[]
  /** The same with their layout functions. */
  built: readonly BuiltExhibit[]
}
