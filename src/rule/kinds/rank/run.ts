import { type Order, perOrder } from '../../../column/order.js'
import { round14 } from '../../../column/round.js'
import { numbers } from '../../../expression/evaluate.js'
import { addLimit, type Kind } from '../../model.js'
import { nextUp } from '../ladder.js'

/** A number of cells, or a share of them (0 to 1). */
export interface Size {
  share: boolean
  value: number
  text: string
}

export interface RankPlan {
  /** Whether the lowest value is first. */
  rising: boolean
  /** The name of the places for readers. */
  end: string
  /** Parts in order; each continues the one before. */
  parts: { size: Size; gives: number }[]
  /** The class of `otherwise`, -1 without one. */
  rest: number
  split: boolean
}

/** A value's rank in its population. Ties share the better rank and are all kept. */
export const kind: Kind<RankPlan, RankFit> = {
  key: 'rank',

  expressions: () => [],

  readsPopulation: () => true,

  fit(plan, judged) {
    return { limits: rankLimits(plan, judged.orders()) }
  },

  /** A part takes all values up to its last one, or down to it if the lowest is first. */
  cuts(plan, { limits }) {
    return limits.map(([limit]) => (plan.rising ? nextUp(limit) : limit)).filter((cut) => !Number.isNaN(cut))
  },

  decide(plan, { limits }, judged) {
    const { length, population } = judged
    const values = numbers(judged.value, length)
    const out = new Int16Array(length)
    const { parts, rest, rising } = plan
    for (let i = 0; i < length; i++) {
      const g = population[i]
      const v = values[i]
      if (g < 0 || Number.isNaN(v)) {
        out[i] = -1
        continue
      }
      out[i] = rest
      for (let p = 0; p < parts.length; p++) {
        const limit = limits[p][g]
        if (rising ? v <= limit : v >= limit) {
          out[i] = parts[p].gives
          break
        }
      }
    }
    return { classes: out }
  },

  legend(plan) {
    const limits: string[] = []
    plan.parts.forEach((part, p) => {
      const order = p === 0 ? plan.end : 'next'
      addLimit(limits, part.gives, `${order} ${part.size.text}`)
    })
    if (plan.rest >= 0) addLimit(limits, plan.rest, 'the rest')
    return { limits }
  },

  describe(plan, telling) {
    const parts = plan.parts.map(
      (part, p) => `${telling.gives(part.gives)} for the ${p === 0 ? plan.end : 'next'} ${sizeText(part.size)}`,
    )
    if (plan.rest >= 0) parts.push(`${telling.gives(plan.rest)} for the others`)
    const judged = plan.end === 'best' || plan.end === 'worst'
    const order = judged ? ` (the ${plan.end} is the ${plan.rising ? 'lowest' : 'highest'})` : ''
    return `${parts.join(', ')}${order}; equal values share the better place; missing values stay unpainted`
  },

  explain(plan, _, judged, cell) {
    const value = numbers(judged.value, judged.length)[cell]
    const g = judged.population[cell]
    if (Number.isNaN(value)) return [{ text: 'the value is missing', conclusion: true }]
    if (g < 0) return [{ text: 'the cell is not among those that are compared', conclusion: true }]
    const values = numbers(judged.value, judged.length).filter((x, i) => judged.population[i] === g && !Number.isNaN(x))
    const better = values.filter((x) => (plan.rising ? x < value : x > value)).length
    const ties = values.filter((x) => x === value).length - 1
    const shared = ties === 0 ? '' : `, shared with ${ties} more`
    const from = plan.rising ? 'lowest' : 'highest'
    return [
      { text: `number ${better + 1} of ${values.length} from the ${from}${shared}`, limit: better },
      ...plan.parts.map((part, p) => {
        const cut = cutOf(plan, p, values.length)
        const holds = better < cut
        const places = Math.min(values.length, Math.ceil(cut))
        const what = p === 0 ? `the ${plan.end}` : 'down to the next'
        const first = part.size.share ? ` (the first ${places === 1 ? 'one' : places})` : ''
        return {
          text: `${what} ${sizeText(part.size)}${first}: ${holds ? 'yes' : 'no'}`,
          limit: places,
          holds,
        }
      }),
    ]
  },
}

/** `one`, `3`, `10%`. */
function sizeText({ share, value, text }: Size): string {
  return !share && value === 1 ? 'one' : text
}

export interface RankFit {
  /** The last value of each part, by group. */
  limits: readonly Float64Array[]
}

/**
 * The first rank that a part no longer takes, in a population of n. A count k takes ranks r < k; a
 * share s takes r < max(1, s·n); of a split, the first part whose cumulative share exceeds r ÷ n.
 * Rounded to 14 digits, so that 7 % of 100 is 7.
 */
function cutOf(plan: RankPlan, part: number, n: number): number {
  if (!plan.split) {
    const { share, value } = plan.parts[part].size
    return share ? Math.max(1, round14(value * n)) : value
  }
  let cut = 0
  for (let p = 0; p <= part; p++)
    cut += plan.parts[p].size.share ? plan.parts[p].size.value * n : plan.parts[p].size.value
  return round14(cut)
}

/**
 * The last value of each part, by group. A rank r is the number of better values, so r < cut holds
 * exactly from the value at position ⌈cut⌉ − 1: one sort of plain numbers, and ties fall to the
 * better part.
 */
function rankLimits(plan: RankPlan, orders: readonly Order[]): Float64Array[] {
  return plan.parts.map((_, p) =>
    perOrder(orders, (order) => {
      const last = Math.min(order.size, Math.ceil(cutOf(plan, p, order.size))) - 1
      return order.at(plan.rising ? last : order.size - 1 - last) ?? Number.NaN
    }),
  )
}
