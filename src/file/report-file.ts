import type { Problem } from '../problem/problem.js'
import type { ReportSpec } from '../spec/report.js'

/** A report as read: what could be kept of it, and everything found wrong so far. */
export interface ReportFile {
  /** The file as the user named it, if it is one. */
  file: string | undefined
  /**
   * Undefined when nothing could be kept. Faulty rules and exhibits are null; `problems` is then
   * not empty.
   */
  spec: ReportSpec | undefined
  problems: readonly Problem[]
  /** Rules that come from a rule set, by their place among all. */
  sharedRules?: readonly { index: number; file: string }[]
  /** Adds file, line and column to a problem that knows its place in the tree. */
  place(problem: Problem): Problem
}
