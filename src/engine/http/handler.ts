import { stringify } from 'devalue'
import { ProblemError, problem } from '../../problem/problem.js'
import { checkShape, type Shape } from '../../shape/shape.js'
import { asSourceTable } from '../../table/as-table.js'
import type { SourceTable } from '../../table/source-table.js'
import type { Table } from '../../table/table.js'
import { answerQuestion } from './answer.js'
import { createSources, describeSource } from './prepare.js'
import { type EngineRequest, REQUEST } from './wire.js'

/** What a page may ask of a source over HTTP. */
export interface EngineHandlerOptions {
  /** The columns that are known; default: all of the source. */
  columns?: readonly string[]
  /** Whether rows themselves are answered, not only groups of them; default: false. */
  records?: boolean
  /** The most groups or rows of an answer; default: 200,000. */
  maxGroups?: number
  /** Called with an error that is no problem of the request; the page is told of one. */
  onFault?: (error: unknown) => void
  /** The most bytes of a request; default: 8 MB. Looked-up columns travel in it. */
  maxBytes?: number
}

const OPTIONS: Shape = {
  keys: {
    'columns?': { list: 'text' },
    'records?': 'truth',
    'maxGroups?': { is: 'whole', min: 1 },
    'maxBytes?': { is: 'whole', min: 1 },
    'onFault?': 'function',
  },
}

/**
 * Answers the questions of pages about a source that stays on the server: the other side of
 * `engineOverHttp`. It takes a `Request` and gives a `Response`, as servers of the Fetch standard
 * do. Who may ask is decided before it is called. Expressions are parsed, bound and bounded here;
 * what is not in `columns` does not exist.
 *
 * A request that is refused has the status 400 (413 if it is too large), with the problems as JSON.
 *
 * @param source rows in memory (`readSource`, a table, a list of rows) or in a database
 *   (`openDuckdb`, `openPostgres`).
 * @throws ProblemError for options that are none, and columns that the source has not.
 */
export function engineHandler(
  source: SourceTable | Table | readonly object[],
  options: EngineHandlerOptions = {},
): (request: Request) => Promise<Response> {
  checkShape(OPTIONS, options, ['options'])
  const { records = false, maxGroups = 200_000, maxBytes = 8_000_000, onFault } = options
  const sources = createSources(asSourceTable(source, 'source'), options.columns)
  return async (request) => {
    if (request.method !== 'POST')
      return refused(405, problem('http-request', { detail: `the method is ${request.method}` }))
    const text = await bodyOf(request, maxBytes)
    if (text === undefined) return refused(413, problem('http-large', { most: maxBytes }))
    try {
      const asked = requestOf(text)
      if (asked.call === 'columns') return answered(describeSource(sources.whole, records))
      return answered(await answerQuestion(sources.prepare(asked), asked, { records, maxGroups }))
    } catch (error) {
      if (error instanceof ProblemError) return refused(400, ...error.problems)
      onFault?.(error)
      // What a database says may hold its address or its statement.
      return refused(500, problem('http-failed', {}))
    }
  }
}

function requestOf(text: string): EngineRequest {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw new ProblemError([problem('http-request', { detail: 'it is no JSON' })])
  }
  checkShape(REQUEST, value, ['request'])
  return value as EngineRequest
}

/** The text of a body, which is read no further than it may be long. */
async function bodyOf(request: Request, most: number): Promise<string | undefined> {
  const reader = request.body?.getReader()
  if (reader === undefined) return ''
  const decoder = new TextDecoder()
  let [text, size] = ['', 0]
  for (;;) {
    const { done, value } = await reader.read()
    if (done) return text + decoder.decode()
    size += value.byteLength
    if (size > most) {
      await reader.cancel()
      return undefined
    }
    text += decoder.decode(value, { stream: true })
  }
}

const HEADERS = { 'cache-control': 'no-store', 'x-content-type-options': 'nosniff' }

function answered(value: unknown): Response {
  return new Response(stringify(value), { headers: { ...HEADERS, 'content-type': 'text/plain; charset=utf-8' } })
}

function refused(status: number, ...problems: readonly ReturnType<typeof problem>[]): Response {
  return new Response(JSON.stringify({ problems }), {
    status,
    headers: { ...HEADERS, 'content-type': 'application/json' },
  })
}
