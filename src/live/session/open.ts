import { shapeReport } from '../../file/shape.js'
import { problem } from '../../problem/input.js'
import { type Problem, ProblemError } from '../../problem/problem.js'
import { bindReport } from '../../report/bind/report.js'
import type { BoundReport } from '../../report/model/bound.js'
import { openBundle, type ReportBundle } from '../../report/transfer/unpack.js'
import { checkShape, type Shape } from '../../shape/shape.js'
import type { ReportSpec } from '../../spec/report.js'
import type { RemoteTable } from '../../summary/contract.js'
import { asSourceTable } from '../../table/as-table.js'
import type { SourceTable } from '../../table/source-table.js'
import type { Table } from '../../table/table.js'

/** The data of a live report. */
export interface ReportInput {
  /**
   * Tables by the names of the report's sources: made by `fromRows` or `fromColumns`, read by
   * `readSource`, a list of rows, or a source that answers itself.
   */
  data: Readonly<Record<string, Table | SourceTable | RemoteTable | readonly object[]>>
  /** Days since 1970-01-01, for a report whose `asOf` is today; nothing is read from a clock. */
  today?: number
}

const INPUT: Shape = { keys: { report: 'anything', data: { each: 'anything' }, 'today?': { is: 'whole' } } }

/**
 * Binds a report to its data.
 *
 * @param call the function that was called, for the path of problems.
 * @throws ProblemError carrying every problem of the report and its data.
 */
export function bindInput(report: ReportSpec, { data, today }: ReportInput, call: string): BoundReport {
  checkShape(INPUT, { report, data, ...(today !== undefined && { today }) }, [call])
  const sources = new Map(
    Object.entries(data).map(([name, table]): [string, SourceTable] => [name, asSourceTable(table, name)]),
  )
  const file = { file: undefined, ...shapeReport(report), place: (p: Problem) => p }
  return bindReport(file, sources, today === undefined ? {} : { today })
}

/**
 * The report of a bundle, or of its text.
 *
 * @throws ProblemError where it is something else, such as the page of an address that is not
 *   there.
 */
export async function readBundle(bundle: string | ReportBundle): Promise<BoundReport> {
  let value: unknown = bundle
  try {
    if (typeof bundle === 'string') value = JSON.parse(bundle)
  } catch {
    value = undefined
  }
  const opened = value as ReportBundle | null | undefined
  if (
    typeof opened === 'object' &&
    opened !== null &&
    Array.isArray(opened.kinds) &&
    typeof opened.sources === 'object'
  )
    return openBundle(opened)
  const shown = typeof bundle === 'string' ? `'${bundle.trim().slice(0, 40)}'` : typeof bundle
  throw new ProblemError([problem('not-carried', { found: shown }, { path: ['bundle'] })])
}
