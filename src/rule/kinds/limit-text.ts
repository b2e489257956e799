import { type Bound, readsCells } from '../../expression/bound.js'
import type { BoundText, Judged, Phrases } from '../model.js'

/**
 * A limit as a number if it is the same for all cells, with its words if they add to the number:
 * `€60,000 (Shop target)`.
 *
 * @param side words after the number: `€60,000 or more (Shop target)`.
 */
export function limitText(limit: BoundText, judged: Judged, telling: Phrases, side = ''): string {
  const value = judged.run(limit.bound)
  const words = telling.words(limit.bound, limit.text)
  if (!value.constant || value.kind !== 'number') return `${words}${side}`
  const number = `${limitNumber(value.values[0], limit.bound, telling)}${side}`
  return isWritten(limit.bound) || telling.brief ? number : `${number} (${words})`
}

/** A written number with all its digits, a computed one with those of the measure. */
export function limitNumber(value: number, bound: Bound, telling: Phrases): string {
  return readsCells(bound) ? telling.print(value) : telling.exact(value)
}

export function isWritten(bound: Bound): boolean {
  return bound.op === 'number' || (bound.op === 'negate' && bound.of.op === 'number')
}

/** `a`, `a and b`, `a, b and c`. */
export function joinWithAnd(parts: readonly string[]): string {
  return parts.length < 2 ? (parts[0] ?? '') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`
}

/** `a coral bar`, `an indigo bar`. */
export function withArticle(noun: string): string {
  return `${/^[aeiou]/i.test(noun) ? 'an' : 'a'} ${noun}`
}
