import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { createAdaptorServer } from '@hono/node-server'
import { type Context, Hono } from 'hono'
import { bodyLimit } from 'hono/body-limit'
import { streamSSE } from 'hono/streaming'
import { ProblemError, problem } from '../problem/problem.js'
import { type Shape, validate } from '../shape/shape.js'
import { type Access, createAccess } from './access.js'
import { type DraftStore, draftOf } from './drafts.js'
import { type PageFile, pageFiles } from './page-files.js'
import type { Project, ProjectState } from './project.js'
import type { ServedSources } from './sources.js'
import { type DiskChange, watchProject } from './watch.js'

/** A workbench over one report on disk, while it is served. */
export interface EditServer {
  /** The address that lets a browser in, once. */
  address(): string
  close(): Promise<void>
}

interface Parts {
  project: Project
  drafts: DraftStore
  sources: ServedSources
  /** 0 is a free port. */
  port: number
  /** The address was opened again: a new one is printed, for whoever sees the terminal. */
  onUsed(address: string): void
  /** Something failed here that is no fault of a request. */
  onFault(error: unknown): void
}

/** A report has some kilobytes; a draft keeps a text for each step of its history. */
const MOST_TEXT = 4_000_000
const MOST_DRAFT = 64_000_000

/** What the page may load and run: its own files. Styles of painted cells stand on elements. */
const POLICY = [
  "default-src 'none'",
  "script-src 'self'",
  "worker-src 'self'",
  "connect-src 'self'",
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data: blob:",
  "frame-ancestors 'none'",
  "base-uri 'none'",
  "form-action 'none'",
].join('; ')

/** Serves a workbench on 127.0.0.1, for the browser alone that has its address. */
export async function serveEdit({ project, drafts, sources, port, onUsed, onFault }: Parts): Promise<EditServer> {
  const page = await pageFiles()
  const listeners = new Set<(change: DiskChange) => void>()
  let stopWatching = (): void => undefined
  /** The state as the page gets it; from then on its files are watched. */
  const state = async (): Promise<ProjectState> => {
    const now = await project.state()
    await sources.serve(now.text, now.served)
    stopWatching()
    stopWatching = watchProject(project, now, (change) => {
      for (const tell of listeners) tell(change)
    })
    return now
  }
  let access: Access | undefined
  const app = new Hono()
  app.use(async (context, next) => {
    const isEntry = context.req.path === '/' && context.req.query('token') !== undefined
    const refused = access?.refusal(context.req.raw, !isEntry)
    if (access === undefined || refused !== undefined)
      return withHeaders(textOf(refused?.[0] ?? 403, refused?.[1] ?? ''))
    await next()
    withHeaders(context.res)
  })
  app.get('/', (context) => {
    const token = context.req.query('token')
    if (token === undefined) return fileOf(page.get('/'))
    const cookie = access?.enter(token)
    // Without the token in the address, so that no history or screenshot shows it.
    if (cookie !== undefined)
      return new Response(null, { status: 303, headers: { location: '/', 'set-cookie': cookie } })
    const known = access?.refusal(context.req.raw, true) === undefined
    if (known) return new Response(null, { status: 303, headers: { location: '/' } })
    if (access?.isUsed(token) !== true) return textOf(403, 'open the address that the tool printed')
    onUsed(access.address())
    return textOf(403, 'This address was used already. The terminal shows a new one.')
  })
  routes(app, { project, drafts, sources, state, listeners })
  app.get('*', (context) => fileOf(page.get(context.req.path)))
  app.notFound(() => textOf(404, 'not found'))
  app.onError((error) => {
    if (error instanceof ProblemError) return Response.json({ problems: error.problems }, { status: 400 })
    onFault(error)
    return textOf(500, 'the server failed; the terminal tells why')
  })
  const server = createAdaptorServer({ fetch: app.fetch }) as Server
  await listening(server, port)
  access = createAccess((server.address() as AddressInfo).port)
  const entry = access
  return {
    address: () => entry.address(),
    async close() {
      stopWatching()
      server.closeAllConnections()
      await Promise.all([new Promise((done) => server.close(done)), sources.close()])
    },
  }
}

const SAVE: Shape = {
  keys: { text: 'text', version: { any: ['text', 'nothing'] }, 'name?': 'text' },
}

interface Routes extends Pick<Parts, 'project' | 'drafts' | 'sources'> {
  state(): Promise<ProjectState>
  listeners: Set<(change: DiskChange) => void>
}

/** What the page asks: its report and files, drafts, questions, and what changes on disk. */
function routes(app: Hono, { project, drafts, sources, state, listeners }: Routes): void {
  const limited = (maxSize: number) =>
    bodyLimit({ maxSize, onError: () => textOf(413, `the request is over ${maxSize} bytes`) })
  app.get('/api/report', async (context) => context.json({ ...(await state()), draft: (await drafts.read()) ?? null }))
  app.put('/api/report', limited(MOST_TEXT), async (context) => {
    const { value, problems } = validate(SAVE, await jsonOf(context))
    if (problems.length > 0) throw new ProblemError(problems)
    const { text, version, name } = value as { text: string; version: string | null; name?: string }
    const saved = await project.save(text, version, name)
    if (saved.is === 'saved') await drafts.forget()
    return context.json(saved, saved.is === 'saved' ? 200 : 409)
  })
  app.get('/api/file', async (context) => {
    const bytes = await project.file(context.req.query('name') ?? '')
    if (bytes === undefined) return textOf(404, 'not found')
    return new Response(Uint8Array.from(bytes), { headers: { 'content-type': 'application/octet-stream' } })
  })
  app.put('/api/draft', limited(MOST_DRAFT), async (context) => {
    const draft = draftOf(await jsonOf(context))
    if (draft === undefined) return textOf(400, 'no draft')
    await drafts.write(draft)
    return context.body(null, 204)
  })
  app.delete('/api/draft', async (context) => {
    await drafts.forget()
    return context.body(null, 204)
  })
  app.post('/engine/:name', async (context) => {
    const answer = await sources.handler(context.req.param('name'))
    return answer === undefined ? textOf(404, 'not found') : answer(context.req.raw)
  })
  app.get('/api/changes', (context) =>
    streamSSE(context, async (stream) => {
      await new Promise<void>((done) => {
        const tell = (change: DiskChange): void =>
          void stream.writeSSE({ event: 'change', data: JSON.stringify(change) }).catch(done)
        listeners.add(tell)
        stream.onAbort(() => {
          listeners.delete(tell)
          done()
        })
      })
    }),
  )
  // A path that is there, asked in another way.
  for (const path of ['/', '/api/report', '/api/file', '/api/draft', '/api/changes', '/engine/:name'])
    app.all(path, () => textOf(405, 'the method is not one of this address'))
}

/** The body as a value; undefined where it is no JSON. */
async function jsonOf(context: Context): Promise<unknown> {
  return context.req.json().catch(() => undefined)
}

function fileOf(file: PageFile | undefined): Response {
  if (file === undefined) return textOf(404, 'not found')
  return new Response(file.bytes, { headers: { 'content-type': file.type } })
}

function textOf(status: number, text: string): Response {
  return new Response(`${text}\n`, { status, headers: { 'content-type': 'text/plain; charset=utf-8' } })
}

function withHeaders(response: Response): Response {
  const { headers } = response
  headers.set('content-security-policy', POLICY)
  headers.set('x-content-type-options', 'nosniff')
  headers.set('referrer-policy', 'no-referrer')
  headers.set('cross-origin-opener-policy', 'same-origin')
  headers.set('cross-origin-resource-policy', 'same-origin')
  headers.set('cache-control', 'no-store')
  return response
}

/** Loopback alone: nothing outside this machine can connect. */
async function listening(server: Server, port: number): Promise<void> {
  await new Promise<void>((done, failed) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      failed(error.code === 'EADDRINUSE' ? new ProblemError([problem('port-taken', { port })]) : error),
    )
    server.listen(port, '127.0.0.1', done)
  })
}
