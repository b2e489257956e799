import { type Problem, problem } from '../problem/problem.js'
import { type NumberFormat, readFormat } from './format.js'

/** Whether a text is a BCP 47 locale. */
export function isLocale(text: string): boolean {
  try {
    return Intl.getCanonicalLocales(text).length > 0
  } catch {
    return false
  }
}

/** Parses the format grammar; returns a problem without a place, which the caller adds. */
export function parseFormat(text: string): NumberFormat | Problem {
  return readFormat(text) ?? problem('bad-format', { text })
}
