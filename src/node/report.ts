import { dirname, resolve } from 'node:path'
import type { DecidedReport } from '../assemble/answer.js'
import type { Settings } from '../assemble/bind.js'
import { decideFrom } from '../assemble/open.js'
import { type ReportFile, readReport } from '../file/report.js'
import type { Page } from '../page/page.js'
import { readText } from './files.js'
import { createPictureReader } from './pictures.js'
import { openSources } from './sources.js'

/**
 * Reads a report file and its data, and answers it. Paths in the report are relative to it.
 *
 * @param shown how the user named the file, for problems; default: the path.
 * @throws ProblemError carrying every problem of the report and its data.
 */
export async function openReportFile(path: string, settings: Settings = {}, shown: string = path): Promise<Page> {
  return (await decideReportFile(path, settings, shown)).decided.page
}

/** The rule sets that a report uses, from paths relative to it; one that cannot be read is told with the report's own problems. */
async function readRuleSets(text: string, path: string): Promise<Map<string, string>> {
  const names = readReport(text).spec?.uses ?? []
  const found = new Map<string, string>()
  for (const name of names) {
    const own = await readText(resolve(dirname(path), name), name).catch(() => undefined)
    if (own !== undefined) found.set(name, own)
  }
  return found
}

/** The same, with what decided each cell still at hand, and the file itself. */
export async function decideReportFile(
  path: string,
  settings: Settings = {},
  shown: string = path,
): Promise<{ decided: DecidedReport; file: ReportFile }> {
  const text = await readText(path, shown)
  const sets = await readRuleSets(text, path)
  const file = readReport(text, shown, (name) => sets.get(name))
  const opened = await openSources(file, path, process.env, settings.progress)
  try {
    const all = { ...settings, picture: settings.picture ?? createPictureReader(path) }
    return { decided: await decideFrom(file, opened.read, opened.problems, all), file }
  } finally {
    await opened.close()
  }
}
