import type { ReportFile } from '../file/report.js'
import type { Page } from '../page/page.js'
import { type Problem, ProblemError } from '../problem/problem.js'
import type { SourceTable } from '../table/source-table.js'
import { isZone } from '../time/zone.js'
import { answerReport } from './answer.js'
import { bindReport, checkReport, type Settings } from './bind.js'

/**
 * Answers a report from its sources. Problems met while reading the data are told together with the report's own.
 *
 * @throws ProblemError carrying every problem.
 */
export async function answerFrom(
  file: ReportFile,
  sources: ReadonlyMap<string, SourceTable>,
  problems: readonly Problem[],
  settings: Settings,
): Promise<Page> {
  if (problems.length > 0) throw new ProblemError([...problems, ...checkReport(file, sources, settings)])
  const bound = bindReport(file, sources, settings)
  return answerReport(bound)
}

/** A problem of reading a source, told at its place in the report where it has one there. */
export function atSource(p: Problem, source: string, file: ReportFile): Problem {
  const named = p.code === 'file-missing' || p.code === 'file-unreadable' || p.code === 'no-files'
  if (named) return file.place({ ...p, place: { path: ['sources', source, 'file'] } })
  const { path } = p.place
  return path === undefined ? p : file.place({ ...p, place: { path: ['sources', source, ...path] } })
}

/** How the report says a source is read. */
export function readOptions(
  { spec }: ReportFile,
  name: string,
): { file?: string; read?: Record<string, string>; date?: string; strict?: boolean; zone?: string } {
  const { file, read, date, strict } = spec?.sources[name] ?? {}
  const zone = spec?.calendar?.zone
  return {
    ...(file === undefined ? {} : { file: file === 'stdin' ? 'standard input' : file }),
    ...(read === undefined ? {} : { read }),
    ...(date === undefined ? {} : { date }),
    ...(strict === undefined ? {} : { strict }),
    // A zone that is none is told with the report's own problems.
    ...(zone === undefined || !isZone(zone) ? {} : { zone }),
  }
}
