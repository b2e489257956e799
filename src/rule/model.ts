import type { Order } from '../column/order.js'
import type { Bound, Type } from '../expression/bound.js'
import type { Vector } from '../expression/evaluate.js'
import type { Problem } from '../problem/problem.js'
import type { LevelName, RuleKindKey } from '../spec/rules.js'
import type { BarStyle, CellStyle, Effect } from '../style/cell-style.js'
import type { LegendRamp } from '../style/legend.js'
import type { Extents } from '../style/painting.js'
import type { Table } from '../table/table.js'

/** A limit or condition, bound, with its canonical text for readers. */
export interface BoundText {
  bound: Bound
  text: string
}

/** The cells of one measure at one pair of levels, with the value that decides. */
export interface Judged {
  readonly length: number
  readonly value: Vector
  /** The group of each cell; a kind reads its limits by it. */
  readonly groups: Int32Array
  readonly groupCount: number
  /** The same, with -1 for cells that do not count in the population. */
  readonly population: Int32Array
  /**
   * The judged values of each group's population by their places; worked out when first asked for.
   */
  orders(): readonly Order[]
  /** Runs an expression over the cells; numbers come back rounded to 14 digits. */
  run(bound: Bound): Vector
  /** Says something beside the result, once. */
  note(problem: Problem): void
}

/** What a rule decided: a class a cell, -1 for none. */
export interface Decided {
  classes: Int16Array
  /** Where classes depend on the data: what each gives, instead of the rule's own. */
  effects?: readonly Effect[]
  bars?: Extents
}

/** Adds a limit to a class; a status that stands in several bands keeps them all. */
export function addLimit(limits: string[], gives: number, text: string): void {
  limits[gives] = limits[gives] === undefined ? text : `${limits[gives]} or ${text}`
}

/** What a legend says of a rule, a text a class. */
export interface KindLegend {
  limits: readonly string[]
  ramp?: LegendRamp
  bar?: { positive: BarStyle; negative: BarStyle; text: string }
}

/** Prints judged values. */
export type Print = (value: number) => string

/** Words for a rule's parts, for sentences. */
export interface Phrases {
  print: Print
  /** A limit as it is: with all its digits where these are few, however few are shown of values. */
  exact: Print
  /** A number with as many digits as tell it apart from another. */
  apart(value: number, other: number): string
  /**
   * A limit in words, with its number where it is one whatever the data: `€48,000 (80% of target)`.
   */
  limit(limit: BoundText): string
  /** A limit as a number where it is one whatever the data, else in words. */
  amount(limit: BoundText): string
  /** An expression in words; its own text where it has none that say it better. */
  words(bound: Bound, text: string): string
  /** What a class gives: the label of its status, or its style in words. */
  gives(index: number): string
}

/** A value at which what a rule gives may change, and why. */
export interface Boundary {
  value: number
  what: string
}

/** What a rule found at one cell: what was compared, and how it came out. */
export interface Finding {
  text: string
  /** The number compared with, where there is one. */
  limit?: number
  /** How the comparison came out: null where it could not be made. */
  holds?: boolean | null
  /** Not a comparison, but what follows from all of them: `none of the limits is met`. */
  conclusion?: true
}

/**
 * A kind of rule: a record with the same keys as its siblings. Adding one is a folder in `kinds/`
 * and its name in `scripts/schema/registries.js`. What checks the
 * spec and turns it into a plan stands in its `check.ts`; `fit` works out what depends on the
 * population, and `decide` gives each cell a class: an index into the rule's effects. A fit decides
 * over other cells as well, so that values can be tried that the data do not hold.
 */
export interface Kind<Plan, Fit> {
  readonly key: RuleKindKey
  /** Expressions of the plan, for what a rule needs. */
  expressions(plan: Plan): readonly Bound[]
  /** Whether the plan compares cells with each other even where no expression says so. */
  readsPopulation(plan: Plan): boolean
  fit(plan: Plan, judged: Judged): Fit
  decide(plan: Plan, fit: Fit, judged: Judged): Decided
  /**
   * The values from which on something else is given, where the value of the cell alone decides and
   * does so by steps: then its cells need only be sorted into these steps. Undefined where it is
   * not so; one group alone is asked for.
   */
  cuts?(plan: Plan, fit: Fit): readonly number[] | undefined
  /**
   * Where bars begin and end, for a kind with cuts that draws some: these are each cell's own,
   * whatever its step.
   */
  extents?(plan: Plan, fit: Fit, judged: Judged): Extents
  /** The ends of a kind's scale in each group, for a kind that has one. */
  scale?(fit: Fit): { from: Float64Array; to: Float64Array }
  /**
   * The plan without all that compares cells with each other, for populations of fewer than two
   * values; undefined where nothing is left. Its classes are those of the whole plan.
   */
  alone?(plan: Plan): Plan | undefined
  legend(plan: Plan, fit: Fit, judged: Judged, telling: Phrases): KindLegend
  /** What it does, in words with labels and numbers: `On target at €60,000 or more, Behind below`. */
  describe(plan: Plan, telling: Phrases): string
  /** False where the judged value decides nothing, so that no others can be tried in its place. */
  readonly judges?: false
  /** How it came to what it gave a cell. */
  explain(plan: Plan, fit: Fit, judged: Judged, cell: number, telling: Phrases): Finding[]
}

/** What `rehearse` tries of a kind; apart from the kind, as pages do without it. */
export interface Trials<Plan, Fit> {
  /** Values of the cell's group at which something changes. */
  boundaries(plan: Plan, fit: Fit, judged: Judged, cell: number, telling: Phrases): Boundary[]
  /** Texts that the plan names, where texts are judged. */
  texts?(plan: Plan): string[]
}

/**
 * A rule for one painted measure, field or header, or for rows; checked, its expressions bound:
 * ready to be run over any cells.
 */
export interface BoundRule {
  name: string
  title: string
  /** Where it stands in the report, counted from 0. */
  index: number
  /** As one line of the grammar of rules: `revenue: at least target → ahead`. */
  text: string
  /** What it paints: a measure or field by name, or `ROW`. */
  measure: string
  target: 'measure' | 'field' | 'row'
  /**
   * The measures that are one population with this one, itself among them; empty where it is alone.
   */
  oneScale: readonly string[]
  paused: boolean
  only?: readonly string[]
  levels: readonly LevelName[]
  grain: readonly string[]
  within: readonly string[]
  judge?: BoundText
  /** What the judged value is. */
  judged: Type
  where?: BoundText
  among?: BoundText
  /** Whether it is compared with everything before the reader's filters. */
  amongUnfiltered?: true
  final: boolean
  /** What of the cells that it matches is taken off the page. */
  hide?: 'value' | 'icon'
  // biome-ignore lint/suspicious/noExplicitAny: the plan is known to its kind alone
  kind: Kind<any, any>
  plan: unknown
  /** What each class gives. */
  effects: readonly Effect[]
  /** Columns that must be answerable on the cells: keys and agreed fields. */
  fields: readonly string[]
  /** Measures read, the painted one included. */
  measures: readonly string[]
  /** Parameters that it reads. */
  parameters: readonly string[]
  /** Whether cells are compared with each other. */
  readsPopulation: boolean
}

/** Judged cells that can be asked what they would be with other values. */
export interface JudgedCells extends Judged {
  /**
   * Values tried at the place of one cell: what it is compared with stays as it is. As many cells
   * as values, in the group of that one.
   */
  tried(cell: number, values: Vector, count: number): Judged
}

/** A rule as it was run, with the parameters that were in force. */
export interface CachedRun {
  fitted: Fitted | undefined
  result?: RuleResult
  notes: Problem[]
  parameters: ReadonlyMap<string, number>
}

/**
 * What was worked out over one table and may be asked for again, by another rule or after a
 * parameter moved.
 */
export interface RunCache {
  /** As many zeros: everything in one group. Not to be written to. */
  zeros(length: number): Int32Array
  /** The order of a column's values, by the list itself. */
  order(values: Float64Array): Order
  /** To be called when painting is done: gives back what it took meanwhile. */
  tidy(): void
  /**
   * Statistics, by their text behind what tells the population; rules that compare with the same
   * cells share them.
   */
  statistics: Map<string, Vector>
  /** What rules gave that no parameter moves. */
  results: Map<unknown, CachedRun>
}

/**
 * Looks that were settled before, by the classes that make them: the same report is painted again
 * and again.
 */
export interface StyleCache {
  looks: Map<number, CellStyle>
  /**
   * Where steps and one more rule are all: the look of each pair of a step and a class, by what the
   * steps give; the last few such.
   */
  pairs: Pairs[]
}

export interface Pairs {
  tuples: readonly (Int16Array | undefined)[]
  looks: (CellStyle | undefined)[]
  /** What was made last, and for which of them: painted again, it is mostly the same. */
  last?: { met: Uint8Array; looks: CellStyle[] }
}

/** The cells that rules are run over: one pair of levels of an exhibit, or a plain table. */
export interface Cells {
  /** The exhibit they belong to; undefined for a plain table. */
  exhibit?: string
  /**
   * `detail` where both axes are at their deepest, `total` where neither has a key left, else
   * `subtotal`.
   */
  level: LevelName
  /** What is judged: cells of a table, whole rows, or the headings of a row key. */
  part: 'cells' | 'rows' | 'headings'
  /** The cells for readers of messages: `details`, `totals by region`. */
  levelText: string
  table: Table
  /** The keys that the cells are split by. */
  keys: readonly string[]
  /** Fields that differ inside some cell. */
  mixed: ReadonlySet<string>
  parameters: ReadonlyMap<string, number>
  /**
   * What was worked out over the table before; left out, nothing is kept from one painting to the
   * next.
   */
  runCache?: RunCache
  /** Looks settled before, by what is painted. */
  styleCaches?: Map<string, StyleCache>
  /**
   * The same cells before the reader's filters, for rules that compare with everything; left out
   * where nothing is filtered.
   */
  unfiltered?: { cells: Cells; run: RunAmongEverything }
  /**
   * The rows that the cells lie in, and the row of each cell; left out where every cell is a row of
   * its own.
   */
  rows?: { cells: Cells; of: Int32Array }
}

/** What a rule gave one measure: a class a cell (-1 for none) into `effects`. */
export interface RuleResult {
  rule: BoundRule
  /** What was painted: the rule's own, or one of several that are one population. */
  measure: string
  readonly classes: Int16Array
  /** Where steps of the value decide alone: the class of each. */
  stepClasses?: Int16Array
  effects: readonly Effect[]
  bars?: Extents
  judged: JudgedCells
  fit: unknown
  /** Where a cell stands among the judged ones. */
  judgedAt(cell: number): number
}

/** A rule with all that it has to know of its population. */
export interface Fitted {
  judged: JudgedCells
  fit: unknown
  /** Values at which something changes, where steps of the value decide alone. */
  cuts?: readonly number[]
}

/**
 * Runs a rule that compares with the cells there were before the reader's filters. `run` runs a
 * rule over one table; it is passed in, as what this does is loaded only where some rule needs it.
 */
export type RunAmongEverything = (
  rule: BoundRule,
  cells: Cells,
  everything: Cells,
  notes: Problem[],
  run: (rule: BoundRule, cells: Cells, notes: Problem[]) => RuleResult,
) => RuleResult
