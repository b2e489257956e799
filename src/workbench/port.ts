import type { Session } from '../live/session/model.js'
import { checkPort, type SessionPort, serveSession } from '../live/session/port.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { createWorkbench, type Workbench } from './workbench.js'

/**
 * A workbench behind a port. Its calls and the session of its page share the port; each message is
 * marked.
 */

/** The calls of a workbench, without the session, which has messages of its own. */
export type WorkbenchCalls = Omit<Workbench, 'session'>

const MARK = 'acuarela workbench'
const CALLS: readonly (keyof WorkbenchCalls)[] = [
  'open',
  'give',
  'do',
  'write',
  'undo',
  'redo',
  'saved',
  'preview',
  'complete',
  'plot',
  'findings',
  'history',
]

interface Message {
  of: typeof MARK
  id: number
  call?: keyof WorkbenchCalls
  given?: readonly unknown[]
  value?: unknown
  error?: { message: string; problems?: readonly Problem[] }
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
  let stopSession: (() => void) | undefined
  /** Calls run one after the other: each edit is made to the result of the one before. */
  let last: Promise<unknown> = Promise.resolve()
  const heard = ({ data }: Event & { data?: Message }): void => {
    const { of, id, call, given = [] } = data ?? ({} as Message)
    if (of !== MARK || call === undefined || !CALLS.includes(call)) return
    const run = last.then(() => (workbench[call] as (...given: unknown[]) => Promise<unknown>)(...given))
    last = run.catch(() => undefined)
    run.then(
      (value) => {
        // The page can ask for the report once there is one.
        if ((value as { isShown?: boolean } | undefined)?.isShown === true)
          stopSession ??= serveSession(port, Promise.resolve(workbench.session satisfies Session))
        port.postMessage({ of: MARK, id, value } satisfies Message)
      },
      (error: unknown) => port.postMessage({ of: MARK, id, error: errorData(error) } satisfies Message),
    )
  }
  port.addEventListener('message', heard)
  port.start?.()
  return () => {
    port.removeEventListener('message', heard)
    stopSession?.()
  }
}

/**
 * The workbench at the other end of a port. Its page is mounted by `mountSession` of
 * `acuarela/live` with the same port, once a state is shown.
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
        port.postMessage({ of: MARK, id, call, given } satisfies Message)
      })
  return Object.fromEntries(CALLS.map((call) => [call, ask(call)])) as unknown as WorkbenchCalls
}

function errorData(error: unknown): NonNullable<Message['error']> {
  if (error instanceof ProblemError) return { message: error.message, problems: error.problems }
  return { message: error instanceof Error ? error.message : String(error) }
}

function errorOf({ message, problems }: NonNullable<Message['error']>): Error {
  return problems === undefined ? new Error(message) : new ProblemError([...problems])
}
