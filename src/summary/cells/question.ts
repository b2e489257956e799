import type { Bound, BoundAggregate } from '../../expression/bound.js'
import type { Calendar } from '../../time/calendar.js'
import type { PeriodUnit, Span } from '../../time/period.js'
import { type Step, stepsKey } from '../../time/step.js'
import type { Engine, GroupedAnswer, Question } from '../contract.js'
import type { SharedKey } from './align-keys.js'

/** One question to one source. */
export interface SourceQuery {
  engine: Engine
  /** The parts that this source is asked for. */
  parts: readonly BoundAggregate[]
  /**
   * Keys that it can be split by. Cells with another key have no values from it; totals over that
   * key do.
   */
  answers(key: string): boolean
  /** Conditions on rows; all must hold. */
  where: readonly Bound[]
  /** The span of rows, already shifted; left out where time does not matter. */
  span?: Span
  /** The steps from the time of a cell to the time that is read. */
  steps: readonly Step[]
  /** Whether the exhibit is split by week: then a shift by years keeps the ISO week number. */
  weeks: boolean
  /** The span of totals, and the data's span in whole months. */
  time?: { whole: Span; data: Span }
  /** Set for rows that hold in every period, whatever the steps: a lookup table without dates. */
  holdsAlways?: boolean
  /** The period that amounts that hold in every period are for each. */
  per?: PeriodUnit
  /** Whether its groups make no headings: only aggregates that are shown add rows. */
  addsNoRows?: boolean
  /** The period of the source's dates. */
  grain?: PeriodUnit
  /** A span in whole periods of a coarse source. */
  fit?: (span: Span) => Span
}

/** A question with its answer. */
export interface SourceAnswer {
  query: SourceQuery
  groups: GroupedAnswer
  /** For a query without headings: 1 for each group that some heading shows. */
  met?: Uint8Array
  /**
   * Set if cells of different times share rows: the answer is by short periods, and each cell sums
   * those in its window.
   */
  windows?: AnswerWindows
}

/** All answers, with their keys in common domains. */
export interface SourceAnswers {
  list: readonly SourceAnswer[]
  shared: readonly SharedKey[]
  /**
   * The spans of cells: of all rows, and of the axis, which may end after them; and the date of the
   * report.
   */
  time?: { whole: Span; axis: Span; asOf: number; calendar: Calendar }
}

export function questionOf({ where, span }: SourceQuery, keys: readonly string[]): Question {
  return { keys, parts: [], fields: [], where, ...(span === undefined ? {} : { span }) }
}

/** The key of what is evaluated over the same keys at two times. */
export function sameKeysKey(steps: readonly Step[], { by, shift }: Bound & { op: 'sameKeys' }): string {
  return `${stepsKey([...steps, { kind: 'lag', shift }])} ${by}`
}

/** The key of a part at one time: for the present that of the part alone. */
export function partKey(steps: readonly Step[], key: string): string {
  return `${stepsKey(steps)} ${key}`
}

/** The short periods of an answer, from which windows of different lengths are summed. */
export interface AnswerWindows {
  /** The span of each group: one of the periods, cut to the question. */
  days: readonly Span[]
  /**
   * For openings: the number of values of each part in each group, which gives the days that can be
   * opened with.
   */
  counts?: readonly Float64Array[]
  calendar: Calendar
}
