import { bindInput, type ReportInput, readBundle } from './live/session/open.js'
import { checkPort, type SessionPort, serveSession } from './live/session/port.js'
import { createSession } from './live/session/session.js'
import type { ReportBundle } from './report/transfer/unpack.js'
import type { ReportSpec } from './spec/report.js'

export type { ReportInput } from './live/session/open.js'
export type { SessionPort } from './live/session/port.js'

/**
 * Answers a live report in this thread for a page in another one, which calls `mountSession` of
 * `acuarela/live` with the other end of the port. In a worker the port is `self`. If the report is
 * refused, the page gets the same problems.
 *
 * @returns what ends it; a page that takes its report away ends it, too.
 * @throws ProblemError carrying every problem of the report and its data.
 */
export async function serveReport(port: SessionPort, report: ReportSpec, input: ReportInput): Promise<() => void> {
  checkPort(port, 'serveReport')
  return serve(port, async () => bindInput(report, input ?? {}, 'serveReport'))
}

/**
 * The same for a report that a server has read and bound, as `bundleReportFile` of `acuarela/node`
 * gives it: its text, or what is parsed from that.
 *
 * @returns what ends it; a page that takes its report away ends it, too.
 * @throws ProblemError where it is something else.
 */
export async function serveBundle(port: SessionPort, bundle: string | ReportBundle): Promise<() => void> {
  checkPort(port, 'serveBundle')
  return serve(port, () => readBundle(bundle))
}

async function serve(port: SessionPort, open: () => Promise<Parameters<typeof createSession>[0]>): Promise<() => void> {
  const session = open().then(createSession)
  const stop = serveSession(port, session)
  await session
  return stop
}
