import { readReport } from '../file/report.js'
import type { ReportFile } from '../file/report-file.js'
import type { Session } from '../live/session/model.js'
import { createSession } from '../live/session/session.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { createBinder } from '../report/bind/binder.js'
import { decideReport } from '../report/layout/decide.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { SourceTable } from '../table/source-table.js'
import type { SourceView } from './model.js'
import { baseName, createReader, type Files, sourceView } from './sources.js'

/** The report as it was last answered. */
export interface Shown {
  text: string
  file: ReportFile
  decided: DecidedReport
  session: Session
}

/** Files by name, as they are opened or given; folders in names mean nothing. */
export type GivenFiles = Readonly<Record<string, string | Uint8Array>>

/** What answers texts of a report. */
export type Answerer = ReturnType<typeof createAnswerer>

/** Answers texts of a report from files; remembers the last one that could be answered. */
export function createAnswerer() {
  const read = createReader()
  const viewed = new WeakMap<SourceTable, SourceView>()
  const answerer = {
    read,
    bind: createBinder(),
    files: new Map<string, string | Uint8Array>(),
    name: '',
    shown: undefined as Shown | undefined,
    missing: [] as readonly string[],
    views: [] as readonly SourceView[],
    open(name: string, given: GivenFiles): void {
      answerer.files = new Map()
      answerer.bind = createBinder()
      answerer.name = name
      answerer.give(given)
    },
    give(given: GivenFiles): void {
      for (const [key, content] of Object.entries(given)) answerer.files.set(baseName(key), content)
      answerer.shown = undefined
    },
    /** Answers a text; the problems that keep it from being shown. */
    async answer(text: string): Promise<Problem[]> {
      const file = readReport(text, answerer.name, includedOf(answerer.files))
      const { tables, missing, problems } = await read(file, answerer.files)
      answerer.missing = missing
      answerer.views = [...tables].map(([source, table]) => {
        const view = viewed.get(table) ?? sourceView(source, table)
        viewed.set(table, view)
        return view
      })
      if (file.problems.length > 0 || problems.length > 0) return [...file.problems, ...problems]
      if (missing.length > 0) return []
      try {
        const bound = answerer.bind(file, tables)
        const decided = await decideReport(bound, { again: true })
        answerer.shown = { text, file, decided, session: await createSession(bound, decided) }
        return []
      } catch (error) {
        if (error instanceof ProblemError) return [...error.problems]
        throw error
      }
    },
    now(): Shown {
      if (answerer.shown === undefined) throw new ProblemError([problem('edit-unreadable', {})])
      return answerer.shown
    },
  }
  return answerer
}

/** Included files are texts. */
export function includedOf(files: Files): Record<string, string> {
  return Object.fromEntries(
    [...files].flatMap(([name, content]) => (typeof content === 'string' ? [[name, content] as const] : [])),
  )
}
