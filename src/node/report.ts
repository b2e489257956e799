import type { Settings } from '../assemble/bind.js'
import { answerFrom } from '../assemble/open.js'
import { readReport } from '../file/report.js'
import type { Page } from '../page/page.js'
import { readText } from './files.js'
import { openSources } from './sources.js'

/**
 * Reads a report file and its data, and answers it. Paths in the report are relative to it.
 *
 * @param shown how the user named the file, for problems; default: the path.
 * @throws ProblemError carrying every problem of the report and its data.
 */
export async function openReportFile(path: string, settings: Settings = {}, shown: string = path): Promise<Page> {
  const text = await readText(path, shown)
  const file = readReport(text, shown)
  const opened = await openSources(file, path, process.env, settings.progress)
  try {
    return await answerFrom(file, opened.read, opened.problems, settings)
  } finally {
    await opened.close()
  }
}
