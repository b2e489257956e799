import type { Problem } from '../problem/problem.js'
import type { ReportSpec } from '../spec/report.js'

/** A report as read: its valid parts, and the problems found so far. */
export interface ReportFile {
  /** The file as the user named it, if it is one. */
  file: string | undefined
  /**
   * Undefined if no part is valid. Invalid rules and exhibits are null; `problems` is then not
   * empty.
   */
  spec: ReportSpec | undefined
  problems: readonly Problem[]
  /** Rule sets of rules, by the index of the rule. */
  sharedRules?: readonly { index: number; file: string }[]
  /** Adds file, line and column to a problem that has a path. */
  place(problem: Problem): Problem
}
