import { createHash } from 'node:crypto'
import { chmod, mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises'
import { homedir } from 'node:os'
import { join } from 'node:path'
import { type Shape, validate } from '../shape/shape.js'

/** A text that was edited and not saved, with its history. */
export interface StoredDraft {
  text: string
  /** What undo needs. */
  saved: { texts: readonly string[]; words: readonly string[]; at: number }
  /** The version of the file that it began with; null for a report that has no file yet. */
  base: string | null
}

const DRAFT: Shape = {
  keys: {
    text: 'text',
    saved: {
      keys: {
        texts: { list: 'text', min: 1 },
        words: { list: 'text' },
        at: { is: 'whole', min: 0 },
      },
    },
    base: { any: ['text', 'nothing'] },
  },
}

/** A draft from data; undefined for anything else. */
export function draftOf(value: unknown): StoredDraft | undefined {
  const { value: read, problems } = validate(DRAFT, value)
  return problems.length === 0 ? (read as StoredDraft) : undefined
}

/** The folder for what a program keeps between its runs, by the customs of the platform. */
export function stateFolder(env: Readonly<Record<string, string | undefined>>, platform: string): string {
  const own = env.XDG_STATE_HOME
  if (own !== undefined && own !== '') return join(own, 'acuarela')
  if (platform === 'win32' && env.LOCALAPPDATA) return join(env.LOCALAPPDATA, 'acuarela')
  return join(homedir(), '.local', 'state', 'acuarela')
}

/** Keeps the draft of one report. */
export interface DraftStore {
  read(): Promise<StoredDraft | undefined>
  write(draft: StoredDraft): Promise<void>
  forget(): Promise<void>
}

/**
 * Keeps a draft in a file that its owner alone can read, under a name made of the path of the
 * report: a free port is a new origin each time, so that a browser would not find it again. Writes
 * follow each other; each is whole or not there.
 */
export function createDraftStore(folder: string, report: string): DraftStore {
  const path = join(folder, 'drafts', `${createHash('sha256').update(report).digest('hex').slice(0, 32)}.json`)
  let last: Promise<unknown> = Promise.resolve()
  const inTurn = <T>(task: () => Promise<T>): Promise<T> => {
    const run = last.then(task)
    last = run.catch(() => undefined)
    return run
  }
  return {
    read: () =>
      inTurn(async () => {
        const text = await readFile(path, 'utf8').catch(() => undefined)
        if (text === undefined) return undefined
        try {
          return draftOf(JSON.parse(text))
        } catch {
          // A file that was cut or written by something else is no draft.
          return undefined
        }
      }),
    write: (draft) =>
      inTurn(async () => {
        await mkdir(join(folder, 'drafts'), { recursive: true, mode: 0o700 })
        const part = `${path}.${process.pid}.part`
        try {
          await writeFile(part, JSON.stringify(draft), { mode: 0o600 })
          // The mode above counts for a new file alone.
          await chmod(part, 0o600)
          await rename(part, path)
        } catch (error) {
          await rm(part, { force: true })
          throw error
        }
      }),
    forget: () => inTurn(() => rm(path, { force: true })),
  }
}
