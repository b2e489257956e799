import { createHash } from 'node:crypto'
import { deflateRawSync } from 'node:zlib'
import type { ReportFile } from '../file/report-file.js'
import { type Problem, problem } from '../problem/problem.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { Settings } from '../report/model/bound.js'
import { embedFrom } from '../report/open.js'
import { packReport } from '../report/transfer/pack.js'
import { packSources } from '../report/transfer/pack-lists.js'
import type { StoredSource } from '../summary/memory/stored.js'
import type { SourceTable } from '../table/source-table.js'
import type { LiveParts } from '../view/html/document.js'
import { LIVE_STYLE } from '../view/html/live-sheet.js'
import { linkRuntime, modulesFor } from './runtime.js'

/** The bundle of a live page. */
export interface PageBundle {
  /** JSON for the runtime, with all lists as JSON. */
  json(): string
  /** The same with long lists as bytes: deflated, in base64; empty where none is long. */
  packed(): { data: string; bytes: string }
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
  const report = packReport(decided.bound, stored, pictures)
  const kinds = JSON.stringify([...new Set(decided.bound.rules.map(({ kind }) => kind.key))])
  const dataOf = (sources: unknown): string =>
    `{"kinds":${kinds},"report":${report},"sources":${JSON.stringify(sources)}}`
  const problems = carried.map((columns) => {
    const { rows, groups, ...params } = { ...columns, bytes: sizeOf({ [columns.source]: stored[columns.source] }) }
    return groups === undefined
      ? problem('note-carries-rows', { ...params, rows })
      : problem('note-carries-groups', { ...params, groups, rows })
  })
  return {
    decided,
    live: {
      json: () => dataOf(stored),
      packed() {
        const { sources, bytes } = packSources(stored)
        return { data: dataOf(sources), bytes: deflated(bytes) }
      },
      modules: modulesFor(decided, stored),
    },
    carried: problems.map(({ message }) => message),
  }
}

/** The size of a source in a page, in bytes. */
function sizeOf(stored: Readonly<Record<string, StoredSource>>): number {
  const { sources, bytes } = packSources(stored)
  return JSON.stringify(sources).length + deflated(bytes, 1).length
}

function deflated(bytes: Uint8Array, level = 9): string {
  return bytes.length === 0 ? '' : deflateRawSync(bytes, { level }).toString('base64')
}

/** The runtime with the parts that a page needs, and its hash. */
export function liveParts({ packed, modules }: PageBundle): LiveParts {
  const { data, bytes } = packed()
  const script = linkRuntime(bytes === '' ? modules : [...modules, 'report/transfer/unpack-lists.js'])
  return { style: LIVE_STYLE, script, hash: createHash('sha256').update(script).digest('base64'), data, bytes }
}
