import type { Page, Row } from '../page/page.js'
import { hasPlace } from '../page/places.js'
import type { Writing } from '../view/html/cells/cell.js'
import { createWriting } from '../view/html/page.js'
import { escapeText } from '../view/markup.js'
import type { ActionChecks, SetText } from './checks.js'
import { changesMarkup } from './controls/changes.js'
import { listen } from './controls/events.js'
import { showState } from './controls/markup.js'
import { createView } from './create-view.js'
import { exhibitId } from './dom/address.js'
import type { ShownCell } from './dom/elements.js'
import { nextFrame } from './dom/tasks.js'
import type { View } from './dom/view.js'
import type { Mounted, MountOptions } from './mount-options.js'
import { allowedActions, type Changes, type ReportControls, type Session, type Update } from './session/model.js'
import {
  type Action,
  type Allowed,
  FIRST_STATE,
  fromAddress,
  type LiveState,
  nextState,
  toAddress,
} from './state/state.js'

/** A control rests when it has not moved for so long, in milliseconds. */
const ADDRESS_DELAY_MS = 120

let mounts = 0

/** What a page that is nothing but the report may want besides. */
interface PageOptions extends MountOptions {
  /** Whether the page draws its controls before the first answer. */
  early?: boolean
}

/**
 * Shows a live report inside `root`: a shadow root, or the main part of a page that is nothing but
 * the report. The session may run in another thread.
 */
export async function mountIn(
  root: ShadowRoot | HTMLElement,
  session: Session,
  options: PageOptions = {},
  checks?: ActionChecks,
): Promise<Mounted> {
  const { ownerDocument: page = document } = root
  const { controls } = session
  const allowed = allowedActions(controls)
  let state = startState(root, controls, allowed, options, checks)
  let last = state
  const view = createView(root, page, controls, `live-${++mounts}`)
  const remember = createRecorder(options, page)
  view.main.setAttribute('aria-busy', 'true')
  showState(view.tools, state, controls)
  const screen = createScreen(view, session, root)
  // The controls are in the page already: what a reader does meanwhile is answered after the first
  // answer, and shown in its place.
  const first = screen.begin(state, options.early === true, () => asked === 0)
  let [asked, done] = [0, first.catch(() => undefined)]
  /** Answers and shows the newest state. Of waiting calls only the last one runs. */
  const refresh = async (turn: number): Promise<void> => {
    if (turn !== asked) return
    const now = state
    try {
      await screen.show(now)
      last = now
      remember(state)
    } catch (error) {
      // The last shown state is restored, unless a newer call waits.
      if (turn === asked) {
        state = last
        showState(view.tools, state, controls)
        await screen.restore(state)
      }
      view.say(escapeText(`${(error as Error).message}`).replaceAll('\n', '<br>'))
      throw error
    } finally {
      if (turn === asked) view.main.removeAttribute('aria-busy')
    }
  }
  const act = (wanted: Action | SetText): Promise<void> => {
    const action = checks === undefined ? (wanted as Action) : checks.action(wanted, controls)
    const next = nextState(state, action, allowed)
    if (next === state && action.do !== 'again') return done
    state = next
    showState(view.tools, state, controls)
    view.main.setAttribute('aria-busy', 'true')
    const turn = ++asked
    const run = done.then(() => refresh(turn))
    // A failure is reported by its own call and does not stop the next.
    done = run.catch(() => undefined)
    return run
  }
  // A failure is told in the page.
  const actQuietly = (action: Action): undefined => void act(action).catch(() => undefined)
  const paused = (): readonly string[] => last.paused
  const stop = listen(view, { act: actQuietly, shown: screen.shown, ready: first, paused, session, page })
  await first.catch((error: unknown) => {
    stop()
    view.remove()
    view.main.removeAttribute('aria-busy')
    throw error
  })
  if (asked === 0) view.main.removeAttribute('aria-busy')
  else await done
  remember(state)
  const end = (): void => {
    stop()
    session.close()
  }
  const { shown } = screen
  return { ...calls(act, view, end, checks), state: () => state, page: () => shown().page, controls: () => controls }
}

/** Answers states of a report, and shows them. */
interface Screen {
  /**
   * Answers the first state; `early`: the page is drawn with its controls before that. Shows the
   * answer if nothing else was asked for meanwhile.
   */
  begin(state: LiveState, early: boolean, isWanted: () => boolean): Promise<void>
  /** Where it cannot be shown, the update before stays. */
  show(state: LiveState): Promise<void>
  /** Shows the last answer, if nothing was shown so far. */
  restore(state: LiveState): Promise<void>
  /** The report as it is shown. */
  shown(): Update
}

function createScreen(view: View, session: Session, root: ShadowRoot | HTMLElement): Screen {
  let shown: Update | undefined
  let writing: Writing | undefined
  let isDrawn = false
  const draw = async (update: Update, state: LiveState): Promise<void> => {
    writing ??= freshWriting(update.page, root)
    await showUpdate(view, update, state, session.controls, writing)
    isDrawn = true
  }
  return {
    async begin(state, early, isWanted) {
      if (early) await nextFrame()
      shown = await session.answer(state)
      if (isWanted()) await draw(shown, state)
    },
    async show(state) {
      const before = shown
      try {
        shown = await session.answer(state)
        await draw(shown, state)
      } catch (error) {
        shown = before
        throw error
      }
    },
    async restore(state) {
      if (!isDrawn && shown !== undefined) await draw(shown, state)
    },
    shown() {
      if (shown === undefined) throw new Error('nothing is shown yet')
      return shown
    },
  }
}

/** The calls of a host that change the state or how cells look, and the one that ends it. */
function calls(
  act: (action: Action | SetText) => Promise<void>,
  view: View,
  end: () => void,
  checks: ActionChecks | undefined,
): Pick<Mounted, 'set' | 'filter' | 'act' | 'mark' | 'destroy'> {
  return {
    set: async (parameter, value) => act({ do: 'set', parameter, value }),
    filter: async (key, values) => act({ do: 'filter', key, values }),
    act: async (action) => act(action),
    mark(className, holds) {
      checks?.mark(className, holds)
      view.marks.set(className, holds ?? undefined)
    },
    destroy() {
      end()
      view.remove()
    },
  }
}

/** Shows an update with its changes in words, and outlines the changed cells. */
async function showUpdate(
  view: View,
  update: Update,
  state: LiveState,
  controls: ReportControls,
  writing: Writing,
): Promise<void> {
  const { changes } = update
  await view.show(update, state, writing, changesMarkup(update, state, controls))
  view.marks.set('moved', changes === null ? undefined : movedCells(changes))
}

/** Whether the status of a cell of the page changed. */
function movedCells({ cells }: Changes): (cell: ShownCell) => boolean {
  const changed = new Map(cells.map(({ exhibit, moved }) => [exhibit, moved]))
  return ({ exhibit, place }) => place !== undefined && hasPlace(changed.get(exhibit) ?? [], place)
}

/** A cache of written markup, so that unchanged parts are not written again. */
function freshWriting(page: Page, root: ShadowRoot | HTMLElement): Writing {
  const placement = root instanceof HTMLElement && { placement: placementIn(root) }
  const seen = { rows: new WeakSet<Row>(), written: new WeakMap() }
  return {
    ...createWriting(page, root instanceof HTMLElement ? 'v' : ''),
    addressed: true,
    charts: new Map(),
    seen,
    ...placement,
  }
}

/** How the tool has placed the exhibits of its page, which may not be laid out yet. */
function placementIn(main: HTMLElement): NonNullable<Writing['placement']> {
  const places = new Map(
    [...main.querySelectorAll('section')].map((section) => {
      const joins =
        section.parentElement?.classList.contains('flow') === true && section.previousElementSibling !== null
      return [section.getAttribute('aria-labelledby'), { joins, aside: section.classList.contains('aside') }]
    }),
  )
  return { get: (exhibit) => places.get(exhibitId(exhibit)) ?? { joins: false, aside: false } }
}

/** Calls `onChange` and writes the state to the URL if that is wanted. */
function createRecorder({ onChange, address }: MountOptions, page: Document): (state: LiveState) => void {
  const browserWindow = page.defaultView
  let resting = 0
  return (state) => {
    onChange?.(state)
    if (address !== true || browserWindow === null) return
    // Browsers limit how often the URL may change, and take milliseconds for it: a slider is
    // recorded when it rests.
    browserWindow.clearTimeout(resting)
    resting = browserWindow.setTimeout(() => {
      const text = toAddress(state)
      browserWindow.history.replaceState(
        null,
        '',
        text === '' ? browserWindow.location.pathname + browserWindow.location.search : `#${text}`,
      )
    }, ADDRESS_DELAY_MS)
  }
}

function startState(
  root: ShadowRoot | HTMLElement,
  controls: ReportControls,
  allowed: Allowed,
  options: MountOptions,
  checks: ActionChecks | undefined,
): LiveState {
  const { address } = options
  const { defaultView } = root.ownerDocument ?? document
  let state = address === true ? fromAddress(defaultView?.location.hash ?? '', allowed) : FIRST_STATE
  // A page that was written in a theme keeps it, unless the link has another.
  const written = root instanceof HTMLElement ? root.dataset.theme : undefined
  if (state.theme === 'auto' && (written === 'light' || written === 'dark')) state = { ...state, theme: written }
  for (const action of checks?.start(options, controls) ?? []) state = nextState(state, action, allowed)
  return state
}
