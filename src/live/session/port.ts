import type { Page, Trend } from '../../page/page.js'
import { problem } from '../../problem/input.js'
import { type Problem, ProblemError } from '../../problem/problem.js'
import type { LiveState } from '../state/state.js'
import type { CellRequest, ReportControls, Session, Update } from './model.js'
import { type PagePatch, pagePatch, patchedPage } from './page-patch.js'

/**
 * A session behind a port: `serveSession` in the thread that answers, `connectSession` in the one
 * of the page. Each request has a number, which its reply repeats. `open` says what the reader may
 * change; as a worker may listen before or after the page asks, it is sent once unasked, too.
 */

/** One end of a channel: a `Worker`, a `MessagePort`, or the global scope of a worker. */
export interface SessionPort {
  postMessage(message: unknown): void
  addEventListener(type: string, listener: (event: Event) => void): void
  removeEventListener(type: string, listener: (event: Event) => void): void
  /** A `MessagePort` delivers nothing before. */
  start?(): void
}

/** @throws ProblemError for what is no port. */
export function checkPort(port: SessionPort, call: string): void {
  if (typeof port?.postMessage === 'function' && typeof port.addEventListener === 'function') return
  const type = port === null ? 'nothing' : typeof port
  throw new ProblemError([problem('no-port', { found: type }, { path: [call, 'port'] })])
}

type Request =
  | { call: 'open' }
  | { call: 'answer'; state: LiveState }
  | { call: 'reasons' | 'trend'; cell: CellRequest }
  | { call: 'coveredCells'; rule: string }
  | { call: 'close' }

/** Messages of other programs on the same port have no such mark, and are left alone. */
const MARK = 'acuarela session'

interface Reply {
  of: typeof MARK
  /** The number of its request; 0 for the report that is sent unasked. */
  id: number
  value?: unknown
  error?: ErrorData
}

/** An update with what changed of its page. */
type SentUpdate = Omit<Update, 'page'> & { patch: PagePatch }

/**
 * Answers the requests of a page. Where the session could not be made, each request is answered
 * with the reason.
 *
 * @returns what ends it.
 */
export function serveSession(port: SessionPort, session: Promise<Session>): () => void {
  let sent: Page | undefined
  const answer = async (request: Request): Promise<unknown> => {
    const opened = await session
    switch (request.call) {
      case 'open':
        return opened.controls
      case 'answer': {
        const { page, ...update } = await opened.answer(request.state)
        const patch = pagePatch(sent, page)
        sent = page
        return { ...update, patch } satisfies SentUpdate
      }
      case 'reasons':
        return opened.reasons(request.cell)
      case 'trend':
        return opened.trend(request.cell)
      case 'coveredCells':
        return opened.coveredCells(request.rule)
      case 'close':
        return stop()
    }
  }
  const reply = (id: number, request: Request): Promise<void> =>
    answer(request).then(
      (value) => port.postMessage({ of: MARK, id, value } satisfies Reply),
      (error: unknown) => port.postMessage({ of: MARK, id, error: errorData(error) } satisfies Reply),
    )
  const heard = ({ data }: Event & { data?: Reply & { request?: Request } }): void => {
    if (data?.of === MARK && data.request !== undefined) void reply(data.id, data.request)
  }
  const stop = (): void => {
    port.removeEventListener('message', heard)
    session.then((opened) => opened.close()).catch(() => undefined)
  }
  port.addEventListener('message', heard)
  port.start?.()
  void reply(0, { call: 'open' })
  return stop
}

/**
 * The session at the other end of a port.
 *
 * @throws ProblemError where it could not be made there.
 */
export async function connectSession(port: SessionPort): Promise<Session> {
  const waiting = new Map<number, { done(value: unknown): void; failed(error: Error): void }>()
  let [last, lost] = [0, undefined as Error | undefined]
  /** The page of the last update, which the next one is a patch of. */
  let received: Page | undefined
  const ask = <T>(request: Request): Promise<T> =>
    new Promise<T>((resolve, reject) => {
      if (lost !== undefined) return reject(lost)
      const id = ++last
      waiting.set(id, { done: (value) => resolve(value as T), failed: reject })
      port.postMessage({ of: MARK, id, request })
    })
  const settle = ({ id, value, error }: Reply): void => {
    // The report that is sent unasked answers the request to open it, which may have been lost.
    const key = id === 0 ? 1 : id
    const call = waiting.get(key)
    waiting.delete(key)
    if (error === undefined) call?.done(value)
    else call?.failed(errorOf(error))
  }
  const heard = ({ data }: Event & { data?: Reply & { request?: Request } }): void => {
    if (data?.of === MARK && data.request === undefined) settle(data)
  }
  /** A worker that failed to start, or a message that could not be read: no reply will come. */
  const failed = (event: Event & { message?: string }): void => {
    lost = new ProblemError([problem('session-lost', { detail: event.message ?? event.type })])
    for (const call of waiting.values()) call.failed(lost)
    waiting.clear()
  }
  const listeners = { message: heard, error: failed, messageerror: failed }
  for (const [type, listener] of Object.entries(listeners)) port.addEventListener(type, listener)
  port.start?.()
  const controls = await ask<ReportControls>({ call: 'open' })
  return {
    controls,
    async answer(state) {
      const { patch, ...update } = await ask<SentUpdate>({ call: 'answer', state })
      received = patchedPage(received, patch)
      return { ...update, page: received }
    },
    reasons: (cell) => ask({ call: 'reasons', cell }),
    trend: (cell) => ask<Trend | null>({ call: 'trend', cell }),
    coveredCells: (rule) => ask({ call: 'coveredCells', rule }),
    close() {
      port.postMessage({ of: MARK, id: ++last, request: { call: 'close' } })
      for (const [type, listener] of Object.entries(listeners)) port.removeEventListener(type, listener)
    },
  }
}

/** An error as it goes through a port. */
export interface ErrorData {
  message: string
  problems?: readonly Problem[]
}

export function errorData(error: unknown): ErrorData {
  if (error instanceof ProblemError) return { message: error.message, problems: error.problems }
  return { message: error instanceof Error ? error.message : String(error) }
}

export function errorOf({ message, problems }: ErrorData): Error {
  return problems === undefined ? new Error(message) : new ProblemError([...problems])
}
