import { type Problem, problem } from '../problem/problem.js'
import { type NumberFormat, readFormat } from './format.js'

/** Reads the format grammar; gives a problem without a place, for the caller to put one. */
export function parseFormat(text: string): NumberFormat | Problem {
  return readFormat(text) ?? problem('bad-format', { text })
}
