import { createHash } from 'node:crypto'
import type { ReportFile } from '../file/report-file.js'
import { type Problem, problem } from '../problem/problem.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { Settings } from '../report/model/bound.js'
import { embedFrom } from '../report/open.js'
import { packReport } from '../report/transfer/pack.js'
import type { SourceTable } from '../table/source-table.js'
import type { LiveParts } from '../view/html/document.js'
import { LIVE_STYLE } from '../view/html/live-sheet.js'
import { linkRuntime, modulesFor } from './runtime.js'

/** The bundle of a live page. */
export interface PageBundle {
  /** JSON for the runtime. */
  data: string
  /** The modules of the runtime that the page may need. */
  modules: readonly string[]
}

/**
 * Answers a report and makes the bundle of its live page, with a description of the bundle's
 * contents.
 */
export async function bundleReport(
  file: ReportFile,
  opened: { read: ReadonlyMap<string, SourceTable>; problems: readonly Problem[] },
  settings: Settings,
): Promise<{ decided: DecidedReport; live: PageBundle; carried: string[] }> {
  const pictures: Record<string, string> = {}
  const { picture } = settings
  const { decided, stored, carried } = await embedFrom(file, opened.read, opened.problems, {
    ...settings,
    ...(picture && {
      picture: (name) => {
        const dataUrl = picture(name)
        if (typeof dataUrl === 'string') pictures[name] = dataUrl
        return dataUrl
      },
    }),
  })
  const sources = Object.entries(stored).map(([name, source]) => ({ name, json: JSON.stringify(source) }))
  const report = packReport(decided.bound, stored, pictures)
  const kinds = JSON.stringify([...new Set(decided.bound.rules.map(({ kind }) => kind.key))])
  const data = `{"kinds":${kinds},"report":${report},"sources":{${sources.map(({ name, json }) => `${JSON.stringify(name)}:${json}`).join(',')}}}`
  const problems = carried.map((columns, s) => {
    const { rows, groups, ...params } = { ...columns, bytes: sources[s].json.length }
    return groups === undefined
      ? problem('note-carries-rows', { ...params, rows })
      : problem('note-carries-groups', { ...params, groups, rows })
  })
  return {
    decided,
    live: { data, modules: modulesFor(decided, stored) },
    carried: problems.map(({ message }) => message),
  }
}

/** The runtime with the parts that a page needs, and its hash. */
export function liveParts({ data, modules }: PageBundle): LiveParts {
  const script = linkRuntime(modules)
  return { style: LIVE_STYLE, script, hash: createHash('sha256').update(script).digest('base64'), data }
}
