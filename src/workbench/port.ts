import type { Session } from '../live/session/model.js'
import { checkPort, type ErrorData, errorData, errorOf, type SessionPort, serveSession } from '../live/session/port.js'
import { problem } from '../problem/input.js'
import { ProblemError } from '../problem/problem.js'
import type { Workbench } from './calls.js'
import { createWorkbench } from './workbench.js'

/**
 * A workbench behind a port. Each message is marked; other programs may use the port, too.
 */

/** The calls of a workbench. In place of its session a port is given for each page. */
export interface WorkbenchCalls extends Omit<Workbench, 'session'> {
  /**
   * Answers a page at the other end of a port: one end of a `MessageChannel`, of which
   * `mountSession` of `acuarela/live` gets the other. A page can be mounted once a state is shown.
   *
   * @param options `chartsLater`: the first answer is without charts, so that the page need not
   *   wait for what draws them; they come with the next one (`act({ do: 'again' })`). Default:
   *   false.
   */
  page(port: MessagePort, options?: { chartsLater?: boolean }): Promise<void>
}

/** A port that can pass another one on. */
interface PassingPort extends SessionPort {
  postMessage(message: unknown, passed?: readonly unknown[]): void
}

const MARK = 'acuarela workbench'
const CALLS: readonly (keyof WorkbenchCalls)[] = [
  'open',
  'give',
  'do',
  'write',
  'undo',
  'redo',
  'saved',
  'sketch',
  'check',
  'preview',
  'complete',
  'plot',
  'findings',
  'rehearse',
  'why',
  'looks',
  'compared',
  'differences',
  'prepare',
  'history',
  'page',
]

interface Message {
  of: typeof MARK
  id: number
  call?: keyof WorkbenchCalls
  given?: readonly unknown[]
  value?: unknown
  error?: ErrorData
}

/**
 * Answers the calls of a page in this thread. In a worker the port is `self`.
 *
 * @returns what ends it.
 * @throws ProblemError for what is no port.
 */
export function serveWorkbench(port: SessionPort): () => void {
  checkPort(port, 'serveWorkbench')
  const workbench = createWorkbench()
  const pages = new Set<() => void>()
  const page = (own: unknown, { chartsLater = false }: { chartsLater?: boolean } = {}): void => {
    checkPort(own as SessionPort, 'page')
    const session = chartsLater ? withChartsLater(workbench.session) : workbench.session
    pages.add(serveSession(own as SessionPort, Promise.resolve(session)))
  }
  /** Calls run one after the other: each edit is made to the result of the one before. */
  let last: Promise<unknown> = Promise.resolve()
  const heard = ({ data }: Event & { data?: Message }): void => {
    const { of, id, call, given = [] } = data ?? ({} as Message)
    if (of !== MARK || call === undefined || !CALLS.includes(call)) return
    const make = call === 'page' ? page : (workbench[call] as (...given: unknown[]) => Promise<unknown>)
    const run = last.then(() => make(...(given as [unknown])))
    last = run.catch(() => undefined)
    run.then(
      (value) => port.postMessage({ of: MARK, id, value } satisfies Message),
      (error: unknown) => port.postMessage({ of: MARK, id, error: errorData(error) } satisfies Message),
    )
  }
  port.addEventListener('message', heard)
  port.start?.()
  return () => {
    port.removeEventListener('message', heard)
    for (const stop of pages) stop()
  }
}

/** The same session, whose first answer has no charts. */
function withChartsLater(session: Session): Session {
  let isFirst = true
  return {
    ...session,
    controls: session.controls,
    async answer(state) {
      const update = await session.answer(state)
      if (!isFirst) return update
      isFirst = false
      return {
        ...update,
        page: { ...update.page, exhibits: update.page.exhibits.filter(({ kind }) => kind !== 'chart') },
      }
    },
  }
}

/**
 * The workbench at the other end of a port.
 *
 * @throws ProblemError for what is no port.
 */
export function connectWorkbench(port: SessionPort): WorkbenchCalls {
  checkPort(port, 'connectWorkbench')
  const waiting = new Map<number, { done(value: unknown): void; failed(error: Error): void }>()
  let last = 0
  port.addEventListener('message', ({ data }: Event & { data?: Message }) => {
    if (data?.of !== MARK || data.call !== undefined) return
    const call = waiting.get(data.id)
    waiting.delete(data.id)
    if (data.error === undefined) call?.done(data.value)
    else call?.failed(errorOf(data.error))
  })
  const failed = (event: Event & { message?: string }): void => {
    const error = new ProblemError([problem('session-lost', { detail: event.message ?? event.type })])
    for (const call of waiting.values()) call.failed(error)
    waiting.clear()
  }
  for (const type of ['error', 'messageerror']) port.addEventListener(type, failed)
  port.start?.()
  const ask =
    (call: keyof WorkbenchCalls) =>
    (...given: readonly unknown[]): Promise<unknown> =>
      new Promise((done, failedOne) => {
        const id = ++last
        waiting.set(id, { done, failed: failedOne })
        // A port is passed on, everything else is copied.
        const passed = call === 'page' ? given.slice(0, 1) : []
        ;(port as PassingPort).postMessage({ of: MARK, id, call, given } satisfies Message, passed)
      })
  return Object.fromEntries(CALLS.map((call) => [call, ask(call)])) as unknown as WorkbenchCalls
}
