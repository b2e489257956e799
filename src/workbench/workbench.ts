import { type Draft, openDraft } from '../edit/draft.js'
import type { Edit } from '../edit/edits.js'
import { createHistory, type EntryOptions, type History, type SavedHistory } from '../edit/history.js'
import type { Session } from '../live/session/model.js'
import { ProblemError, problem } from '../problem/problem.js'
import type { PlacedFinding } from '../proof/report.js'
import { tellRules } from '../report/inspect/rules.js'
import type { Completion } from '../rule/sentence/complete.js'
import { createAnswerer, includedOf, type Shown } from './answerer.js'
import type { PopulationPlot, Preview, WorkbenchState } from './model.js'
import { plotOf } from './plot.js'

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
    preview: async (sentence, at) => (await import('./preview.js')).previewed(answerer, opened().draft, sentence, at),
    complete: async (text, cursor) => (await import('./preview.js')).completed(answerer.now(), text, cursor),
    plot: async (rule, exhibit) => plotOf(answerer.now().decided, rule, exhibit),
    async findings() {
      const { decided, file } = answerer.now()
      return (await import('../proof/report.js')).proofReport(decided, file)
    },
    history: async () => opened().saved(),
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
