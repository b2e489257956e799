import type { Problem } from '../problem/problem.js'
import { validate } from '../shape/shape.js'
import { REPORT_SPEC } from '../shape/table.js'
import type { KeyedReport } from './report-file.js'

/** A report without its invalid parts, so that the rest can be checked in the same run. */
export interface Shaped {
  /** Undefined only if no part is valid. Invalid rules and exhibits are null. */
  spec: KeyedReport | undefined
  problems: Problem[]
}

/** Checks the shape of a report and returns all problems. */
export function shapeReport(tree: unknown): Shaped {
  // A missing part is reported once; with a stand-in the rest can still be checked.
  const { value, problems } = validate(REPORT_SPEC, tree, [], { title: '', sources: {}, exhibits: [] })
  return { spec: value as KeyedReport | undefined, problems }
}
