import { decimalsOfNumber } from '../column/decimals.js'
import type { Statistic } from '../column/statistic.js'
import type { Bound, BoundAggregate, Reference } from './bound.js'
import { FUNCTIONS } from './functions.js'

/** The decimals of the names and aggregates of an expression; undefined where they are unknown. */
export interface KnownDecimals {
  name(ref: Reference): number | undefined
  aggregate(part: BoundAggregate): number | undefined
}

/**
 * The decimals of a number, from those of its parts: the larger of two that are added or chosen
 * between, the sum of two that are multiplied, unknown for quotients, means, percentiles and
 * shares. A number has the decimals that are written, 12% those of 0.12.
 */
export function decimalsOf(bound: Bound, columnDecimals: KnownDecimals): number | undefined {
  const of = (part: Bound): number | undefined => decimalsOf(part, columnDecimals)
  switch (bound.op) {
    case 'number':
      return decimalsOfNumber(bound.value)
    case 'name':
      return columnDecimals.name(bound.ref)
    case 'aggregate':
      return columnDecimals.aggregate(bound)
    case 'negate':
    case 'sameKeys':
    case 'moved':
      // A share of a period has more.
      return bound.op === 'moved' && bound.step.kind === 'begun' ? undefined : of(bound.of)
    case 'arithmetic': {
      if (bound.sign === '/') return undefined
      const left = of(bound.left)
      const right = of(bound.right)
      return bound.sign === '+' || bound.sign === '-' ? larger([left, right]) : both(left, right)
    }
    case 'if':
      return larger([of(bound.yes), of(bound.no)])
    case 'call':
      return called(bound, of)
    case 'wording':
    case 'dated':
    case 'streak':
      return 0
    case 'beside':
      return bound.how === 'rank' ? 0 : undefined
    default:
      return undefined
  }
}

function called(bound: Bound & { op: 'call' }, of: (part: Bound) => number | undefined): number | undefined {
  const { args } = bound
  const { decimals } = FUNCTIONS[bound.name]
  const ofArguments = args.map(of)
  if (decimals === undefined) return larger(ofArguments)
  return decimals(
    ofArguments,
    args.map((arg) => (arg.op === 'number' ? arg.value : undefined)),
  )
}

/**
 * The decimals of a statistic: sums and single values keep those of the column, counts are whole.
 */
export function decimalsAfter(statistic: Statistic, of: number | undefined): number | undefined {
  if (statistic === 'count' || statistic === 'countDistinct') return 0
  const keeps =
    statistic === 'sum' ||
    statistic === 'first' ||
    statistic === 'last' ||
    statistic === 'lowest' ||
    statistic === 'highest'
  return keeps ? of : undefined
}

/**
 * Whether a number was computed here and is not rounded yet; names, written numbers and aggregates
 * are.
 */
export function isWorkedOut({ op }: Bound): boolean {
  return op === 'arithmetic' || op === 'call' || op === 'negate' || op === 'if' || op === 'moved'
}

function larger(list: readonly (number | undefined)[]): number | undefined {
  let most = 0
  for (const d of list) {
    if (d === undefined) return undefined
    if (d > most) most = d
  }
  return most
}

function both(a: number | undefined, b: number | undefined): number | undefined {
  return a === undefined || b === undefined ? undefined : a + b
}
