import type { DecidedReport } from '../assemble/answer.js'
import type { BoundReport } from '../assemble/bind.js'
import type { Row } from '../page/page.js'
import { ProblemError } from '../problem/problem.js'
import { createWriting } from '../view/html/page.js'
import { escapeText } from '../view/markup.js'
import { listen } from './hands.js'
import { createSession, type Session } from './session.js'
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

/** When a dial counts as at rest, in milliseconds. */
const RESTS = 120

let mounts = 0

/** Shows a live report inside `root`: a shadow root, or the main part of a page that is nothing but the report. */
export async function mountIn(
  root: ShadowRoot | HTMLElement,
  bound: BoundReport,
  options: MountOptions = {},
): Promise<Mounted> {
  const { ownerDocument: page = document } = root
  const id = `live-${++mounts}`
  const session = await createSession(bound)
  let state = startState(session, options, page)
  let decided = await session.answer(state)
  const writing = {
    ...createWriting(decided.page),
    charts: new Map(),
    seen: { rows: new WeakSet<Row>(), written: new WeakMap() },
  }
  const view = createView(root, page, session, id)
  await view.show(decided, state, writing)
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
      await view.show(decided, state, writing)
      const turned = action.do === 'set' || action.do === 'pause'
      const told = turned ? (await import('./changes.js')).changesOf(before, decided) : undefined
      view.say(told?.text ?? '')
      view.marks.set('moved', told?.isMoved)
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
  let resting = 0
  const remember = (): void => {
    options.onChange?.(state)
    const own = page.defaultView
    if (options.address !== true || own === null) return
    // Browsers take some milliseconds for it, and refuse it when it comes too often: a dial that turns waits until it rests.
    own.clearTimeout(resting)
    resting = own.setTimeout(() => {
      const text = toAddress(state)
      own.history.replaceState(null, '', text === '' ? own.location.pathname + own.location.search : `#${text}`)
    }, RESTS)
  }
  const stop = listen(view, {
    act: (action) => void act(action),
    decided: () => decided,
    session,
    page,
  })
  remember()
  // Whoever points at a cell shall not wait for what says why.
  import('./reasons.js').catch(() => undefined)
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
