import { dirname, resolve } from 'node:path'
import type { Settings } from '../assemble/bind.js'
import { answerInMemory } from '../assemble/open.js'
import { type ReportFile, readReport } from '../file/report.js'
import type { Page } from '../page/page.js'
import { type Problem, ProblemError } from '../problem/problem.js'
import { readCsv } from '../source/csv.js'
import type { SourceTable } from '../table/source-table.js'
import { readText } from './files.js'

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
  const source = await readSource(file, path, problems)
  return answerInMemory(file, source, problems, settings)
}

async function readSource(file: ReportFile, path: string, problems: Problem[]): Promise<SourceTable | undefined> {
  const [name, spec] = Object.entries(file.spec?.sources ?? {})[0] ?? []
  if (name === undefined || spec === undefined) return undefined
  try {
    const text = await readText(resolve(dirname(path), spec.file), spec.file)
    return readCsv(text, { file: spec.file, read: spec.read, date: spec.date })
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error
    for (const p of error.problems) {
      // A missing file is told at the line that names it.
      const own = p.code === 'file-missing' || p.code === 'file-unreadable'
      problems.push(own ? file.place({ ...p, place: { path: ['sources', name, 'file'] } }) : p)
    }
    return undefined
  }
}
