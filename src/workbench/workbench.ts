import { applyEdit } from '../edit/apply.js'
import { type Draft, openDraft } from '../edit/draft.js'
import type { Edit } from '../edit/edits.js'
import { createHistory, type EntryOptions, type History, type SavedHistory } from '../edit/history.js'
import { readReport } from '../file/report.js'
import type { ReportFile } from '../file/report-file.js'
import type { Session } from '../live/session/model.js'
import { createSession } from '../live/session/session.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { type PlacedFinding, proofReport } from '../proof/report.js'
import { createBinder } from '../report/bind/binder.js'
import { compareReports } from '../report/inspect/compare.js'
import { tellRules } from '../report/inspect/rules.js'
import { sentenceNames } from '../report/inspect/sentence-names.js'
import { decideReport } from '../report/layout/decide.js'
import type { DecidedReport } from '../report/model/answered.js'
import { readLoosely } from '../rule/loose/read.js'
import { type Completion, completeSentence } from '../rule/sentence/complete.js'
import { readSentence, writeSentence } from '../rule/sentence/parse.js'
import { withOffers } from '../rule/written/said.js'
import type { SourceTable } from '../table/source-table.js'
import type { PopulationPlot, Preview, SourceView, WorkbenchState } from './model.js'
import { plotOf } from './plot.js'
import { baseName, createReader, type Files, sourceView } from './sources.js'

/** What is opened: a report with its data and included files. */
export interface Opened {
  /** The name and the text of the report. */
  name: string
  text: string
  /** Data and included files by name; folders in names mean nothing. */
  files: Readonly<Record<string, string | Uint8Array>>
  /** A history that was kept earlier. */
  saved?: SavedHistory
}

/**
 * A report while it is edited: its history, its data, and what it paints. It has no interface: a
 * page shows its state and calls it, in the same thread or in another one.
 */
export interface Workbench {
  /** Opens a report in place of the present one. */
  open(opened: Opened): Promise<WorkbenchState>
  /** Adds files that were missing. */
  give(files: Readonly<Record<string, string | Uint8Array>>): Promise<WorkbenchState>
  do(edit: Edit, options?: EntryOptions): Promise<WorkbenchState>
  write(text: string, options?: EntryOptions & { words?: string }): Promise<WorkbenchState>
  undo(): Promise<WorkbenchState>
  redo(): Promise<WorkbenchState>
  /** The present text is that of the file. */
  saved(): Promise<WorkbenchState>
  /** A sentence as a rule before the one with an index: what it would say and change. */
  preview(sentence: string, at: number): Promise<Preview>
  complete(text: string, cursor: number): Promise<Completion[]>
  plot(rule: number, exhibit?: string): Promise<PopulationPlot | undefined>
  findings(): Promise<readonly PlacedFinding[]>
  /** What undo needs after a reload. */
  history(): Promise<SavedHistory>
  /** Answers the page: always from the newest report that could be answered. */
  readonly session: Session
}

/** The report as it was last answered. */
interface Shown {
  text: string
  file: ReportFile
  decided: DecidedReport
  session: Session
}

/** Answers texts of a report from files; remembers the last one that could be answered. */
function createAnswerer() {
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
    open(name: string, given: Opened['files']): void {
      answerer.files = new Map()
      answerer.bind = createBinder()
      answerer.name = name
      answerer.give(given)
    },
    give(given: Opened['files']): void {
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

/** Creates a workbench without a report. */
export function createWorkbench(): Workbench {
  const answerer = createAnswerer()
  let history: History | undefined
  let savedText = ''
  const opened = (): History => {
    if (history === undefined) throw new ProblemError([problem('edit-unreadable', {})])
    return history
  }
  const state = async (draft: Draft): Promise<WorkbenchState> => {
    const { entries, undone } = opened()
    const problems = draft.text === answerer.shown?.text ? [] : await answerer.answer(draft.text)
    const { name, shown, missing, views } = answerer
    return {
      name,
      draft,
      entries,
      undone,
      isSaved: draft.text === savedText,
      isShown: shown?.text === draft.text,
      problems: draft.problems.length > 0 ? draft.problems : problems,
      missing,
      sources: views,
      rules: shown === undefined ? [] : tellRules(shown.decided),
    }
  }
  return {
    async open({ name, text, files, saved }) {
      answerer.open(name, files)
      savedText = text
      history = createHistory(openDraft(text, { included: includedOf(answerer.files) }), saved)
      return state(history.draft)
    },
    async give(given) {
      answerer.give(given)
      return state(opened().draft)
    },
    do: async (edit, options) => state(opened().do(edit, options)),
    write: async (text, options) => state(opened().write(text, options)),
    undo: async () => state(opened().undo()),
    redo: async () => state(opened().redo()),
    async saved() {
      savedText = opened().draft.text
      return state(opened().draft)
    },
    preview: (sentence, at) => previewed(answerer, opened().draft, sentence, at),
    complete: async (text, cursor) => completeSentence(text, cursor, sentenceNames(answerer.now().decided)),
    plot: async (rule, exhibit) => plotOf(answerer.now().decided, rule, exhibit),
    findings: async () => proofReport(answerer.now().decided, answerer.now().file),
    history: async () => opened().saved(),
    session: pageSession(answerer.now),
  }
}

/** Included files are texts. */
function includedOf(files: Files): Record<string, string> {
  return Object.fromEntries(
    [...files].flatMap(([name, content]) => (typeof content === 'string' ? [[name, content] as const] : [])),
  )
}

/** Answers a page from the newest report. */
function pageSession(shown: () => Shown): Session {
  return {
    get controls() {
      return shown().session.controls
    },
    answer: (state) => shown().session.answer(state),
    reasons: (cell) => shown().session.reasons(cell),
    trend: (cell) => shown().session.trend(cell),
    coveredCells: (rule) => shown().session.coveredCells(rule),
    close: () => undefined,
  }
}

/** A rule that is tried: what it would say, count and change. */
async function previewed(
  { now, read, bind, files }: ReturnType<typeof createAnswerer>,
  draft: Draft,
  sentence: string,
  at: number,
): Promise<Preview> {
  const before = now().decided
  const names = sentenceNames(before)
  const found = readSentence(sentence, names)
  const loose = 'code' in found ? readLoosely(sentence, names) : undefined
  if ('code' in found && loose === undefined) throw new ProblemError([withOffers(found, sentence, names) ?? found])
  const said = 'code' in found ? (loose?.sentence ?? sentence) : writeSentence(found.spec)
  const next = applyEdit(draft, { do: 'insert', path: ['rules'], value: said, at })
  if (next.refused !== undefined) throw new ProblemError(next.refused)
  const file = readReport(next.text, undefined, includedOf(files))
  const { tables, problems } = await read(file, files)
  if (problems.length > 0 || file.problems.length > 0) throw new ProblemError([...file.problems, ...problems])
  const decided = await decideReport(bind(file, tables), { again: true })
  const rule = decided.report.rules.find(({ index }) => index === at)?.name
  const told = tellRules(decided).find((one) => one.rule === rule) ?? null
  return { sentence: said, told, comparison: compareReports(before, decided) }
}
