import { dirname } from 'node:path'
import type { Settings } from '../assemble/bind.js'
import { answerFrom, atSource } from '../assemble/open.js'
import { type ReportFile, readReport } from '../file/report.js'
import type { Page } from '../page/page.js'
import { type Problem, ProblemError } from '../problem/problem.js'
import { readSource } from '../source/read.js'
import type { SourceTable } from '../table/source-table.js'
import { readText } from './files.js'
import { readSourceFiles } from './source-files.js'

/**
 * Reads a report file and its data, and answers it. Paths in the report are relative to it.
 *
 * @param shown how the user named the file, for problems; default: the path.
 * @throws ProblemError carrying every problem of the report and its data.
 */
export async function openReportFile(path: string, settings: Settings = {}, shown: string = path): Promise<Page> {
  const text = await readText(path, shown)
  const file = readReport(text, shown)
  const problems: Problem[] = []
  const read = await readRows(file, path, problems)
  return answerFrom(file, read, problems, settings)
}

async function readRows(file: ReportFile, path: string, problems: Problem[]): Promise<Map<string, SourceTable>> {
  const read = new Map<string, SourceTable>()
  for (const [name, spec] of Object.entries(file.spec?.sources ?? {})) {
    try {
      const files = await readSourceFiles(spec.file, dirname(path))
      read.set(name, readSource(files, spec.file === 'stdin' ? { ...spec, file: 'standard input' } : spec))
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error
      problems.push(...error.problems.map((p) => atSource(p, name, file)))
    }
  }
  return read
}
