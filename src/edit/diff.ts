import { diffArrays } from 'diff'
import { ProblemError, problem } from '../problem/problem.js'
import { linesOf } from './text/block.js'

/** A line of a comparison of two texts. */
export interface DiffLine {
  is: 'same' | 'removed' | 'added'
  text: string
  /** Its number in the text before, from 1; left out for a line that was added. */
  before?: number
  /** Its number in the text after, from 1; left out for a line that was removed. */
  after?: number
}

/**
 * Compares two texts line by line: the fewest lines that are removed and added.
 *
 * @throws ProblemError if one of them is no text.
 */
export function diff(before: string, after: string): DiffLine[] {
  for (const [name, text] of Object.entries({ before, after } as Record<string, unknown>))
    if (typeof text !== 'string')
      throw new ProblemError([
        problem('wrong-shape', { expected: 'a text', found: 'something else' }, { path: [name] }),
      ])
  const lines: DiffLine[] = []
  let [old, now] = [0, 0]
  for (const { added, removed, value } of diffArrays(linesOf(before), linesOf(after)))
    for (const text of value) {
      if (removed) lines.push({ is: 'removed', text, before: ++old })
      else if (added) lines.push({ is: 'added', text, after: ++now })
      else lines.push({ is: 'same', text, before: ++old, after: ++now })
    }
  return lines
}
