import { createHash } from 'node:crypto'
import { readFile, stat } from 'node:fs/promises'
import { basename, dirname, join, resolve } from 'node:path'
import { readReport } from '../file/report.js'
import type { ReportFile } from '../file/report-file.js'
import { isThere, unreadable, writeFiles } from '../node/files.js'
import { readIncluded } from '../node/included.js'
import { LARGE_BYTES, namesOf, readSourceFiles, totalBytes } from '../node/source-files.js'
import { ProblemError, problem } from '../problem/problem.js'
import { placeOf } from '../source/place.js'

/** A source that is answered here, for its rows are too many or in a database. */
export interface ServedHere {
  name: string
  of: Readonly<Record<string, string | undefined>>
}

/** What the page gets of a report. */
export interface ProjectState {
  /** The name of its file. */
  name: string
  text: string
  /** What the text was when it was read; null for a report that has no file yet. */
  version: string | null
  /** The texts of included files by the names that the report gives them. */
  included: Readonly<Record<string, string>>
  /** Data files by the paths that the report gives them, each with a mark that changes with it. */
  files: readonly { name: string; mark: string }[]
  served: readonly ServedHere[]
  /** What of its data could not be found, in words. */
  problems: readonly string[]
}

/** What became of a text that was saved. */
export type Saved =
  | { is: 'saved'; version: string; name: string }
  /** The file is another than the one that was read; null where it is gone. Nothing was written. */
  | { is: 'changed'; text: string | null; version: string | null }

/** A report on disk, or a starter that has no file yet. */
export interface Project {
  /** The path that a draft is kept for. */
  readonly key: string
  /** The folder that paths in the report are relative to. */
  readonly folder: string
  state(): Promise<ProjectState>
  /** A data file of the report, by the path that the report gives it. */
  file(name: string): Promise<Uint8Array | undefined>
  /**
   * Saves a text in place of the version that was read.
   *
   * @param name of the new file, for a report that has none.
   */
  save(text: string, version: string | null, name?: string): Promise<Saved>
}

/** Names of new report files: in the folder of the data, and nowhere else. */
const NEW_NAME = /^[^/\\:*?"<>|\p{Cc}]+\.acuarela\.ya?ml$/u

/**
 * @param path of the report file.
 * @param starter the text of a report that has no file yet.
 */
export function createProject(path: string, starter?: string): Project {
  let at = path
  let hasFile = starter === undefined
  const folder = dirname(path)
  /** The files that the page may read: those of the last state. */
  let known = new Set<string>()
  const read = async (): Promise<{ text: string; version: string | null }> => {
    if (!hasFile) return { text: starter ?? '', version: null }
    const text = await readFile(at, 'utf8').catch((error: unknown) => {
      throw unreadable(error, basename(at))
    })
    return { text, version: versionOf(text) }
  }
  return {
    key: path,
    folder,
    async state() {
      const { text, version } = await read()
      const included = Object.fromEntries(await readIncluded(text, at))
      const report = readReport(text, basename(at), included)
      const data = await dataOf(report, folder)
      known = new Set(data.files.map(({ name }) => name))
      return { name: basename(at), text, version, included, ...data }
    },
    async file(name) {
      if (!known.has(name)) return undefined
      // Packed files are unpacked here, within the bounds that the tool has for them.
      const [file] = await readSourceFiles(name, folder).catch(() => [])
      return typeof file?.content === 'string' ? new TextEncoder().encode(file.content) : file?.content
    },
    async save(text, version, name) {
      if (!hasFile) {
        const own = name ?? ''
        if (!NEW_NAME.test(own)) throw new ProblemError([problem('edit-name', { name: own })])
        const to = join(folder, own)
        if (await isThere(to)) throw new ProblemError([problem('edit-exists', { file: own })])
        await writeFiles([{ path: to, shown: own, text }])
        at = to
        hasFile = true
        return { is: 'saved', version: versionOf(text), name: own }
      }
      const now = await readFile(at, 'utf8').catch((error: NodeJS.ErrnoException) => {
        if (error.code === 'ENOENT') return null
        throw unreadable(error, basename(at))
      })
      const is = now === null ? null : versionOf(now)
      if (is !== version) return { is: 'changed', text: now, version: is }
      await writeFiles([{ path: at, shown: basename(at), text }])
      return { is: 'saved', version: versionOf(text), name: basename(at) }
    },
  }
}

function versionOf(text: string): string {
  return createHash('sha256').update(text).digest('hex').slice(0, 24)
}

/** The data of a report: files that the page reads itself, and sources that are answered here. */
async function dataOf(
  report: ReportFile,
  folder: string,
): Promise<Pick<ProjectState, 'files' | 'served' | 'problems'>> {
  const names = new Set<string>()
  const served: ServedHere[] = []
  const problems: string[] = []
  for (const [name, spec] of Object.entries(report.spec?.sources ?? {})) {
    if (spec.postgres !== undefined) {
      served.push({ name, of: placeOf(spec) })
      continue
    }
    if (spec.file === undefined || spec.file === 'stdin') continue
    try {
      const files = await namesOf(spec.file, folder)
      const isLarge = (await totalBytes(files, folder)) > LARGE_BYTES
      if (isLarge || spec.engine === 'duckdb') served.push({ name, of: placeOf(spec) })
      else for (const file of files) names.add(file)
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error
      problems.push(...error.problems.map(({ message }) => message))
    }
  }
  const files = await Promise.all(
    [...names].map(async (name) => {
      const { size = 0, mtimeMs = 0 } = (await stat(resolve(folder, name)).catch(() => undefined)) ?? {}
      return { name, mark: `${size} ${mtimeMs}` }
    }),
  )
  return { files, served, problems }
}
