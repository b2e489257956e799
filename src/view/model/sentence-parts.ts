import type { ReadingExhibit } from '../../page/page.js'
import type { CellStyle } from '../../style/cell-style.js'

/** A sentence of a reading: the tag of its status, and the rest. */
export function sentenceParts({ text, style, statusText }: ReadingExhibit['sentences'][number]): {
  tag: { style: CellStyle; text: string } | null
  rest: string
} {
  if (style === null) return { tag: null, rest: text }
  // The tag replaces the words and their colon.
  const rest = text.startsWith(`${statusText}: `) ? text.slice(statusText.length + 1) : text
  return { tag: { style, text: statusText }, rest }
}
