import { readReport } from '../file/report.js'
import type { ReportFile } from '../file/report-file.js'
import type { Session } from '../live/session/model.js'
import { createSession } from '../live/session/session.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { createBinder } from '../report/bind/binder.js'
import { decideReport } from '../report/layout/decide.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { SourceTable } from '../table/source-table.js'
import { type GivenFiles, includedBy } from './files.js'
import type { SourceView } from './model.js'
import { reusable } from './reuse.js'
import { createReader, type ServedSource } from './sources.js'
import { createViews } from './views.js'

/** The report as it was last answered. */
export interface Shown {
  text: string
  file: ReportFile
  decided: DecidedReport
  session: Session
}

/** What answers texts of a report. */
export type Answerer = ReturnType<typeof createAnswerer>

/** Answers texts of a report from files; remembers the last one that could be answered. */
export function createAnswerer() {
  const read = createReader()
  // Beside the shown text: what is known of its sources is not given up for another text.
  const readOther = createReader()
  const bindOther = createBinder()
  /** The rows that the shown report was decided over. */
  let shownTables: ReadonlyMap<string, SourceTable> = new Map()
  let isOutdated = false
  let other: { text: string; decided: DecidedReport } | undefined
  const viewsOf = createViews()
  const answerer = {
    read,
    bind: createBinder(),
    files: new Map<string, string | Uint8Array>(),
    served: {} as Readonly<Record<string, ServedSource>>,
    name: '',
    shown: undefined as Shown | undefined,
    missing: [] as readonly string[],
    views: [] as readonly SourceView[],
    open(name: string, given: GivenFiles, served: Readonly<Record<string, ServedSource>>): void {
      answerer.files = new Map()
      answerer.shown = undefined
      answerer.bind = createBinder()
      answerer.name = name
      answerer.give(given, served)
    },
    give(given: GivenFiles, served?: Readonly<Record<string, ServedSource>>): void {
      if (served !== undefined) answerer.served = served
      for (const [key, content] of Object.entries(given)) answerer.files.set(key.replaceAll('\\', '/'), content)
      // The last page stays until one of the new rows can be shown.
      isOutdated = true
      other = undefined
    },
    /** Whether the page shows this text, over the rows that there are. */
    shows: (text: string): boolean => !isOutdated && answerer.shown?.text === text,
    /** Answers a text; the problems that keep it from being shown. */
    async answer(text: string): Promise<Problem[]> {
      const file = readReport(text, answerer.name, includedBy(text, answerer.files))
      const { tables, missing, problems } = await read(file, answerer.files, answerer.served)
      answerer.missing = missing
      answerer.views = await viewsOf(tables, file)
      if (file.problems.length > 0 || problems.length > 0) return [...file.problems, ...problems]
      if (missing.length > 0) return []
      try {
        const bound = answerer.bind(file, tables)
        const before = answerer.shown
        const isSameData = before !== undefined && [...tables].every(([name, table]) => table === shownTables.get(name))
        const reuse = isSameData ? reusable(before, file) : undefined
        const decided = await decideReport(bound, { again: true, ...(reuse && { reuse }) })
        shownTables = tables
        isOutdated = false
        answerer.shown = { text, file, decided, session: await createSession(bound, decided) }
        return []
      } catch (error) {
        if (error instanceof ProblemError) return [...error.problems]
        throw error
      }
    },
    /** Decides another text over the same data, without showing it; the last one is kept. */
    async decide(text: string): Promise<DecidedReport> {
      if (other?.text === text) return other.decided
      const file = readReport(text, answerer.name, includedBy(text, answerer.files))
      const { tables, missing, problems } = await readOther(file, answerer.files, answerer.served)
      if (missing.length > 0) throw new ProblemError([problem('edit-unreadable', {})])
      if (file.problems.length > 0 || problems.length > 0) throw new ProblemError([...file.problems, ...problems])
      const decided = await decideReport(bindOther(file, tables), { again: true })
      other = { text, decided }
      return decided
    },
    now(): Shown {
      if (answerer.shown === undefined) throw new ProblemError([problem('edit-unreadable', {})])
      return answerer.shown
    },
  }
  return answerer
}
