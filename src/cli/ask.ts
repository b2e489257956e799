import { resolve } from 'node:path'
import type { ReportFile } from '../file/report-file.js'
import { useReportFile } from '../node/report.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { Io } from './io.js'
import { createProgress } from './progress.js'
import { type SharedOptions, settingsOf } from './settings.js'

/** Options of the commands that answer questions about a report. */
export interface AskOptions extends SharedOptions {
  json?: boolean
  color?: boolean
}

/** The answered report, with the rules and levels that decided each cell. */
export async function decide(
  report: string,
  options: AskOptions,
  io: Io,
): Promise<{ decided: DecidedReport; file: ReportFile }> {
  return decideAnd(report, options, io, async (decided, file) => ({ decided, file }))
}

/**
 * The same, and calls `use` while the sources of the report are open.
 *
 * @param text the text of the report in place of that of the file.
 */
export async function decideAnd<T>(
  report: string,
  options: AskOptions,
  io: Io,
  use: (decided: DecidedReport, file: ReportFile) => Promise<T>,
  text?: string,
): Promise<T> {
  const progress = createProgress(io, options.quiet === true)
  const settings = settingsOf(options, io, progress)
  return useReportFile(resolve(io.cwd, report), settings, report, use, text).finally(() => progress.done())
}

/** Prints results as JSON on standard output; NaN becomes null. */
export function printJson(value: unknown, io: Io): void {
  io.out(`${JSON.stringify(value, null, 2)}\n`)
}
