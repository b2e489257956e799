import type { ReportFile } from '../file/report.js'
import type { Page } from '../page/page.js'
import { type Problem, ProblemError } from '../problem/problem.js'
import { createMemoryEngine } from '../summary/memory.js'
import type { SourceTable } from '../table/source-table.js'
import { answerReport } from './answer.js'
import { bindReport, checkReport, type Settings } from './bind.js'

/**
 * Answers a report with its data in memory. Problems met while reading the data are told together with the report's own.
 *
 * @throws ProblemError carrying every problem.
 */
export async function answerInMemory(
  file: ReportFile,
  source: SourceTable | undefined,
  problems: readonly Problem[],
  settings: Settings,
): Promise<Page> {
  if (source === undefined || problems.length > 0)
    throw new ProblemError([...problems, ...checkReport(file, source, settings)])
  const bound = bindReport(file, source, settings)
  return answerReport(bound, createMemoryEngine(bound.table, bound.date))
}
