import { type Problem, problem } from '../problem/problem.js'
import { type NumberFormat, readFormat } from './format.js'

/** Whether a text is a locale of BCP 47. */
export function isLocale(text: string): boolean {
  try {
    return Intl.getCanonicalLocales(text).length > 0
  } catch {
    return false
  }
}

/** Reads the format grammar; gives a problem without a place, for the caller to put one. */
export function parseFormat(text: string): NumberFormat | Problem {
  return readFormat(text) ?? problem('bad-format', { text })
}
