import { type Problem, problemLine } from './problem-error.js'

export { printPath } from './place.js'

/** The longest part of a quoted line that is printed; a longer line is cut around the caret. */
const WIDEST = 100

/**
 * A problem as lines for the terminal: place, sentence, and the text with a caret under the span.
 * Control characters in quoted text become `·`, so that data cannot control a terminal.
 */
export function printProblem(problem: Problem): string {
  const lines = [problemLine(problem)]
  const { text, from, to } = problem.place
  if (text !== undefined && from !== undefined) lines.push(...caret(text, from, to ?? from + 1))
  return harmless(lines.join('\n'), true)
}

function caret(text: string, from: number, to: number): string[] {
  const flat = text.replace(/[\t\r\n]/g, ' ')
  const start = from > WIDEST - 20 ? from - 40 : 0
  const shown = flat.slice(start, start + WIDEST)
  const head = start > 0 ? '… ' : ''
  const tail = start + WIDEST < flat.length ? ' …' : ''
  const width = Math.max(1, Math.min(to, start + WIDEST) - from)
  return [`    ${head}${shown}${tail}`, `    ${' '.repeat(head.length + from - start)}${'^'.repeat(width)}`]
}

/** Text with control and direction characters replaced, safe for a terminal. */
export function harmless(text: string, keepLines = false): string {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: finding them is the point
  const control = /[\u0000-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g
  return text.replace(control, (c) => (keepLines && c === '\n' ? c : '·'))
}
