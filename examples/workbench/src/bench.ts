import type { Edit, SavedHistory } from 'acuarela/edit'
import type { Mounted } from 'acuarela/live'
import { connectWorkbench, type ServedSource, type SessionPort, type WorkbenchState } from 'acuarela/workbench'
import { useCallback, useEffect, useRef, useState } from 'react'

/** A report with its files, as they were dropped or picked. */
export interface OpenedFiles {
  name: string
  text: string
  files: Record<string, string | Uint8Array>
  /** The history of a draft that was kept. */
  saved?: SavedHistory
  /** Sources whose rows stay on a server. */
  served?: Readonly<Record<string, ServedSource>>
  /** What the file was when it was read, on a server; null for a report that has no file yet. */
  version?: string | null
  /** The file that it came from, where the browser can write to it. */
  handle?: FileSystemFileHandle
}

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
  give(files: OpenedFiles['files']): Promise<void>
  edit(edit: Edit, merge?: boolean): Promise<void>
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
  const edit = useCallback(
    async (wanted: Edit, merge = false): Promise<void> => {
      if (!merge) return take(calls.do(wanted))
      waiting.current = { edit: wanted, merge }
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
  return {
    state,
    trouble,
    edit,
    give: useCallback((files: OpenedFiles['files']) => take(calls.give(files)), [take]),
    open: useCallback(
      ({ name, text, files, saved, served, version }: OpenedFiles) =>
        take(
          calls.open({
            name,
            text,
            files,
            ...(saved && { saved }),
            ...(served && { served }),
            isNew: version === null,
          }),
        ),
      [take],
    ),
    write: useCallback((text: string) => take(calls.write(text, { merge: true })), [take]),
    undo: useCallback(() => take(calls.undo()), [take]),
    redo: useCallback(() => take(calls.redo()), [take]),
    save: useCallback((name?: string) => take(calls.saved(name)), [take]),
    fail: useCallback((error: unknown) => setTrouble(error instanceof Error ? error.message : String(error)), []),
  }
}
