import type { Edit, SavedHistory } from 'acuarela/edit'
import type { Mounted } from 'acuarela/live'
import { connectWorkbench, type ServedSource, type SessionPort, type WorkbenchState } from 'acuarela/workbench'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'

/** A report with its files, as they were dropped or picked. */
export interface OpenedFiles {
  name: string
  text: string
  files: Record<string, string | Uint8Array>
  /** The history of a draft that was kept. */
  saved?: SavedHistory
  /** Sources whose rows stay on a server. */
  served?: Readonly<Record<string, ServedSource>>
  /** What the file was when it was read, on a server; null where there is none. */
  version?: string | null
  /** The version that a kept draft began with; left out where there is no draft. */
  base?: string | null
  /** Whether it has no file yet. */
  isNew?: boolean
  /** The file that it came from, where the browser can write to it. */
  handle?: FileSystemFileHandle
}

/** What is typed without a longer rest is one entry, in milliseconds. */
const TYPED_MS = 4000

/** Steps by keys that are one entry follow each other within this time, in milliseconds. */
const JOIN_MS = 1500

/** The worker with the engine, and the calls to it. */
const worker = new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' })
export const calls = connectWorkbench(worker as unknown as SessionPort)

/** The live page in the middle: a parameter that is dragged moves there first. */
export const shownPage: { now: Mounted | null } = { now: null }

/** What the page knows, and what changes it. */
export interface Bench {
  state: WorkbenchState | null
  /** What went wrong beside the report: a worker that was lost, an edit that was refused. */
  trouble: string
  open(opened: OpenedFiles): Promise<void>
  /** Adds files that the report names. */
  give(files: OpenedFiles['files'], served?: OpenedFiles['served']): Promise<void>
  /**
   * `drag`: the number of a drag, whose steps are one entry; 0 for a step by keys, which joins the
   * step before it if that was a moment ago.
   */
  edit(edit: Edit, drag?: number): Promise<void>
  write(text: string): Promise<void>
  undo(): Promise<void>
  redo(): Promise<void>
  /** The text is that of its file now, which may have a new name. */
  save(name?: string): Promise<void>
  /** Shows what went wrong. */
  fail(error: unknown): void
}

/** The workbench as a hook: each call gives the next state. */
export function useBench(): Bench {
  const [state, setState] = useState<WorkbenchState | null>(null)
  const [trouble, setTrouble] = useState('')
  /** Of the edits of a drag that wait, only the newest is made. */
  const waiting = useRef<{ edit: Edit; merge: boolean } | null>(null)
  const isBusy = useRef(false)
  const take = useCallback(async (next: Promise<WorkbenchState>): Promise<void> => {
    try {
      const now = await next
      setTrouble((now.draft.refused ?? []).map(({ message }) => message).join('\n'))
      setState(now)
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error))
    }
  }, [])
  /** What the last step set, and when: the next one joins it, and no other entry. */
  const joined = useRef({ path: '', at: 0, drag: 0 })
  const edit = useCallback(
    async (wanted: Edit, drag?: number): Promise<void> => {
      const path = drag !== undefined && 'path' in wanted ? JSON.stringify(wanted.path) : ''
      const now = performance.now()
      const last = joined.current
      const isNext = drag === last.drag && (drag !== 0 || now - last.at < JOIN_MS)
      const merge = path !== '' && path === last.path && isNext
      joined.current = { path, at: now, drag: drag ?? 0 }
      if (drag === undefined) return take(calls.do(wanted))
      // One that is still waiting has not begun its entry yet.
      waiting.current = { edit: wanted, merge: merge && waiting.current?.merge !== false }
      if (isBusy.current) return
      isBusy.current = true
      while (waiting.current !== null) {
        const next: { edit: Edit; merge: boolean } = waiting.current
        waiting.current = null
        await take(calls.do(next.edit, { merge: next.merge }))
      }
      isBusy.current = false
    },
    [take],
  )
  useEffect(() => {
    const lost = (): void => setTrouble('The engine has stopped. Reload the page; your text is kept in this browser.')
    worker.addEventListener('error', lost)
    return () => worker.removeEventListener('error', lost)
  }, [])
  const give = useCallback(
    (files: OpenedFiles['files'], served?: OpenedFiles['served']) => take(calls.give(files, served)),
    [take],
  )
  const open = useCallback(
    ({ name, text, files, saved, served, isNew = false }: OpenedFiles) =>
      take(calls.open({ name, text, files, ...(saved && { saved }), ...(served && { served }), isNew })),
    [take],
  )
  const write = useCallback(
    (text: string) => {
      const [now, { path, at }] = [performance.now(), joined.current]
      joined.current = { path: 'text', at: now, drag: 0 }
      return take(calls.write(text, { merge: path === 'text' && now - at < TYPED_MS }))
    },
    [take],
  )
  const undo = useCallback(() => {
    joined.current = { path: '', at: 0, drag: 0 }
    return take(calls.undo())
  }, [take])
  const redo = useCallback(() => {
    joined.current = { path: '', at: 0, drag: 0 }
    return take(calls.redo())
  }, [take])
  const save = useCallback((name?: string) => take(calls.saved(name)), [take])
  const fail = useCallback((error: unknown) => setTrouble(error instanceof Error ? error.message : String(error)), [])
  return useMemo(
    () => ({ state, trouble, edit, give, open, write, undo, redo, save, fail }),
    [state, trouble, edit, give, open, write, undo, redo, save, fail],
  )
}
