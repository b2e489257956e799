import type { SavedHistory } from 'acuarela/edit'
import { del, entries, set } from 'idb-keyval'
import { calls, type OpenedFiles } from './bench.js'

/** The draft as it is kept in this browser: nothing leaves it. */
export interface Kept extends OpenedFiles {
  saved: SavedHistory
  /** When it was kept, in milliseconds since 1970. */
  at?: number
}

/** Keys of drafts begin with this: each window has one of its own. */
const DRAFT = 'acuarela draft'

/** Where a window finds its key again after a reload. */
const OWN = 'acuarela draft of this window'

let own = ''

/** A window that is reloaded lets go of its draft within this time, in milliseconds. */
const RELOAD_MS = 1500

/**
 * Whether this window has the draft of a key to itself, from now on until it is closed.
 *
 * @param waits for a window that is about to let go of it: this one, before its reload.
 */
function taken(key: string, waits = false): Promise<boolean> {
  // Locks are for pages of safe origins; without them the newest draft is anybody's.
  if (navigator.locks === undefined) return Promise.resolve(true)
  return new Promise((done) => {
    navigator.locks
      .request(key, waits ? { signal: AbortSignal.timeout(RELOAD_MS) } : { ifAvailable: true }, (lock) => {
        done(lock !== null)
        return lock === null ? undefined : new Promise(() => undefined)
      })
      .catch(() => done(!waits))
  })
}

/**
 * The draft of this window before its reload, else the newest one that no other window has open;
 * undefined where there is none, or the browser keeps nothing.
 */
export async function keptDraft(): Promise<Kept | undefined> {
  const all = (await entries<string, Kept>().catch(() => [])).filter(([key]) => String(key).startsWith(DRAFT))
  const before = sessionStorage.getItem(OWN)
  all.sort(([a, { at: one = 0 }], [b, { at: other = 0 }]) => Number(b === before) - Number(a === before) || other - one)
  for (const [key, draft] of all)
    if (await taken(key, key === before)) {
      own = key
      sessionStorage.setItem(OWN, own)
      return draft
    }
  return undefined
}

/** Keeps the present draft with its history. */
export async function keepDraft(opened: OpenedFiles): Promise<void> {
  if (own === '') {
    own = `${DRAFT} ${Date.now()} ${Math.random()}`
    sessionStorage.setItem(OWN, own)
    await taken(own)
  }
  const { served: _, ...file } = opened
  await set(own, { ...file, saved: await calls.history(), at: Date.now() } satisfies Kept).catch(() => undefined)
}

export async function forgetDraft(): Promise<void> {
  if (own !== '') await del(own).catch(() => undefined)
}
