import type { ReportFile } from '../file/report-file.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { atSource, readOptions } from '../report/open.js'
import { placeOf } from '../source/place.js'
import { readSource } from '../source/read.js'
import type { SourceTable } from '../table/source-table.js'
import { type Files, filesLike } from './files.js'

/** The tables of a report, the files that are missing, and the problems of those that are there. */
export interface ReadFiles {
  tables: Map<string, SourceTable>
  missing: string[]
  problems: Problem[]
}

/**
 * A source whose rows stay on a server, which `engineHandler` answers there.
 */
export interface ServedSource {
  /** Where the handler answers. */
  url: string
  /**
   * The keys of the source as the server has opened it: `file`, `postgres`, `table`, `query`. A
   * report that names other rows cannot be answered before the server has opened those.
   */
  of: Readonly<Record<string, string | undefined>>
}

/** Reads the sources of a report; one that stays the same is read once. */
export function createReader(): (
  file: ReportFile,
  files: Files,
  served: Readonly<Record<string, ServedSource>>,
) => Promise<ReadFiles> {
  let kept = new Map<string, { contents: readonly (string | Uint8Array)[]; table: SourceTable }>()
  let connected = new Map<string, SourceTable>()
  return async (file, files, served) => {
    const next: typeof kept = new Map()
    const nextConnected: typeof connected = new Map()
    const read: ReadFiles = { tables: new Map(), missing: [], problems: [] }
    for (const [name, spec] of Object.entries(file.spec?.sources ?? {})) {
      const own = Object.hasOwn(served, name) ? served[name] : undefined
      if (own !== undefined) {
        try {
          if (JSON.stringify(placeOf(spec)) !== JSON.stringify(own.of))
            throw new ProblemError([problem('source-not-served', { name })])
          const table = connected.get(own.url) ?? (await connectedTo(own.url))
          nextConnected.set(own.url, table)
          read.tables.set(name, table)
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error
          read.problems.push(...error.problems.map((p) => atSource(p, name, file)))
        }
        continue
      }
      const wanted = spec.file ?? name
      const names = await filesLike(files, wanted)
      if (names.length === 0) {
        read.missing.push(wanted)
        continue
      }
      const contents = names.map((one) => files.get(one) ?? '')
      const key = `${name} ${JSON.stringify(spec)}`
      const old = kept.get(key)
      const isSame = old?.contents.length === contents.length && contents.every((one, i) => one === old.contents[i])
      try {
        // A packed file is given unpacked, under its own name.
        const list = names.map((one, i) => ({ name: one.replace(/\.gz$/i, ''), content: contents[i] }))
        const table = isSame && old !== undefined ? old.table : await readSource(list, readOptions(file, name))
        next.set(key, { contents, table })
        read.tables.set(name, table)
      } catch (error) {
        if (!(error instanceof ProblemError)) throw error
        read.problems.push(...error.problems.map((p) => atSource(p, name, file)))
      }
    }
    kept = next
    connected = nextConnected
    return read
  }
}

/** Loaded where a report has rows on a server. */
async function connectedTo(url: string): Promise<SourceTable> {
  const { engineOverHttp } = await import('../engine/http/client.js')
  return engineOverHttp(url)
}
