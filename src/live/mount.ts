import type { Row } from '../page/page.js'
import type { DecidedReport } from '../report/model/answered.js'
import type { BoundReport } from '../report/model/bound.js'
import type { Writing } from '../view/html/cell.js'
import { createWriting } from '../view/html/page.js'
import { escapeText } from '../view/markup.js'
import type { ActionChecks, SetText } from './checks.js'
import { listen } from './controls/events.js'
import { showState } from './controls/markup.js'
import { createView } from './create-view.js'
import type { Changes } from './explain/changes.js'
import type { Mounted, MountOptions } from './mount-options.js'
import { createSession, type Session } from './state/session.js'
import { type Action, FIRST_STATE, fromAddress, type LiveState, nextState, toAddress } from './state/state.js'

/** When a dial counts as at rest, in milliseconds. */
const ADDRESS_DELAY_MS = 120

let mounts = 0

/**
 * Shows a live report inside `root`: a shadow root, or the main part of a page that is nothing but
 * the report.
 */
export async function mountIn(
  root: ShadowRoot | HTMLElement,
  bound: BoundReport,
  options: MountOptions = {},
  checks?: ActionChecks,
): Promise<Mounted> {
  const { ownerDocument: page = document } = root
  const id = `live-${++mounts}`
  const session = await createSession(bound)
  let state = startState(session, options, page, checks)
  let decided = await session.answer(state)
  let last = state
  const writing = freshWriting(decided)
  const view = createView(root, page, session, id)
  const remember = createRecorder(options, page)
  await view.show(decided, state, writing).catch((error: unknown) => {
    view.remove()
    throw error
  })
  let [asked, shown] = [0, Promise.resolve()]
  /** Answers and shows the newest state. Of the calls that wait, only the last runs. */
  const refresh = async (turn: number, action: Action): Promise<void> => {
    if (turn !== asked) return
    const now = state
    const before = decided
    try {
      decided = await session.answer(now)
      await view.show(decided, now, writing)
      last = now
      const told = await changesBy(action, before, decided)
      view.say(told?.text ?? '')
      view.marks.set('moved', told?.isMoved)
      remember(state)
    } catch (error) {
      view.say(escapeText(`${(error as Error).message}`).replaceAll('\n', '<br>'))
      decided = before
      // What was shown last holds, unless something else is asked for by now.
      if (turn === asked) {
        state = last
        showState(view.tools, state, session)
      }
      throw error
    } finally {
      if (turn === asked) view.main.removeAttribute('aria-busy')
    }
  }
  const act = (wanted: Action | SetText): Promise<void> => {
    const action = checks === undefined ? (wanted as Action) : checks.action(wanted, session)
    const next = nextState(state, action, session.allowed)
    if (next === state) return shown
    state = next
    showState(view.tools, state, session)
    view.main.setAttribute('aria-busy', 'true')
    const turn = ++asked
    const run = shown.then(() => refresh(turn, action))
    // A failure is reported by its own call and does not stop the next.
    shown = run.catch(() => undefined)
    return run
  }
  const stop = listen(view, {
    act: (action) => void act(action).catch(() => undefined),
    decided: () => decided,
    session,
    page,
  })
  remember(state)
  // Loaded early, so that the first popover opens at once.
  import('./explain/content.js').catch(() => undefined)
  return {
    set: async (parameter, value) => act({ do: 'set', parameter, value }),
    filter: async (key, values) => act({ do: 'filter', key, values }),
    act: async (action) => act(action),
    state: () => state,
    decided: () => decided,
    destroy() {
      stop()
      view.remove()
    },
  }
}

/** What a moved parameter or a switched rule changed, in words and cells. */
async function changesBy(action: Action, before: DecidedReport, decided: DecidedReport): Promise<Changes | undefined> {
  if (action.do !== 'set' && action.do !== 'pause') return undefined
  return (await import('./explain/changes.js')).changesOf(before, decided)
}

/** What a page remembers of its own writing, so that what is as before is not written again. */
function freshWriting({ page }: DecidedReport): Writing {
  const seen = { rows: new WeakSet<Row>(), written: new WeakMap() }
  return { ...createWriting(page), addressed: true, charts: new Map(), seen }
}

/** Reports each state, and writes it into the address of the page where that is asked for. */
function createRecorder({ onChange, address }: MountOptions, page: Document): (state: LiveState) => void {
  const own = page.defaultView
  let resting = 0
  return (state) => {
    onChange?.(state)
    if (address !== true || own === null) return
    // Browsers take some milliseconds for it, and refuse it when it comes too often: a moved
    // control is recorded when it rests.
    own.clearTimeout(resting)
    resting = own.setTimeout(() => {
      const text = toAddress(state)
      own.history.replaceState(null, '', text === '' ? own.location.pathname + own.location.search : `#${text}`)
    }, ADDRESS_DELAY_MS)
  }
}

function startState(
  session: Session,
  options: MountOptions,
  page: Document,
  checks: ActionChecks | undefined,
): LiveState {
  const { address } = options
  const { allowed } = session
  let state = address === true ? fromAddress(page.defaultView?.location.hash ?? '', allowed) : FIRST_STATE
  for (const action of checks?.start(options, session) ?? []) state = nextState(state, action, allowed)
  return state
}
