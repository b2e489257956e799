import type { Bound, BoundAggregate } from '../../expression/bound.js'
import type { Calendar } from '../../time/calendar.js'
import type { Span } from '../../time/period.js'
import { type Step, stepsKey } from '../../time/step.js'
import type { Engine, GroupedAnswer, Question } from '../contract.js'
import type { SharedKey } from './align-keys.js'

/** One question to one source. */
export interface SourceQuery {
  engine: Engine
  /** The parts that this source is asked for. */
  parts: readonly BoundAggregate[]
  /**
   * Keys it can be split by; cells split by another have no values from it, totals over that key
   * do.
   */
  answers(key: string): boolean
  /** Conditions on rows; all must hold. */
  where: readonly Bound[]
  /** What counts, already moved back; left out where time does not matter. */
  span?: Span
  /** The way from the time that a cell stands for to the one it is asked about. */
  steps: readonly Step[]
  /** Whether the exhibit is split by week: weeks then move by years by their ISO number. */
  weeks: boolean
  /** What a total spans now, and the source's days in whole months. */
  time?: { whole: Span; data: Span }
  /** A span in whole periods of a coarse source. */
  fit?: (span: Span) => Span
}

/** An asking with its answer. */
export interface SourceAnswer {
  query: SourceQuery
  groups: GroupedAnswer
  /**
   * Where cells of different times share rows: the answer is by small periods, and each cell takes
   * those in its window.
   */
  windows?: AnswerWindows
}

/** All answers, their keys on one domain each. */
export interface SourceAnswers {
  list: readonly SourceAnswer[]
  shared: readonly SharedKey[]
}

export function questionOf({ where, span }: SourceQuery, keys: readonly string[]): Question {
  return { keys, parts: [], fields: [], where, ...(span === undefined ? {} : { span }) }
}

/** A part at one time: values of the present have the part's key alone. */
export function partKey(steps: readonly Step[], key: string): string {
  return `${stepsKey(steps)} ${key}`
}

/**
 * The small periods that an answer is given by, so that windows of different length can be made of
 * them.
 */
export interface AnswerWindows {
  /** The days of each group: one of the periods, inside what was asked. */
  days: readonly Span[]
  /**
   * For openings: how many values each part has in each group, which tells the days that it can
   * open with.
   */
  counts?: readonly Float64Array[]
  calendar: Calendar
}
