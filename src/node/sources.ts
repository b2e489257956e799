import { dirname, resolve } from 'node:path'
import type { ReportFile } from '../file/report-file.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { type Following, follow, type ProgressEvent } from '../report/model/progress.js'
import { atSource, readOptions } from '../report/open.js'
import { readSource } from '../source/read.js'
import type { ReportSpec } from '../spec/report.js'
import type { SourceTable } from '../table/source-table.js'
import { hasDuckdb, openLargeCsv } from './large-csv.js'
import { LARGE_BYTES, namesOf, readSourceFiles, totalBytes } from './source-files.js'

type SourceSpec = ReportSpec['sources'][string]

/** The opened sources of a report. */
export interface Opened {
  read: Map<string, SourceTable>
  problems: Problem[]
  /** Closes connections. */
  close(): Promise<void>
}

/**
 * Opens every source of a report: reads files, connects to databases. `env` holds the addresses of
 * servers.
 */
export async function openSources(
  file: ReportFile,
  path: string,
  env: Readonly<Record<string, string | undefined>>,
  following: Following & { noLimit?: boolean } = {},
): Promise<Opened> {
  const read = new Map<string, SourceTable>()
  const problems: Problem[] = []
  const closing: (() => Promise<void>)[] = []
  for (const [name, spec] of Object.entries(file.spec?.sources ?? {})) {
    try {
      const source = await openSource(file, name, spec, {
        folder: dirname(path),
        env,
        follow: follow(following),
        noLimit: following.noLimit === true,
      })
      if (source === undefined) continue
      read.set(name, source)
      if ('close' in source) closing.push(() => source.close())
    } catch (error) {
      if (!(error instanceof ProblemError)) {
        for (const close of closing) await close()
        throw error
      }
      problems.push(...error.problems.map((p) => atSource(p, name, file)))
    }
  }
  return {
    read,
    problems,
    async close() {
      for (const close of closing) await close()
    },
  }
}

async function openSource(
  file: ReportFile,
  name: string,
  spec: SourceSpec,
  {
    folder,
    env,
    follow,
    noLimit,
  }: {
    folder: string
    env: Readonly<Record<string, string | undefined>>
    follow: (event: ProgressEvent) => void
    noLimit: boolean
  },
): Promise<SourceTable | undefined | (SourceTable & { close(): Promise<void> })> {
  const { date, zone } = readOptions(file, name)
  follow({ source: name, rows: 0 })
  const common = {
    ...(date === undefined ? {} : { date }),
    ...(zone === undefined ? {} : { zone }),
    ...(spec.timeLimit === undefined ? {} : { timeLimit: spec.timeLimit }),
  }
  if (spec.postgres !== undefined) {
    const variable = spec.postgres.replace(/^env:/, '')
    const connection = env[variable]
    // A problem of the entry itself is reported with the report.
    if (!spec.postgres.startsWith('env:') || (spec.table === undefined) === (spec.query === undefined)) return undefined
    if (connection === undefined || connection === '')
      throw new ProblemError([problem('env-missing', { name: variable }, { path: ['postgres'] })])
    const { openPostgres } = await import('../engine/postgres.js')
    const from = spec.table === undefined ? { query: spec.query ?? '' } : { table: spec.table }
    return openPostgres({ connection, ...from, ...common })
  }
  if (spec.file === undefined) return undefined
  const inMemory = spec.stack !== undefined || spec.unstack !== undefined
  const large = await largeParquet(spec.file, inMemory ? 'memory' : spec.engine, folder)
  if (large !== undefined) {
    const { openDuckdb } = await import('../engine/duckdb.js')
    return openDuckdb({ files: large, ...common })
  }
  const onRows = (rows: number): void => follow({ source: name, rows })
  const options = { ...readOptions(file, name), onRows, noLimit }
  const csv = inMemory || spec.engine === 'memory' ? undefined : await openLargeCsv(spec.file, folder, options)
  return csv ?? readSource(await readSourceFiles(spec.file, folder, noLimit), options)
}

/** The files that DuckDB aggregates; undefined if they are read into memory. */
async function largeParquet(file: string, engine: SourceSpec['engine'], folder: string): Promise<string[] | undefined> {
  if (file === 'stdin' || engine === 'memory') return undefined
  const parquet = /\.parquet$/i.test(file)
  if (!parquet) {
    if (engine === 'duckdb') throw new ProblemError([problem('engine-here', {}, { path: ['engine'] })])
    return undefined
  }
  const names = await namesOf(file, folder)
  const total = await totalBytes(names, folder)
  if (engine !== 'duckdb' && (total < LARGE_BYTES || !(await hasDuckdb()))) return undefined
  return names.map((name) => resolve(folder, name))
}
