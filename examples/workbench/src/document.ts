import { useCallback, useEffect, useRef, useState } from 'react'
import { type Bench, calls, type OpenedFiles } from './bench.js'
import type { GivenFile } from './files.js'
import { home } from './home.js'
import type { Given } from './sort-files.js'

/** The file changed while it was edited here: both texts are kept. */
export interface Conflict {
  /** The text on disk; null where the file is gone. */
  theirs: string | null
  version: string | null
}

/** The report file that is open: where it came from, what is saved, what it is asked for. */
export interface OpenDocument {
  /** Another one for each report that is opened: nothing typed for one goes into another. */
  id: number
  start(opened: OpenedFiles): Promise<void>
  give(files: readonly GivenFile[]): Promise<void>
  save(name?: string): Promise<void>
  /** A name is wanted for a report that has no file yet: the one that is offered. */
  naming: string | null
  cancelNaming(): void
  choice: (Given & { is: 'choice' }) | null
  cancelChoice(): void
  conflict: Conflict | null
  /** Keeps one of the two texts. */
  settle(keep: 'mine' | 'theirs'): Promise<void>
  /** What happened beside the report, in words. */
  news: string
}

export function useDocument(bench: Bench): OpenDocument {
  const { state, open, give: giveFiles, write, save: saved, fail } = bench
  const file = useRef<OpenedFiles>(undefined)
  const now = useRef(state)
  now.current = state
  const [naming, setNaming] = useState<string | null>(null)
  const [choice, setChoice] = useState<(Given & { is: 'choice' }) | null>(null)
  const [conflict, setConflict] = useState<Conflict | null>(null)
  const [news, setNews] = useState('')
  const [id, setId] = useState(0)
  const start = useCallback(
    async (opened: OpenedFiles): Promise<void> => {
      file.current = opened
      setConflict(null)
      setChoice(null)
      setNews(opened.saved === undefined ? '' : 'A draft of the last time is open; Undo leads back to the file.')
      await open(opened)
      setId((last) => last + 1)
      const { base, version = null, text } = opened
      // The file was saved by another program since the draft was begun: both are kept.
      if (base !== undefined && base !== version) {
        opened.version = base
        setConflict({ theirs: text, version })
      }
    },
    [open],
  )
  useEffect(() => {
    home.first().then(start, (error: unknown) => fail(error))
  }, [start, fail])
  useEffect(() => {
    // What is saved needs no draft; one that rests is kept, with its history.
    const wait = setTimeout(() => {
      const opened = file.current
      if (state === null || opened === undefined) return
      const kept = state.isSaved && opened.isNew !== true ? home.forget() : home.keep(opened, state.draft.text)
      kept.catch(() => setNews('The draft cannot be kept: the server does not answer. Save the text elsewhere.'))
    }, 500)
    return () => clearTimeout(wait)
  }, [state])
  useEffect(
    () =>
      home.watch(async ({ version, files }) => {
        const opened = file.current
        if (opened === undefined) return
        if (version === null && opened.version !== null && opened.version !== undefined) {
          setNews('The file is gone or cannot be read. Save writes it again.')
          return
        }
        const next = await home.again().catch(() => undefined)
        if (next === undefined) return
        if (files.length > 0 || JSON.stringify(next.served) !== JSON.stringify(opened.served)) {
          file.current = { ...opened, files: next.files, ...(next.served && { served: next.served }) }
          await giveFiles(next.files, next.served)
          setNews(files.length > 0 ? `${files.join(', ')} changed on disk; the page shows the new data.` : '')
        }
        if (next.version === opened.version) return
        if (now.current?.draft.text === next.text) opened.version = next.version ?? null
        else if (now.current?.isSaved === true) {
          await write(next.text)
          await saved()
          if (file.current !== undefined) file.current.version = next.version ?? null
          setNews('The file changed on disk; the page shows the new text. Undo leads back.')
        } else setConflict({ theirs: next.text, version: next.version ?? null })
      }),
    [giveFiles, write, saved],
  )
  const give = useCallback(
    async (files: readonly GivenFile[]): Promise<void> => {
      try {
        const { sortFiles } = await import('./sort-files.js')
        const given = await sortFiles(files, now.current?.missing ?? [])
        if (given === undefined) return
        if (given.is === 'report') await start(given.opened)
        else if (given.is === 'choice') setChoice(given)
        else if (given.is === 'data') {
          const starter = await calls.sketch(given.files)
          await start({ ...starter, files: given.files, isNew: true })
        } else {
          if (file.current !== undefined)
            file.current = { ...file.current, files: { ...file.current.files, ...given.files } }
          await giveFiles(given.files)
        }
      } catch (error) {
        fail(error)
      }
    },
    [start, giveFiles, fail],
  )
  const saveText = useCallback(
    async (name?: string): Promise<void> => {
      const [opened, text] = [file.current, now.current?.draft.text]
      if (opened === undefined || text === undefined) return
      if (home.isServer && opened.isNew === true && name === undefined) {
        setNaming(opened.name)
        return
      }
      const result = await home.save(opened, text, name)
      if (result.is === 'failed') {
        fail(new Error(result.why))
        return
      }
      setNaming(null)
      if (result.is === 'changed') {
        setConflict({ theirs: result.text, version: result.version })
        return
      }
      if (result.name !== undefined) opened.name = result.name
      // A download is a file, too.
      opened.isNew = false
      setNews('')
      await saved(result.name)
    },
    [saved, fail],
  )
  const settle = useCallback(
    async (keep: 'mine' | 'theirs'): Promise<void> => {
      const opened = file.current
      if (opened === undefined || conflict === null) return
      opened.version = conflict.version
      setConflict(null)
      if (keep === 'mine' || conflict.theirs === null) return saveText()
      await write(conflict.theirs)
      await saved()
    },
    [conflict, write, saved, saveText],
  )
  return {
    id,
    start,
    give,
    save: saveText,
    naming,
    cancelNaming: useCallback(() => setNaming(null), []),
    choice,
    cancelChoice: useCallback(() => setChoice(null), []),
    conflict,
    settle,
    news,
  }
}
