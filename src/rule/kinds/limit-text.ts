import { round14 } from '../../column/round.js'
import { type Bound, walk } from '../../expression/bound.js'
import { numbers } from '../../expression/evaluate.js'
import type { BoundText, Judged, Print } from '../kind.js'

/** A limit as a number where it is one for all cells, with its words where they say more than the number. */
export function limitText(limit: BoundText, judged: Judged, print: Print): string {
  const value = judged.run(limit.bound)
  if (!value.constant || value.kind !== 'number') return `${limit.text}${parametersText(limit.bound, judged, print)}`
  const number = print(value.values[0])
  return isWritten(limit.bound) ? number : `${number} (${limit.text})`
}

/** Where a limit differs from cell to cell, its parameters at least are told as numbers: ` (slack 15%)`. */
function parametersText(bound: Bound, judged: Judged, print: Print): string {
  const told = new Set<string>()
  walk(bound, (part) => {
    if (part.op !== 'name' || part.ref.kind !== 'parameter') return
    const [value] = numbers(judged.run(part), 1)
    const percent = part.type.kind === 'number' && part.type.unit.is === 'percent'
    told.add(`${part.ref.name} ${percent ? `${round14(value * 100)}%` : print(value)}`)
  })
  return told.size === 0 ? '' : ` (${[...told].join(', ')})`
}

export function isWritten(bound: Bound): boolean {
  return bound.op === 'number' || (bound.op === 'negate' && bound.of.op === 'number')
}

/** `a`, `a and b`, `a, b and c`. */
export function listed(parts: readonly string[]): string {
  return parts.length < 2 ? (parts[0] ?? '') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`
}
