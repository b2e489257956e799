import type { Bound, Type } from '../expression/bound.js'
import type { Vector } from '../expression/evaluate.js'
import type { LegendRamp } from '../look/legend.js'
import type { Given } from '../look/look.js'
import type { Path, Problem } from '../problem/problem.js'
import type { Better } from '../table/table.js'
import type { Limit, Outcome, RuleSpec } from './spec.js'
import type { Tell } from './tell.js'

/** A limit or condition, bound, with its canonical text for readers. */
export interface BoundText {
  bound: Bound
  text: string
}

/** What a kind is given to check its part of a rule. All problems go the same way; checking goes on after one. */
export interface Checker {
  /** What the judged value is. */
  readonly judged: Type
  /** The direction of the judged measure, if it has one. */
  readonly better: Better | undefined
  readonly measure: string
  /** Binds a limit and sees that it can be compared with the judged value. `extent` lets it name lowest and highest. */
  limit(limit: Limit, at: Path, extent?: boolean): BoundText | undefined
  condition(text: string, at: Path): BoundText | undefined
  /** The class that gives a status or style, made when new; undefined after a problem. */
  outcome(outcome: Outcome | undefined, at: Path, what: string): number | undefined
  /** Adds a class for a given made by the kind itself. */
  gives(given: Given): number
  needNumber(what: string, at: Path): void
  readonly tell: Tell
}

/** What a band, rank or part gives, and where that is written: a status by name, or a style. */
export function writtenOutcome(
  spec: { status?: string; style?: Outcome },
  at: Path,
): { outcome: Outcome | undefined; at: Path } {
  if (spec.status !== undefined) return { outcome: spec.status, at: [...at, 'status'] }
  return { outcome: spec.style, at: spec.style === undefined ? at : [...at, 'style'] }
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
  /** Runs an expression over the cells; numbers come back rounded to 14 digits. */
  run(bound: Bound): Vector
  /** Says something beside the result, once. */
  note(problem: Problem): void
}

/** Adds a limit to a class; a status that stands in several bands keeps them all. */
export function addLimit(limits: string[], gives: number, text: string): void {
  limits[gives] = limits[gives] === undefined ? text : `${limits[gives]} or ${text}`
}

/** What a legend says of a rule, a text a class. */
export interface KindLegend {
  limits: readonly string[]
  ramp?: LegendRamp
}

/** Prints judged values. */
export type Print = (value: number) => string

/**
 * A kind of rule: a record with the same keys as its siblings. Adding one is a new file and a line in `kinds/index.ts`.
 * `check` turns the spec into a plan, `run` gives each cell a class (an index into the rule's givens, -1 for none).
 */
export interface Kind<Plan> {
  readonly key: 'bands' | 'gradient' | 'rank'
  check(spec: RuleSpec, checker: Checker, at: Path): Plan | undefined
  /** Expressions of the plan, for what a rule needs. */
  expressions(plan: Plan): readonly Bound[]
  /** Whether the plan compares cells with each other even where no expression says so. */
  readsPopulation(plan: Plan): boolean
  run(plan: Plan, judged: Judged): Int16Array
  legend(plan: Plan, judged: Judged, print: Print): KindLegend
}
