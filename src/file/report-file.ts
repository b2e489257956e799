import type { Problem } from '../problem/problem.js'
import type { ReportSpec } from '../spec/report.js'
import type { RuleSpec } from '../spec/rules.js'

/** A report whose rules are all in keys. */
export interface KeyedReport extends Omit<ReportSpec, 'rules'> {
  rules?: readonly RuleSpec[] | undefined
}

/** A report as read: its valid parts, and the problems found so far. */
export interface ReportFile {
  /** The file as the user named it, if it is one. */
  file: string | undefined
  /**
   * Undefined if no part is valid. Invalid rules and exhibits are null; `problems` is then not
   * empty.
   */
  spec: KeyedReport | undefined
  problems: readonly Problem[]
  /** Rule sets of rules, by the index of the rule. */
  sharedRules?: readonly { index: number; file: string }[]
  /**
   * Its rules, sentences among them read again with the columns of the data: what is called like a
   * column is that column, whatever label is written so.
   */
  rulesWith?(columns: readonly string[]): readonly RuleSpec[]
  /** Adds file, line and column to a problem that has a path. */
  place(problem: Problem): Problem
}
