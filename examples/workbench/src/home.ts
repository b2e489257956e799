import type { SavedHistory } from 'acuarela/edit'
import type { ServedSource } from 'acuarela/workbench'
import { calls, type OpenedFiles } from './bench.js'
import { demoFiles } from './demo.js'
import { forgetDraft, keepDraft, keptDraft } from './kept.js'

/** What became of a text that was saved. */
export type Saved =
  | { is: 'saved'; name?: string }
  /** The file is another than the one that was read: its text now; null where it is gone. */
  | { is: 'changed'; text: string | null; version: string | null }
  /** It could not be written, in words. */
  | { is: 'failed'; why: string }

/** What changed on disk meanwhile. */
export interface DiskChange {
  version: string | null
  files: readonly string[]
}

/** Where reports come from and go to: this browser, or the server of `acuarela edit`. */
export interface Home {
  /** Whether files are written where they came from. */
  isServer: boolean
  /** What is opened first. */
  first(): Promise<OpenedFiles>
  /** Keeps a draft, so that it is there after a reload or a crash. */
  keep(opened: OpenedFiles, text: string): Promise<void>
  forget(): Promise<void>
  /** @param name of a report that has no file yet. */
  save(opened: OpenedFiles, text: string, name?: string): Promise<Saved>
  /** Calls back when something changed on disk; returns what ends it. */
  watch(changed: (change: DiskChange) => void): () => void
  /** The report as it is on disk now. */
  again(): Promise<OpenedFiles | undefined>
}

const inBrowser: Home = {
  isServer: false,
  first: async () => (await keptDraft()) ?? demoFiles(),
  keep: (opened) => keepDraft(opened),
  forget: forgetDraft,
  async save(opened, text) {
    try {
      const { writeHandle } = await import('./write-file.js')
      await writeHandle(opened, text)
      return { is: 'saved' }
    } catch (error) {
      return { is: 'failed', why: error instanceof Error ? error.message : String(error) }
    }
  },
  watch: () => () => undefined,
  again: async () => undefined,
}

interface ServerState {
  name: string
  text: string
  version: string | null
  included: Record<string, string>
  files: readonly { name: string; mark: string }[]
  served: readonly { name: string; of: ServedSource['of'] }[]
  problems: readonly string[]
  draft: { text: string; saved: SavedHistory; base: string | null } | null
}

/** Data files that were fetched, by name, with the mark that they had then. */
const fetched = new Map<string, { mark: string; bytes: Uint8Array }>()

async function fromServer(): Promise<OpenedFiles> {
  const answer = await fetch('api/report')
  if (!answer.ok) throw new Error(await failure(answer))
  const { name, text, version, included, files, served, draft } = (await answer.json()) as ServerState
  const data = await Promise.all(
    files.map(async (file): Promise<[string, Uint8Array] | undefined> => {
      const known = fetched.get(file.name)
      if (known?.mark === file.mark) return [file.name, known.bytes]
      const bytes = await fetch(`api/file?name=${encodeURIComponent(file.name)}`)
      // One that is gone is listed as missing.
      if (!bytes.ok) return undefined
      const content = new Uint8Array(await bytes.arrayBuffer())
      fetched.set(file.name, { mark: file.mark, bytes: content })
      return [file.name, content]
    }),
  )
  const engine = (own: string): string => new URL(`engine/${encodeURIComponent(own)}`, location.href).href
  return {
    name,
    text,
    version,
    isNew: version === null,
    files: { ...included, ...Object.fromEntries(data.filter((one) => one !== undefined)) },
    served: Object.fromEntries(served.map((one) => [one.name, { url: engine(one.name), of: one.of }])),
    ...(draft !== null && { saved: draft.saved, base: draft.base }),
  }
}

/** What the server says of a request that it refused. */
async function failure(answer: Response): Promise<string> {
  const text = await answer.text()
  try {
    return (JSON.parse(text) as { problems: { message: string }[] }).problems.map(({ message }) => message).join('; ')
  } catch {
    return text.trim()
  }
}

const json = (body: unknown, method = 'PUT'): RequestInit => ({
  method,
  body: JSON.stringify(body),
  headers: { 'content-type': 'application/json' },
})

const onServer: Home = {
  isServer: true,
  first: fromServer,
  async keep(opened, text) {
    const saved = await calls.history()
    await fetch('api/draft', json({ text, saved, base: opened.version ?? null }))
  },
  async forget() {
    await fetch('api/draft', { method: 'DELETE' })
  },
  async save(opened, text, name) {
    try {
      const answer = await fetch('api/report', json({ text, version: opened.version ?? null, ...(name && { name }) }))
      if (!answer.ok && answer.status !== 409) return { is: 'failed', why: await failure(answer) }
      const saved = (await answer.json()) as Saved & { version: string }
      if (saved.is === 'saved') opened.version = saved.version
      return saved
    } catch {
      return { is: 'failed', why: 'the server does not answer; the draft is kept in this page' }
    }
  },
  watch(changed) {
    const events = new EventSource('api/changes')
    events.addEventListener('change', (event) => changed(JSON.parse(event.data) as DiskChange))
    return () => events.close()
  },
  async again() {
    const { saved: _, base: __, ...opened } = await fromServer()
    return opened
  },
}

export const home = document.documentElement.dataset.server === undefined ? inBrowser : onServer
