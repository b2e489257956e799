import type { ReportFile } from '../file/report-file.js'
import type { Page } from '../page/page.js'
import { type Problem, ProblemError } from '../problem/problem.js'
import type { ReportSpec } from '../spec/report.js'
import type { RemoteTable } from '../summary/contract.js'
import type { SourceTable } from '../table/source-table.js'
import { isZone } from '../time/zone.js'
import { bindReport, checkReport } from './bind/report.js'
import { decideReport } from './layout/decide.js'
import type { DecidedReport } from './model/answered.js'
import type { BoundReport, Settings } from './model/bound.js'
import { takeSnapshot } from './transfer/snapshot.js'

/**
 * Answers a report from its sources. Problems of the data are reported together with those of the
 * report.
 *
 * @throws ProblemError carrying every problem.
 */
export async function answerFrom(
  file: ReportFile,
  sources: ReadonlyMap<string, SourceTable>,
  problems: readonly Problem[],
  settings: Settings,
): Promise<Page> {
  return (await decideFrom(file, sources, problems, settings)).page
}

/** The same with what decided each cell. */
export async function decideFrom(
  file: ReportFile,
  sources: ReadonlyMap<string, SourceTable>,
  problems: readonly Problem[],
  settings: Settings,
): Promise<DecidedReport> {
  return withPlaces(file, sources, problems, settings, decideReport)
}

/** The same with everything that a live page has to carry. */
export async function embedFrom(
  file: ReportFile,
  sources: ReadonlyMap<string, SourceTable>,
  problems: readonly Problem[],
  settings: Settings,
): ReturnType<typeof takeSnapshot> {
  return withPlaces(file, sources, problems, settings, takeSnapshot)
}

async function withPlaces<T>(
  file: ReportFile,
  sources: ReadonlyMap<string, SourceTable>,
  problems: readonly Problem[],
  settings: Settings,
  answer: (bound: BoundReport) => Promise<T>,
): Promise<T> {
  if (problems.length > 0) throw new ProblemError([...problems, ...checkReport(file, sources, settings)])
  try {
    return await answer(bindReport(file, await withLookups(file, sources), settings))
  } catch (error) {
    // A problem of a database during a question gets a place in the report.
    if (!(error instanceof ProblemError)) throw error
    throw new ProblemError(
      error.problems.map((p) => {
        const { path, line } = p.place
        return path === undefined || path[0] === 'settings' || line !== undefined ? p : file.place(p)
      }),
    )
  }
}

/**
 * Sources whose lookup tables are in memory: those of a database are read once, whole, and joined
 * where the rows are that look them up.
 */
async function withLookups(
  { spec }: ReportFile,
  sources: ReadonlyMap<string, SourceTable>,
): Promise<ReadonlyMap<string, SourceTable>> {
  const read = new Map(sources)
  for (const [name, source] of sources) {
    const { lookup, date } = spec?.sources[name] ?? {}
    if (lookup === undefined || lookup === false || !('connect' in source)) continue
    const remote = source as RemoteTable
    const types = new Map([...remote.table.columns].map(([column, { type }]) => [column, type]))
    const engine = remote.connect(new Map(), types, date === undefined ? {} : { date })
    const rows = await engine.records?.({ where: [] })
    if (rows !== undefined) read.set(name, { ...source, table: rows.table, connect: undefined } as SourceTable)
  }
  return read
}

/** The key of the report that a database problem is about: the address, or the query. */
function databasePath(p: Problem, source: string, { spec }: ReportFile): (string | number)[] {
  const sourceSpec = spec?.sources[source]
  const asked = sourceSpec?.query !== undefined ? 'query' : sourceSpec?.table !== undefined ? 'table' : 'file'
  return [
    'sources',
    source,
    p.code === 'database-query' ? asked : sourceSpec?.postgres !== undefined ? 'postgres' : 'file',
  ]
}

/** A problem of reading a source, with its place in the report if it has one. */
export function atSource(p: Problem, source: string, file: ReportFile): Problem {
  const named = p.code === 'file-missing' || p.code === 'file-unreadable' || p.code === 'no-files'
  if (named) return file.place({ ...p, place: { path: ['sources', source, 'file'] } })
  if (p.code.startsWith('database-') || p.code === 'engine-missing')
    return file.place({ ...p, place: { path: databasePath(p, source, file) } })
  const { path } = p.place
  return path === undefined ? p : file.place({ ...p, place: { path: ['sources', source, ...path] } })
}

type SourceSpec = ReportSpec['sources'][string]
type SourceOptions = Pick<SourceSpec, 'file' | 'read' | 'date' | 'strict' | 'stack' | 'unstack'> &
  Pick<SourceSpec, 'sheet' | 'range' | 'header' | 'merged'> & { zone?: string }

/** The read options of a source. */
export function readOptions({ spec }: ReportFile, name: string): SourceOptions {
  const { file, read, date, strict, stack, unstack, sheet, range, header, merged } = spec?.sources[name] ?? {}
  const zone = spec?.calendar?.zone
  return {
    ...(file === undefined ? {} : { file: file === 'stdin' ? 'standard input' : file }),
    ...(read === undefined ? {} : { read }),
    ...(date === undefined ? {} : { date }),
    ...(strict === undefined ? {} : { strict }),
    ...(stack === undefined ? {} : { stack }),
    ...(unstack === undefined ? {} : { unstack }),
    ...(sheet === undefined ? {} : { sheet }),
    ...(range === undefined ? {} : { range }),
    ...(header === undefined ? {} : { header }),
    ...(merged === undefined ? {} : { merged }),
    // An invalid zone is reported with the other problems of the report.
    ...(zone === undefined || !isZone(zone) ? {} : { zone }),
  }
}
