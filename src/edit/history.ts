import { ProblemError, problem } from '../problem/problem.js'
import { applyEdit } from './apply.js'
import { type Draft, draftOf, insideOf, openDraft } from './draft.js'
import type { Edit } from './edits.js'
import { editInWords } from './words.js'

/** The most entries that are kept; older ones cannot be undone any more. */
const MOST_ENTRIES = 500

/** How an edit is entered. */
export interface EntryOptions {
  /**
   * Joins the entry before, as the steps of a drag do: one undo takes all of them back; default:
   * false.
   */
  merge?: boolean
}

/** The edits of a draft, which can be taken back. */
export interface History {
  /** The present draft. */
  readonly draft: Draft
  /** What can be undone, in words, the oldest first. */
  readonly entries: readonly string[]
  /** What can be done again, in words, the next one first. */
  readonly undone: readonly string[]
  /**
   * Makes an edit.
   *
   * @returns the next draft; the present one with the reasons in `refused`, if it cannot be made.
   */
  do(edit: Edit, options?: EntryOptions): Draft
  /**
   * Puts a text in place of the present one, as typed in an editor.
   *
   * @param words what the entry is called; default: Text edited.
   */
  write(text: string, options?: EntryOptions & { words?: string }): Draft
  /** Takes the last entry back; does nothing if there is none. */
  undo(): Draft
  /** Makes the last undone entry again; does nothing if there is none. */
  redo(): Draft
  /** The history as plain data, to be kept beside a draft. */
  saved(): SavedHistory
}

/** A history as plain data. */
export interface SavedHistory {
  /** The text before the first entry, and after each. */
  texts: readonly string[]
  /** The words of each entry. */
  words: readonly string[]
  /** How many of the entries are done. */
  at: number
}

/**
 * Keeps the edits of a draft in order. Texts are kept whole, so that undo gives the same bytes.
 *
 * @param saved what `saved` gave earlier; its present text is the draft then.
 * @throws ProblemError if an argument is not what it is said to be.
 */
export function createHistory(draft: Draft, saved?: SavedHistory): History {
  const given: unknown = draft
  if (typeof given !== 'object' || given === null || typeof (given as Draft).text !== 'string')
    throw new ProblemError([
      problem('wrong-shape', { expected: 'a draft', found: 'something else' }, { path: ['draft'] }),
    ])
  const { context } = insideOf(draft)
  let texts = [draft.text]
  let words: string[] = []
  let at = 0
  let now = draft
  if (saved !== undefined) {
    checkSaved(saved)
    texts = [...saved.texts]
    words = [...saved.words]
    at = saved.at
    now = draftOf(texts[at], context)
  }
  const enter = (next: Draft, said: string, merge: boolean): Draft => {
    if (next.refused !== undefined) return next
    if (next.text === now.text) return now
    const isMerged = merge && at > 0
    texts.splice(isMerged ? at : at + 1, texts.length, next.text)
    words.splice(isMerged ? at - 1 : at, words.length, said)
    if (!isMerged) at++
    // A drag that comes back to where it began is no entry.
    if (isMerged && texts[at] === texts[at - 1]) {
      texts.pop()
      words.pop()
      at--
    }
    if (words.length > MOST_ENTRIES) {
      texts.shift()
      words.shift()
      at--
    }
    now = next
    return now
  }
  const go = (to: number): Draft => {
    if (to < 0 || to >= texts.length) return now
    at = to
    now = draftOf(texts[at], context)
    return now
  }
  /** The draft before the entry that a merged edit joins. */
  let origin = draft
  return {
    get draft() {
      return now
    },
    get entries() {
      return words.slice(0, at)
    },
    get undone() {
      return words.slice(at)
    },
    do(edit, { merge = false } = {}) {
      const next = applyEdit(now, edit)
      if (!merge || at === 0) origin = now
      return enter(next, next.refused === undefined ? editInWords(edit, origin, next) : '', merge)
    },
    write(text, { merge = false, words: said = 'Text edited' } = {}) {
      if (!merge || at === 0) origin = now
      return enter(openDraft(text, context), said, merge)
    },
    undo: () => go(at - 1),
    redo: () => go(at + 1),
    saved: () => ({ texts: [...texts], words: [...words], at }),
  }
}

function checkSaved(saved: unknown): void {
  const { texts, words, at } = (saved ?? {}) as Partial<Record<keyof SavedHistory, unknown>>
  const isList = (list: unknown): list is string[] =>
    Array.isArray(list) && list.every((one) => typeof one === 'string')
  const isWhole = isList(texts) && isList(words) && texts.length === words.length + 1
  if (isWhole && Number.isSafeInteger(at) && Number(at) >= 0 && Number(at) < texts.length) return
  throw new ProblemError([
    problem('wrong-shape', { expected: 'what saved() gave', found: 'something else' }, { path: ['saved'] }),
  ])
}
