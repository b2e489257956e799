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

/**
 * Shows a live report inside `root`: a shadow root, or the main part of a page that is nothing but
 * the report. The session may run in another thread.
 */
export async function mountIn(
  root: ShadowRoot | HTMLElement,
  session: Session,
  options: MountOptions = {},
  checks?: ActionChecks,
): Promise<Mounted> {
  const { ownerDocument: page = document } = root
  const { controls } = session
  const allowed = allowedActions(controls)
  let state = startState(root, controls, allowed, options, checks)
  let shown = await session.answer(state)
  let last = state
  const writing = freshWriting(shown.page, root)
  const view = createView(root, page, controls, `live-${++mounts}`)
  const remember = createRecorder(options, page)
  view.main.setAttribute('aria-busy', 'true')
  const first = showUpdate(view, shown, state, controls, writing)
  // The controls are in the page already: what a reader does meanwhile waits for the first view.
  let [asked, done] = [0, first.catch(() => undefined)]
  /** Answers and shows the newest state. Of waiting calls only the last one runs. */
  const refresh = async (turn: number): Promise<void> => {
    if (turn !== asked) return
    const now = state
    const before = shown
    try {
      shown = await session.answer(now)
      await showUpdate(view, shown, now, controls, writing)
      last = now
      remember(state)
    } catch (error) {
      view.say(escapeText(`${(error as Error).message}`).replaceAll('\n', '<br>'))
      shown = before
      // The last shown state is restored, unless a newer call waits.
      if (turn === asked) {
        state = last
        showState(view.tools, state, controls)
      }
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
  const stop = listen(view, {
    act: (action) => void act(action).catch(() => undefined),
    shown: () => shown,
    paused: () => last.paused,
    session,
    page,
  })
  await first.catch((error: unknown) => {
    stop()
    view.remove()
    view.main.removeAttribute('aria-busy')
    throw error
  })
  if (asked === 0) view.main.removeAttribute('aria-busy')
  remember(state)
  const end = (): void => {
    stop()
    session.close()
  }
  return { ...calls(act, view, end, checks), state: () => state, page: () => shown.page, controls: () => controls }
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
  const placement = root instanceof HTMLElement && { placement: placementIn(root, page) }
  const seen = { rows: new WeakSet<Row>(), written: new WeakMap() }
  return { ...createWriting(page), addressed: true, charts: new Map(), seen, ...placement }
}

/** How the tool has placed the exhibits of its page. */
function placementIn(main: HTMLElement, { exhibits }: Page): NonNullable<Writing['placement']> {
  const sections = new Map(
    [...main.querySelectorAll('section')].map((section) => [section.getAttribute('aria-labelledby'), section]),
  )
  return new Map(
    exhibits.map(({ name }) => {
      const section = sections.get(exhibitId(name))
      const joins = section?.parentElement?.classList.contains('flow') === true
      const aside = section?.classList.contains('aside') === true
      return [name, { joins: joins && section?.previousElementSibling !== null, aside }]
    }),
  )
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
