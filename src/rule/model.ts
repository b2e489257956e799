import type { Order } from '../column/order.js'
import type { Bound, Type } from '../expression/bound.js'
import type { Vector } from '../expression/evaluate.js'
import type { Problem } from '../problem/problem.js'
import type { LevelName, RuleKindKey } from '../spec/rules.js'
import type { BarStyle, CellStyle, Effect } from '../style/cell-style.js'
import type { LegendRamp } from '../style/legend.js'
import type { Extents } from '../style/painting.js'
import type { Table } from '../table/table.js'

/** A bound limit or condition with its canonical text. */
export interface BoundText {
  bound: Bound
  text: string
}

/** The cells of one measure at one level, with the deciding value. */
export interface Judged {
  readonly length: number
  readonly value: Vector
  /** The group of each cell; limits are computed for each group. */
  readonly groups: Int32Array
  readonly groupCount: number
  /** The same, with -1 for cells outside the population. */
  readonly population: Int32Array
  /** The ordered values of each group's population; computed on first use. */
  orders(): readonly Order[]
  /** Evaluates an expression over the cells; numbers are rounded to 14 digits. */
  run(bound: Bound): Vector
  /** Adds a message beside the result, once. */
  note(problem: Problem): void
}

/** The result of a rule: a class for each cell, -1 for none. */
export interface Decided {
  classes: Int16Array
  /** The effect of each class, if it depends on the data. */
  effects?: readonly Effect[]
  bars?: Extents
}

/** Adds a limit to a class; a status in several bands lists them all. */
export function addLimit(limits: string[], gives: number, text: string): void {
  limits[gives] = limits[gives] === undefined ? text : `${limits[gives]} or ${text}`
}

/** The legend of a rule, with a text for each class. */
export interface KindLegend {
  limits: readonly string[]
  ramp?: LegendRamp
  bar?: { positive: BarStyle; negative: BarStyle; text: string }
}

/** Prints judged values. */
export type Print = (value: number) => string

/** The words of a rule's parts, for sentences. */
export interface Phrases {
  /** Whether constant limits are numbers alone, without their words. */
  brief: boolean
  print: Print
  /** A limit with all its digits, if these are few, however few digits values have. */
  exact: Print
  /** A number with as many digits as distinguish it from another. */
  apart(value: number, other: number): string
  /** A limit in words, with its number if it is constant: `€48,000 (80% of target)`. */
  limit(limit: BoundText): string
  /** A limit as a number if it is constant, else in words. */
  amount(limit: BoundText): string
  /** An expression in words; its own text if that is clearer. */
  words(bound: Bound, text: string): string
  /** The result of a class: the label of its status, or its style in words. */
  gives(index: number): string
}

/** A value at which the result of a rule may change, and why. */
export interface Boundary {
  value: number
  what: string
}

/** A comparison at one cell, and its outcome. */
export interface Finding {
  text: string
  /** The number compared with, if there is one. */
  limit?: number
  /** The outcome: null if the comparison could not be made. */
  holds?: boolean | null
  /** Not a comparison, but the conclusion of all: `none of the limits is met`. */
  conclusion?: true
}

/**
 * A kind of rule: a record with the same keys for each kind. To add one, add a folder to `kinds/`
 * and its name to `scripts/schema/registries.js`. Its `check.ts` checks what is written and makes a
 * plan; `fit` computes what depends on the population, and `decide` gives each cell a class, an
 * index into the effects of the rule. A fit can decide other cells, too, so that values outside the
 * data can be tried.
 */
export interface Kind<Plan, Fit> {
  readonly key: RuleKindKey
  /** The expressions of the plan, to find what a rule needs. */
  expressions(plan: Plan): readonly Bound[]
  /** Whether the plan compares cells with each other, even if no expression does. */
  readsPopulation(plan: Plan): boolean
  fit(plan: Plan, judged: Judged): Fit
  decide(plan: Plan, fit: Fit, judged: Judged): Decided
  /**
   * The values at which the class changes, if it depends on the value alone and in steps: then
   * cells are only sorted into steps. Undefined otherwise; called for a single group.
   */
  cuts?(plan: Plan, fit: Fit): readonly number[] | undefined
  /**
   * The ends of bars, for a kind with cuts that draws bars: each cell has its own, whatever its
   * step.
   */
  extents?(plan: Plan, fit: Fit, judged: Judged): Extents
  /** The ends of the scale in each group, for a kind that has one. */
  scale?(fit: Fit): { from: Float64Array; to: Float64Array }
  /**
   * The plan without comparisons between cells, for populations of fewer than two values; undefined
   * if nothing is left. Its classes are those of the whole plan.
   */
  alone?(plan: Plan): Plan | undefined
  legend(plan: Plan, fit: Fit, judged: Judged, telling: Phrases): KindLegend
  /** The rule in words with labels and numbers: `On target at €60,000 or more, Behind below`. */
  describe(plan: Plan, telling: Phrases): string
  /** False if the judged value decides nothing, so that no other values can be tried. */
  readonly judges?: false
  /** The comparisons that led to the class of a cell. */
  explain(plan: Plan, fit: Fit, judged: Judged, cell: number, telling: Phrases): Finding[]
}

/** The trials of a kind for `rehearse`; separate from the kind, as pages do not carry them. */
export interface Trials<Plan, Fit> {
  /** The values at which the result changes, in the group of a cell. */
  boundaries(plan: Plan, fit: Fit, judged: Judged, cell: number, telling: Phrases): Boundary[]
  /** The texts of the plan, if texts are judged. */
  texts?(plan: Plan): string[]
}

/**
 * A rule for one painted measure, field or heading, or for rows; checked, with bound expressions.
 */
export interface BoundRule {
  name: string
  title: string
  /** Its index in the report. */
  index: number
  /** As one line of the grammar of rules: `revenue: at least target → ahead`. */
  text: string
  /** Its target: a measure or field by name, or `ROW`. */
  measure: string
  target: 'measure' | 'field' | 'row'
  /** The measures on one scale with this one, itself included; empty if it is alone. */
  oneScale: readonly string[]
  paused: boolean
  only?: readonly string[]
  levels: readonly LevelName[]
  grain: readonly string[]
  within: readonly string[]
  judge?: BoundText
  /** The type of the judged value. */
  judged: Type
  where?: BoundText
  among?: BoundText
  /** Whether it compares with the cells without the reader's filters. */
  amongUnfiltered?: true
  final: boolean
  /** Whether cells of unfinished periods stay unpainted. */
  skipsUnfinished: boolean
  /** What it hides in the cells that it matches. */
  hide?: 'value' | 'icon'
  /** Whether its icons stand after the number. */
  iconAfter?: true
  // biome-ignore lint/suspicious/noExplicitAny: the plan is known to its kind alone
  kind: Kind<any, any>
  plan: unknown
  /** The effect of each class. */
  effects: readonly Effect[]
  /** The columns that it needs: keys and uniform fields. */
  fields: readonly string[]
  /** The measures that it reads, the painted one included. */
  measures: readonly string[]
  /** Parameters that it reads. */
  parameters: readonly string[]
  /** Whether it compares cells with each other. */
  readsPopulation: boolean
}

/** Judged cells that can be tried with other values. */
export interface JudgedCells extends Judged {
  /**
   * Other values in place of one cell: its group and limits stay the same. There are as many cells
   * as values.
   */
  tried(cell: number, values: Vector, count: number): Judged
}

/** The cached result of a rule, with the parameters it was computed with. */
export interface CachedRun {
  fitted: Fitted | undefined
  result?: RuleResult
  notes: Problem[]
  parameters: ReadonlyMap<string, number>
}

/** Cached results over one table, for other rules and for other values of parameters. */
export interface RunCache {
  /** That many zeros: all cells in one group. Must not be changed. */
  zeros(length: number): Int32Array
  /** The order of a column's values, by the identity of its array. */
  order(values: Float64Array): Order
  /** Frees memory after painting. */
  tidy(): void
  /**
   * Statistics by their text after the name of their population; rules that compare with the same
   * cells share them.
   */
  statistics: Map<string, Vector>
  /** The results of rules that no changed parameter affects. */
  results: Map<unknown, CachedRun>
}

/** Composed styles by their classes, for repeated paintings of a report. */
export interface StyleCache {
  looks: Map<number, CellStyle>
  /**
   * If there are only steps and one more rule: the style of each pair of a step and a class, for
   * the last few sets of steps.
   */
  pairs: Pairs[]
}

export interface Pairs {
  tuples: readonly (Int16Array | undefined)[]
  looks: (CellStyle | undefined)[]
  /** The last result and the pairs it was for: repeated paintings mostly have the same. */
  last?: { met: Uint8Array; looks: CellStyle[] }
}

/** The cells that rules run over: one level of an exhibit, or a plain table. */
export interface Cells {
  /** The exhibit; undefined for a plain table. */
  exhibit?: string
  /**
   * `detail` if both axes are at their deepest, `total` if neither has a key left, else `subtotal`.
   */
  level: LevelName
  /** What is judged: the cells of a table, whole rows, or the headings of a row key. */
  part: 'cells' | 'rows' | 'headings'
  /** The name of the cells in messages: `details`, `totals by region`. */
  levelText: string
  table: Table
  /** The keys that the cells are split by. */
  keys: readonly string[]
  /** Fields that are not uniform in some cell. */
  mixed: ReadonlySet<string>
  parameters: ReadonlyMap<string, number>
  /** Cached results over the table; left out, nothing is cached. */
  runCache?: RunCache
  /** Composed styles, by what is painted. */
  styleCaches?: Map<string, StyleCache>
  /**
   * The same cells without the reader's filters, for rules that compare with them; left out without
   * filters.
   */
  unfiltered?: { cells: Cells; run: RunAmongEverything }
  /**
   * 1 for each cell that a rule leaves unpainted as its period is unfinished; undefined for none.
   */
  unfinished?(rule: BoundRule): Uint8Array | undefined
  /** Runs a rule that compares several measures; given where a report has one. */
  oneScale?(rule: BoundRule, cells: Cells, notes: Problem[]): RuleResult
  /** The rows of the cells, and the row of each cell; left out if every cell is a row. */
  rows?: { cells: Cells; of: Int32Array }
}

/**
 * The result of a rule for one measure: a class for each cell (-1 for none), an index into
 * `effects`.
 */
export interface RuleResult {
  rule: BoundRule
  /** The painted measure: that of the rule, or one of several on one scale. */
  measure: string
  readonly classes: Int16Array
  /** The class of each step, if the value alone decides in steps. */
  stepClasses?: Int16Array
  effects: readonly Effect[]
  bars?: Extents
  judged: JudgedCells
  fit: unknown
  /** The index of a cell among the judged ones. */
  judgedAt(cell: number): number
}

/** A rule with the results of its population. */
export interface Fitted {
  judged: JudgedCells
  fit: unknown
  /** The values at which the class changes, if the value alone decides in steps. */
  cuts?: readonly number[]
}

/**
 * Runs a rule that compares with the cells without the reader's filters. `run` runs a rule over one
 * table; it is a parameter, as this function is loaded only for such rules.
 */
export type RunAmongEverything = (
  rule: BoundRule,
  cells: Cells,
  everything: Cells,
  notes: Problem[],
  run: (rule: BoundRule, cells: Cells, notes: Problem[]) => RuleResult,
) => RuleResult
