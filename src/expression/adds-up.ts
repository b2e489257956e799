import type { Bound } from './bound.js'

/**
 * Whether a number adds up over time: sums and counts, added, subtracted, or times a number. A
 * function of time reads other spans, so it does not.
 *
 * @param measure whether a measure does, by its name
 */
export function addsUp(bound: Bound, measure: (name: string) => boolean): boolean {
  switch (bound.op) {
    case 'aggregate':
      return bound.statistic === 'sum' || bound.statistic === 'count'
    case 'name':
      return bound.ref.kind === 'measure' && measure(bound.ref.name)
    case 'negate':
      return addsUp(bound.of, measure)
    case 'arithmetic': {
      const { sign, left, right } = bound
      if (sign === '+' || sign === '-') return addsUp(left, measure) && addsUp(right, measure)
      if (sign === '/') return addsUp(left, measure) && isConstant(right)
      return (isConstant(left) && addsUp(right, measure)) || (isConstant(right) && addsUp(left, measure))
    }
    default:
      return false
  }
}

function isConstant(bound: Bound): boolean {
  return bound.op === 'number' || (bound.op === 'name' && bound.ref.kind === 'parameter')
}
