import { resolve } from 'node:path'
import type { ReportFile } from '../file/report-file.js'
import { useReportFile } from '../node/report.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { Io } from './io.js'
import { createProgress } from './progress.js'
import { type SharedOptions, settingsOf } from './settings.js'

/** Options of the commands that ask a report something. */
export interface AskOptions extends SharedOptions {
  json?: boolean
  color?: boolean
}

/** The report answered and decided, with what decided it still at hand. */
export async function decide(
  report: string,
  options: AskOptions,
  io: Io,
): Promise<{ decided: DecidedReport; file: ReportFile }> {
  return decideAnd(report, options, io, async (decided, file) => ({ decided, file }))
}

/** The same for as long as the sources of the report are open. */
export async function decideAnd<T>(
  report: string,
  options: AskOptions,
  io: Io,
  use: (decided: DecidedReport, file: ReportFile) => Promise<T>,
): Promise<T> {
  const progress = createProgress(io, options.quiet === true)
  const settings = settingsOf(options, io, progress)
  return useReportFile(resolve(io.cwd, report), settings, report, use).finally(() => progress.done())
}

/** Results as data, on standard output; numbers that are none are null. */
export function printJson(value: unknown, io: Io): void {
  io.out(`${JSON.stringify(value, null, 2)}\n`)
}
