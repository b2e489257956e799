import type { NumberPrinter } from '../../format/format.js'
import type { Cell, Exhibit, ExhibitHead, Keys, Page, RecordCell, Row } from '../../page/page.js'
import type { Problem } from '../../problem/problem.js'
import type { BoundRule, Cells, RunCache, StyleCache } from '../../rule/model.js'
import type { PaintResult } from '../../rule/run/paint.js'
import type { CellStyle } from '../../style/cell-style.js'
import type { Legend } from '../../style/legend.js'
import type { Bar } from '../../style/painting.js'
import type { AxisNode } from '../../summary/cells/axis.js'
import type { Level, Summary } from '../../summary/cells/summarise.js'
import type { SourceStats } from '../../summary/contract.js'
import type { BoundExhibit, BoundReport } from './bound.js'

/** What every exhibit of a report is asked with. */
export interface QueryContext {
  report: BoundReport
  stats: readonly SourceStats[]
  /** The report's date; undefined where there are no dates. */
  asOf: number | undefined
  /**
   * Whether it may be decided again with other values of parameters, so that what was made is worth
   * keeping.
   */
  again?: true
}

/** What there was before the reader's filters, and what runs rules that compare with it. */
export interface UnfilteredSummary extends Pick<NonNullable<Cells['unfiltered']>, 'run'> {
  summary: Summary
}

/** An exhibit's numbers and looks, before they become a page. */
export interface AnsweredExhibit {
  report: BoundReport
  exhibit: BoundExhibit
  summary: Summary
  /** The same before the reader's filters, where some rule compares with that. */
  unfiltered?: UnfilteredSummary
  /** The rules that may paint it, in their order. */
  rules: readonly BoundRule[]
  levels: PaintedLevels
  /** What was made of the summary, where it may be decided again. */
  cache?: ReuseCache
  head: Omit<ExhibitHead, 'legends' | 'messages'>
  /** Said while it was asked; whoever lays it out may add. */
  notes: Problem[]
  /**
   * After everything shown is painted: legends and notes. `shown` are the details on the page,
   * where not all are.
   */
  legendsAndMessages(shown?: ReadonlySet<number>): { legends: Exhibit['legends']; notes: string[] }
}

/** The cells of one pair of depths, decided. */
export interface PaintedLevel {
  level: Level
  cells: Cells
  result: PaintResult
}

/** Everything of an exhibit that is painted; a level is decided when it is first asked for. */
export interface PaintedLevels {
  of(level: Level): PaintedLevel
  /** The headers of one depth of the rows; undefined where nothing paints them. */
  headings(depth: number): PaintedLevel | undefined
  /** What was asked for so far, in that order. */
  decided(): readonly PaintedLevel[]
}

export interface StyledCell {
  style: CellStyle
  bar: Bar | null
}

/**
 * What was made of one summary and may be taken again when the same summary is decided with other
 * values of parameters: what looks as before is the same object as before, so that whoever draws it
 * sees at once that nothing changed.
 */
export interface ReuseCache {
  /** What rules found out about the cells of a level. */
  runCache(level: Level): RunCache
  /** Looks of a level settled before, by what is painted. */
  styleCaches(level: Level): Map<string, StyleCache>
  /** The cells of one column of a level, by their place. */
  cells(level: Level, measure: string): (Cell | RecordCell)[]
  printers: Map<string, NumberPrinter>
  keys: Map<AxisNode, Keys>
  /** Looks with their number hidden, by the look without. */
  hidden: Map<CellStyle, CellStyle>
  /** Cells with a bar or dot that the exhibit asks for, by the cell without. */
  drawn: WeakMap<Cell, Cell>
  order: ((depth: number, node: number) => number[]) | undefined
  /** Keys to ramps, which no other rule changes, by what their rule gave. */
  legends: WeakMap<object, Legend>
  /** Rows as they were laid out last. */
  rows: readonly Row[]
}

/**
 * An exhibit answered, and what lays it out: once more where it is decided again with the same
 * numbers.
 */
export interface BuiltExhibit {
  answered: AnsweredExhibit
  exhibit: Exhibit
  build(answered: AnsweredExhibit): Exhibit
}

/** A report answered, with what decided each cell still at hand. */
export interface DecidedReport {
  /** As it was given, before further sources were joined to home. */
  bound: BoundReport
  report: BoundReport
  page: Page
  /** What its exhibits were asked with. */
  context: QueryContext
  /** In the order of the page. */
  exhibits: readonly AnsweredExhibit[]
  /** The same, with what lays them out. */
  built: readonly BuiltExhibit[]
}
