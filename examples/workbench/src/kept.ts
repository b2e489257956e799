import type { SavedHistory } from 'acuarela/edit'
import { del, get, set } from 'idb-keyval'
import { calls, type OpenedFiles } from './bench.js'

/** The draft as it is kept in this browser: nothing leaves it. */
export interface Kept extends OpenedFiles {
  saved: SavedHistory
}

const KEY = 'acuarela draft'

/** The draft of the last visit; undefined where there is none, or the browser keeps nothing. */
export async function keptDraft(): Promise<Kept | undefined> {
  return get<Kept>(KEY).catch(() => undefined)
}

/** Keeps the present draft with its history. */
export async function keepDraft(opened: OpenedFiles): Promise<void> {
  const { served: _, ...own } = opened
  await set(KEY, { ...own, saved: await calls.history() } satisfies Kept).catch(() => undefined)
}

export async function forgetDraft(): Promise<void> {
  await del(KEY).catch(() => undefined)
}
