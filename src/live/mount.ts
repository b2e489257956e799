import type { DecidedReport } from '../assemble/answer.js'
import { compareReports } from '../assemble/compare.js'
import { tallyReport } from '../assemble/inspect.js'
import { ProblemError } from '../problem/problem.js'
import { createWriting } from '../view/html/page.js'
import { escapeText } from '../view/markup.js'
import { keysOfCell, type ShownCell } from './cells.js'
import { listen, mark } from './hands.js'
import { createSession, type LiveReport, type Session } from './session.js'
import { type Action, FIRST_STATE, fromAddress, type LiveState, nextState, toAddress } from './state.js'
import { showState } from './tools.js'
import { createView } from './view.js'

export interface MountOptions {
  /** Parameters that start with another value than the report's. */
  parameters?: Readonly<Record<string, number>>
  /** Filters that start narrowed, by key. */
  filters?: Readonly<Record<string, readonly string[]>>
  /** Called with the state after every change, the first one included. */
  onChange?: (state: LiveState) => void
  /** Keeps the state in the address behind `#`, so that it can be sent as a link; for pages that are the report alone. Default: false. */
  address?: boolean
}

/** A mounted report. */
export interface Mounted {
  /** Moves a parameter: a plain number, 0.15 for 15 %. */
  set(parameter: string, value: number): Promise<void>
  /** Narrows by the values of a key, or with none takes the filter away. */
  filter(key: string, values: readonly string[]): Promise<void>
  /** Any other thing that a reader can do. */
  act(action: Action): Promise<void>
  /** What the reader has changed. */
  state(): LiveState
  /** The report as it is shown, with what decided it. */
  decided(): DecidedReport
  /** Takes everything away again. */
  destroy(): void
}

let mounts = 0

/** Shows a live report inside `root`: a shadow root, or the main part of a page that is nothing but the report. */
export async function mountIn(
  root: ShadowRoot | HTMLElement,
  live: LiveReport,
  options: MountOptions = {},
): Promise<Mounted> {
  const { ownerDocument: page = document } = root
  const id = `live-${++mounts}`
  const session = await createSession(live)
  let state = startState(session, options, page)
  let decided = await session.answer(state)
  const writing = { ...createWriting(decided.page), charts: new Map() }
  const view = createView(root, page, session, id)
  let cells = await view.show(decided, state, writing)
  let asked = 0
  let shown: Promise<void> = Promise.resolve()
  /** Answers and shows the state as it is by then; one after the other, and of several that wait only the last. */
  const refresh = async (turn: number, action: Action): Promise<void> => {
    if (turn !== asked) return
    const found = await session.answer(state).catch((error: unknown) => {
      if (error instanceof ProblemError) return error
      throw error
    })
    if (found instanceof ProblemError) view.say(found.problems.map(({ message }) => escapeText(message)).join('<br>'))
    else {
      const before = decided
      decided = found
      cells = await view.show(decided, state, writing)
      const turned = action.do === 'set' || action.do === 'pause'
      const told = turned ? changesOf(before, decided) : { text: '', moved: new Set<string>() }
      view.say(told.text)
      mark(cells, 'moved', (own) => told.moved.has(placeOf(own)))
      remember()
    }
    if (turn === asked) view.main.removeAttribute('aria-busy')
  }
  const act = (action: Action): Promise<void> => {
    const next = nextState(state, action, session.allowed)
    if (next === state) return shown
    state = next
    showState(view.tools, state, session)
    view.main.setAttribute('aria-busy', 'true')
    const turn = ++asked
    shown = shown.then(() => refresh(turn, action))
    return shown
  }
  const remember = (): void => {
    options.onChange?.(state)
    const own = page.defaultView
    if (options.address !== true || own === null) return
    const text = toAddress(state)
    own.history.replaceState(null, '', text === '' ? own.location.pathname + own.location.search : `#${text}`)
  }
  const stop = listen(view, {
    act: (action) => void act(action),
    decided: () => decided,
    cells: () => cells,
    session,
    page,
  })
  remember()
  return {
    set: (parameter, value) => act({ do: 'set', parameter, value }),
    filter: (key, values) => act({ do: 'filter', key, values }),
    act,
    state: () => state,
    decided: () => decided,
    destroy() {
      stop()
      view.remove()
    },
  }
}

function startState(
  session: Session,
  { parameters = {}, filters = {}, address }: MountOptions,
  page: Document,
): LiveState {
  const { allowed } = session
  let state = address === true ? fromAddress(page.defaultView?.location.hash ?? '', allowed) : FIRST_STATE
  for (const [parameter, value] of Object.entries(parameters))
    state = nextState(state, { do: 'set', parameter, value }, allowed)
  for (const [key, values] of Object.entries(filters)) state = nextState(state, { do: 'filter', key, values }, allowed)
  return state
}

function placeOf({ exhibit, cell }: ShownCell): string {
  return JSON.stringify([exhibit, cell.measure, keysOfCell(cell)])
}

/** Counts before and after, and the cells whose status is another. */
function changesOf(before: DecidedReport, after: DecidedReport): { text: string; moved: Set<string> } {
  const { counts, cells, restyled } = compareReports(before, after)
  const moved = new Set(
    cells.map(({ exhibit, measure, keys }) =>
      JSON.stringify([exhibit, measure, Object.fromEntries(Object.entries(keys).map(([k, v]) => [k, v ?? '']))]),
    ),
  )
  const sums = new Map<string, { label: string; before: number; after: number }>()
  // Lists and words tell of cells that other exhibits show.
  const readings = new Set(tallyReport(after).readings)
  for (const { exhibit, status, label, before: was, after: is } of counts) {
    if (readings.has(exhibit)) continue
    const own = sums.get(status) ?? { label, before: 0, after: 0 }
    sums.set(status, { label, before: own.before + was, after: own.after + is })
  }
  const told = [...sums.values()]
    .filter((own) => own.before !== own.after)
    .map((own) => `${escapeText(own.label)} ${own.before} → <b>${own.after}</b>`)
  const others = restyled.reduce((sum, { count }) => sum + count, 0)
  const plural = (n: number, text: string): string => `${n} ${n === 1 ? 'cell' : 'cells'} ${text}`
  const parts = [
    ...told,
    plural(cells.length, 'of another status'),
    ...(others > 0 ? [plural(others, 'of another shade')] : []),
  ]
  return { text: parts.join(' · '), moved }
}
