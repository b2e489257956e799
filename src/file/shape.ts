import type { Problem } from '../problem/problem.js'
import { validate } from '../shape/shape.js'
import { REPORT_SPEC } from '../shape/table.js'
import type { ReportSpec } from '../spec/report.js'

/**
 * A report tree whose faulty pieces are taken out, so that the rest can be checked in the same go.
 */
export interface Shaped {
  /** Undefined only when nothing of it could be kept. Faulty rules and exhibits are null. */
  spec: ReportSpec | undefined
  problems: Problem[]
}

/** Checks the shape of a tree and tells all that is wrong with it. */
export function shapeReport(tree: unknown): Shaped {
  // What needs these is told once; with stand-ins the rest can still be checked.
  const { value, problems } = validate(REPORT_SPEC, tree, [], { title: '', sources: {}, exhibits: [] })
  return { spec: value as ReportSpec | undefined, problems }
}
