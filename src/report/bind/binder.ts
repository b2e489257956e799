import type { ReportFile } from '../../file/report-file.js'
import { ProblemError, refuse } from '../../problem/problem.js'
import type { SourceTable } from '../../table/source-table.js'
import type { BoundReport, Settings } from '../model/bound.js'
import { bind } from './report.js'
import { bindSources, type SourceNames } from './sources.js'

/**
 * Binds versions of a report one after the other, as an editor does. While sources, fields and
 * calendar stay the same, so do the engines with the answers that they know: a version with other
 * rules asks nothing again.
 */
export function createBinder(): (
  report: ReportFile,
  sources: ReadonlyMap<string, SourceTable>,
  settings?: Settings,
) => BoundReport {
  let kept: { key: string; read: ReadonlyMap<string, SourceTable>; data: SourceNames } | undefined
  const bindData: typeof bindSources = (spec, read, context, diagnostics) => {
    const key = JSON.stringify([spec.sources, spec.fields, context.calendar])
    const isKept =
      kept?.key === key &&
      kept.read.size === read.size &&
      [...read].every(([name, one]) => kept?.read.get(name) === one)
    if (isKept && kept !== undefined) return kept.data
    const known = diagnostics.problems.length
    const data = bindSources(spec, read, context, diagnostics)
    kept = diagnostics.problems.length === known ? { key, read: new Map(read), data } : undefined
    return data
  }
  return (report, sources, settings = {}) => {
    const { bound, problems } = bind(report, sources, settings, bindData)
    refuse(problems)
    if (bound === undefined) throw new ProblemError([])
    return bound
  }
}
