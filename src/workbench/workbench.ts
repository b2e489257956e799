import { type Draft, openDraft } from '../edit/draft.js'
import type { History, SavedHistory } from '../edit/history.js'
import type { Session } from '../live/session/model.js'
import { ProblemError, problem } from '../problem/problem.js'
import { tellRules } from '../report/inspect/rules.js'
import { createAnswerer, type Shown } from './answerer.js'
import type { Workbench } from './calls.js'
import { includedBy } from './files.js'
import { createInspector } from './inspector.js'
import type { WorkbenchState } from './model.js'

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
    const problems = answerer.shows(draft.text) ? [] : await answerer.answer(draft.text)
    const { name, shown, missing, views } = answerer
    return {
      name,
      draft,
      entries: history?.entries ?? [],
      undone: history?.undone ?? [],
      isSaved: draft.text === savedText,
      isShown: answerer.shows(draft.text),
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
    async give(given, served) {
      answerer.give(given, served)
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
    ...createInspector({ answerer, draft: draftNow, saved: () => savedText ?? '' }),
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
