import type { Type } from '../../expression/bound.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import type { Limit, Outcome, RuleSpec, Style } from '../../spec/rules.js'
import type { Effect } from '../../style/cell-style.js'
import type { Palette } from '../../style/palette.js'
import type { Better } from '../../table/table.js'
import type { BoundText } from '../model.js'

/**
 * What a kind is given to check its part of a rule. All problems go the same way; checking goes on
 * after one.
 */
export interface Checker {
  /** What the judged value is. */
  readonly judged: Type
  /** The direction of the judged measure, if it has one. */
  readonly better: Better | undefined
  readonly measure: string
  readonly palette: Palette
  /** What the rule hides of the cells that it matches. */
  readonly hide: Effect['hide']
  /**
   * Binds a limit and sees that it can be compared with the judged value. `extent` lets it name
   * lowest and highest.
   */
  limit(limit: Limit, at: Diagnostics, extent?: boolean): BoundText | undefined
  condition(text: string, at: Diagnostics): BoundText | undefined
  /** A text column by name. */
  texts(name: string, at: Diagnostics): BoundText | undefined
  /**
   * The class that gives a status or style, made when new; undefined after a problem. `refined`
   * replaces channels of a status.
   */
  outcome(outcome: Outcome | undefined, at: Diagnostics, what: string, refined?: Style): number | undefined
  /** Adds a class for a given made by the kind itself. */
  gives(given: Effect): number
  /** The first of the classes that give these, one after the other; no statuses. */
  givesEach(givens: readonly Effect[]): number
  /** What each status gives, by its name and its label. */
  statuses(): Map<string, Effect>
  needNumber(what: string, at: Diagnostics): void
  /** Tells a colour that is none, with the pigment that may be meant. */
  unknownColor(name: string, at: Diagnostics): void
  /**
   * Whether a problem was found already: what is dear to make is not made for a rule that will not
   * run.
   */
  readonly refused: boolean
}

/**
 * What a band, rank or part gives, and where that is written: a status by name, a style, or a
 * status that a style refines.
 */
export function writtenOutcome(
  { status, style }: { status?: string | undefined; style?: Style | undefined },
  at: Diagnostics,
): { outcome: Outcome | undefined; at: Diagnostics; refined?: Style } {
  if (status === undefined) return { outcome: style, at: style === undefined ? at : at.at('style') }
  return { outcome: status, at: at.at('status'), ...(style !== undefined && { refined: style }) }
}

/** Turns what a kind has to say into its plan; undefined after a problem. */
export type Check<Plan> = (spec: RuleSpec, checker: Checker, at: Diagnostics) => Plan | undefined
