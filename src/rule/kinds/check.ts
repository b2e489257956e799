import type { Type } from '../../expression/bound.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import type { Limit, Outcome, RuleSpec, Style } from '../../spec/rules.js'
import type { Effect } from '../../style/cell-style.js'
import type { Palette } from '../../style/palette.js'
import type { Better } from '../../table/table.js'
import type { BoundText } from '../model.js'

/** The interface that a kind uses to check its part of a rule. Checking goes on after a problem. */
export interface Checker {
  /** The type of the judged value. */
  readonly judged: Type
  /** The direction of the judged measure, if it has one. */
  readonly better: Better | undefined
  readonly measure: string
  readonly palette: Palette
  /** What the rule hides in the cells that it matches. */
  readonly hide: Effect['hide']
  /** Whether the icons of the rule stand after the number. */
  readonly iconAfter: boolean
  /**
   * Binds a limit and checks that it is comparable with the judged value. With `extent` it may be
   * lowest or highest.
   */
  limit(limit: Limit, at: Diagnostics, extent?: boolean): BoundText | undefined
  condition(text: string, at: Diagnostics): BoundText | undefined
  /** Any number, of whatever unit. */
  number(text: string, at: Diagnostics): BoundText | undefined
  /** A text column by name. */
  texts(name: string, at: Diagnostics): BoundText | undefined
  /**
   * The class of a status or style, created on first use; undefined after a problem. `refined`
   * replaces channels of a status.
   */
  outcome(outcome: Outcome | undefined, at: Diagnostics, what: string, refined?: Style): number | undefined
  /** Adds a class for an effect of the kind. */
  gives(given: Effect): number
  /** Adds a class for each effect and returns the first; no statuses. */
  givesEach(givens: readonly Effect[]): number
  /** The effect of each status, by its name and its label. */
  statuses(): Map<string, Effect>
  needNumber(what: string, at: Diagnostics): void
  /** Reports an unknown colour, with the nearest pigment. */
  unknownColor(name: string, at: Diagnostics): void
  /** Whether a problem was found already: then expensive parts of the plan are not created. */
  readonly refused: boolean
}

/**
 * The result of a band, rank or part with its place: a status by name, a style, or a status with
 * channels replaced by a style.
 */
export function writtenOutcome(
  { status, style }: { status?: string | undefined; style?: Style | undefined },
  at: Diagnostics,
): { outcome: Outcome | undefined; at: Diagnostics; refined?: Style } {
  if (status === undefined) return { outcome: style, at: style === undefined ? at : at.at('style') }
  return { outcome: status, at: at.at('status'), ...(style !== undefined && { refined: style }) }
}

/** Turns the part of a kind into its plan; undefined after a problem. */
export type Check<Plan> = (spec: RuleSpec, checker: Checker, at: Diagnostics) => Plan | undefined
