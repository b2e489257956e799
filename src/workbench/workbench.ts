import type { DiffLine } from '../edit/diff.js'
import { type Draft, openDraft } from '../edit/draft.js'
import type { Edit } from '../edit/edits.js'
import type { EntryOptions, History, SavedHistory } from '../edit/history.js'
import type { CellRequest, Session } from '../live/session/model.js'
import { ProblemError, problem } from '../problem/problem.js'
import type { PlacedFinding } from '../proof/report.js'
import type { Comparison } from '../report/inspect/compare.js'
import type { RehearsedRule } from '../report/inspect/rehearse.js'
import { tellRules } from '../report/inspect/rules.js'
import type { WhyAnswer } from '../report/inspect/why.js'
import type { Completion } from '../rule/sentence/complete.js'
import { createAnswerer, type GivenFiles, type Shown } from './answerer.js'
import { includedBy } from './files.js'
import type { Looks } from './looks.js'
import type { PopulationPlot, Preview, WorkbenchState } from './model.js'
import type { ServedSource } from './sources.js'

/** What is opened: a report with its data and included files. */
export interface Opened {
  /** The name and the text of the report. */
  name: string
  text: string
  /**
   * Data and included files by the paths that the report gives them; one that lies in another
   * folder is found by the last part of its name.
   */
  files: Readonly<Record<string, string | Uint8Array>>
  /** Sources whose rows stay on a server, by name; default: none. */
  served?: Readonly<Record<string, ServedSource>>
  /** A history that was kept earlier. */
  saved?: SavedHistory
  /** Whether it has no file yet, so that it is not saved; default: false. */
  isNew?: boolean
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
  /** The present text is that of the file; of a new one with its name. */
  saved(name?: string): Promise<WorkbenchState>
  /** A starter report for data files, with the name that its file could have. */
  sketch(files: GivenFiles): Promise<{ name: string; text: string }>
  /** A sentence as a rule before the one with an index: what it would say and change. */
  preview(sentence: string, at: number): Promise<Preview>
  complete(text: string, cursor: number): Promise<Completion[]>
  plot(rule: number, exhibit?: string): Promise<PopulationPlot | undefined>
  findings(): Promise<readonly PlacedFinding[]>
  /** The rules tried on values around their limits: of one rule by its index. */
  rehearse(rule: number): Promise<readonly RehearsedRule[]>
  /** Why a cell looks as it does, with the rules that reach it. */
  why(cell: CellRequest): Promise<WhyAnswer>
  /** Statuses with their colours, pigments and icons. */
  looks(): Promise<Looks>
  /** What differs from the saved text: counts, cells, and cells with another style. */
  compared(): Promise<Comparison>
  /** The lines in which the present text differs from another one. */
  differences(other: string): Promise<readonly DiffLine[]>
  /** Loads what is otherwise loaded when it is first needed: for a server that may go away. */
  prepare(): Promise<void>
  /** What undo needs after a reload. */
  history(): Promise<SavedHistory>
  /** Answers the page: always from the newest report that could be answered. */
  readonly session: Session
}

/** Creates a workbench without a report. */
export function createWorkbench(): Workbench {
  const answerer = createAnswerer()
  let history: History | undefined
  /** The draft before the first edit: what makes edits is loaded when there is one. */
  let first: Draft | undefined
  let savedText: string | undefined
  const draftNow = (): Draft => {
    const draft = history?.draft ?? first
    if (draft === undefined) throw new ProblemError([problem('edit-unreadable', {})])
    return draft
  }
  const opened = async (saved?: SavedHistory): Promise<History> => {
    const draft = draftNow()
    const { createHistory } = await import('../edit/history.js')
    history ??= createHistory(draft, saved)
    return history
  }
  const state = async (draft: Draft): Promise<WorkbenchState> => {
    const problems = draft.text === answerer.shown?.text ? [] : await answerer.answer(draft.text)
    const { name, shown, missing, views } = answerer
    return {
      name,
      draft,
      entries: history?.entries ?? [],
      undone: history?.undone ?? [],
      isSaved: draft.text === savedText,
      isShown: shown?.text === draft.text,
      problems: draft.problems.length > 0 ? draft.problems : problems,
      missing,
      sources: views,
      rules: shown === undefined ? [] : tellRules(shown.decided),
    }
  }
  return {
    async open({ name, text, files, served = {}, saved, isNew = false }) {
      answerer.open(name, files, served)
      savedText = isNew ? undefined : text
      history = undefined
      first = openDraft(text, { included: includedBy(text, answerer.files) })
      return state(saved === undefined ? first : (await opened(saved)).draft)
    },
    async give(given) {
      answerer.give(given)
      return state(draftNow())
    },
    do: async (edit, options) => state((await opened()).do(edit, options)),
    write: async (text, options) => state((await opened()).write(text, options)),
    undo: async () => state((await opened()).undo()),
    redo: async () => state((await opened()).redo()),
    async saved(name) {
      savedText = draftNow().text
      if (name !== undefined) answerer.name = name
      return state(draftNow())
    },
    sketch: async (files) => (await import('./starter.js')).starter(files),
    preview: async (sentence, at) => (await import('./preview.js')).previewed(answerer, draftNow(), sentence, at),
    complete: async (text, cursor) => (await import('./preview.js')).completed(answerer.now(), text, cursor),
    plot: async (rule, exhibit) => (await import('./plot.js')).plotOf(answerer.now().decided, rule, exhibit),
    async findings() {
      const { decided, file } = answerer.now()
      return (await import('../proof/report.js')).proofReport(decided, file)
    },
    async rehearse(rule) {
      const { decided } = answerer.now()
      const name = decided.report.rules.find(({ index }) => index === rule)?.name
      if (name === undefined) return []
      return (await import('../report/inspect/rehearse.js')).rehearseReport(decided, name)
    },
    why: async ({ exhibit, measure, keys }) =>
      (await import('../report/inspect/why.js')).whyCell(answerer.now().decided, exhibit, measure, keys),
    async looks() {
      const { pigments } = draftNow().spec
      const own = typeof pigments === 'object' && pigments !== null ? Object.keys(pigments) : []
      return (await import('./looks.js')).looksOf(answerer.now().decided, own)
    },
    async compared() {
      const now = answerer.now().decided
      const { compareReports } = await import('../report/inspect/compare.js')
      return compareReports(await answerer.decide(savedText ?? ''), now)
    },
    differences: async (other) => (await import('../edit/diff.js')).diff(other, draftNow().text),
    async prepare() {
      await Promise.all([
        import('../edit/history.js'),
        import('../edit/diff.js'),
        import('../proof/report.js'),
        import('../report/inspect/compare.js'),
        import('../report/inspect/rehearse.js'),
        import('../report/inspect/why.js'),
        import('./looks.js'),
        import('./plot.js'),
        import('./preview.js'),
      ])
    },
    history: async () => (await opened()).saved(),
    session: pageSession(answerer.now),
  }
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
