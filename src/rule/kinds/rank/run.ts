import { type Order, perOrder } from '../../../column/order.js'
import { round14 } from '../../../column/round.js'
import { numbers } from '../../../expression/evaluate.js'
import { problem } from '../../../problem/optional.js'
import type { BoundText, Finding, Judged, Phrases } from '../../model.js'
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
  /** What the shares of a split are shares of; left out, the number of cells. */
  of?: BoundText | undefined
}

/** A value's rank in its population. Ties share the better rank and are all kept. */
export const kind: Kind<RankPlan, RankFit> = {
  key: 'rank',

  expressions: ({ of }) => (of === undefined ? [] : [of.bound]),

  readsPopulation: () => true,

  fit(plan, judged) {
    return { limits: plan.of === undefined ? rankLimits(plan, judged.orders()) : shareLimits(plan, plan.of, judged) }
  },

  /** A part takes all values up to its last one, or down to it if the lowest is first. */
  cuts(plan, { limits }) {
    // Where shares are of an amount, the value alone does not decide.
    if (plan.of !== undefined) return undefined
    return limits.map(([limit]) => (plan.rising ? nextUp(limit) : limit)).filter((cut) => !Number.isNaN(cut))
  },

  decide(plan, { limits }, judged) {
    const { length, population } = judged
    const values = numbers(judged.value, length)
    const out = new Int16Array(length)
    const { parts, rest, rising } = plan
    const weights = plan.of === undefined ? undefined : numbers(judged.run(plan.of.bound), length)
    const last = rest >= 0 ? rest : (parts.at(-1)?.gives ?? -1)
    for (let i = 0; i < length; i++) {
      const g = population[i]
      const v = values[i]
      if (g < 0 || Number.isNaN(v)) {
        out[i] = -1
        continue
      }
      if (weights !== undefined && Number.isNaN(limits[0]?.[g])) {
        out[i] = -1
        continue
      }
      // What adds nothing to the whole is in its last part.
      if (weights !== undefined && !(weights[i] > 0)) {
        out[i] = last
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

  legend(plan, _fit, _judged, telling) {
    const limits: string[] = []
    plan.parts.forEach((part, p) => {
      const order = p === 0 ? plan.end : 'next'
      addLimit(limits, part.gives, `${order} ${part.size.text}${ofText(plan, telling)}`)
    })
    if (plan.rest >= 0) addLimit(limits, plan.rest, 'the rest')
    return { limits }
  },

  describe(plan, telling) {
    const parts = plan.parts.map(
      (part, p) =>
        `${telling.gives(part.gives)} for the ${p === 0 ? plan.end : 'next'} ${sizeText(part.size)}${ofText(plan, telling)}`,
    )
    if (plan.rest >= 0) parts.push(`${telling.gives(plan.rest)} for the others`)
    const judged = plan.end === 'best' || plan.end === 'worst'
    const order = judged ? ` (the ${plan.end} is the ${plan.rising ? 'lowest' : 'highest'})` : ''
    return `${parts.join(', ')}${order}; equal values share the better place; missing values stay unpainted`
  },

  explain(plan, _, judged, cell, telling) {
    const value = numbers(judged.value, judged.length)[cell]
    const g = judged.population[cell]
    if (Number.isNaN(value)) return [{ text: 'the value is missing', conclusion: true }]
    if (g < 0) return [{ text: 'the cell is not among those that are compared', conclusion: true }]
    const values = numbers(judged.value, judged.length).filter((x, i) => judged.population[i] === g && !Number.isNaN(x))
    const better = values.filter((x) => (plan.rising ? x < value : x > value)).length
    const ties = values.filter((x) => x === value).length - 1
    if (plan.of !== undefined) return explainShare(plan, plan.of, judged, cell, telling)
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

function ofText({ of }: RankPlan, telling: Phrases): string {
  return of === undefined ? '' : ` of ${telling.words(of.bound, of.text)}`
}

/** A cell of a split by an amount: what better ones have of the whole decides. */
function explainShare(plan: RankPlan, of: BoundText, judged: Judged, cell: number, telling: Phrases): Finding[] {
  const values = numbers(judged.value, judged.length)
  const weights = numbers(judged.run(of.bound), judged.length)
  const g = judged.population[cell]
  let [all, better] = [0, 0]
  for (let i = 0; i < values.length; i++) {
    if (judged.population[i] !== g || Number.isNaN(values[i]) || !(weights[i] > 0)) continue
    all += weights[i]
    if (plan.rising ? values[i] < values[cell] : values[i] > values[cell]) better += weights[i]
  }
  const name = telling.words(of.bound, of.text)
  if (all === 0) return [{ text: `${name} adds up to nothing here`, conclusion: true }]
  if (!(weights[cell] > 0)) return [{ text: `it adds nothing to ${name}, so it is in the last part`, conclusion: true }]
  const share = round14(better / all)
  let cut = 0
  return [
    { text: `better ones have ${percent(share)} of ${name}`, limit: share },
    ...plan.parts.map((part, p) => {
      cut = round14(cut + part.size.value)
      const what = p === 0 ? `the ${plan.end}` : 'down to the next'
      return { text: `${what} ${part.size.text}: ${share < cut ? 'yes' : 'no'}`, limit: cut, holds: share < cut }
    }),
  ]
}

function percent(share: number): string {
  return `${Math.round(share * 1000) / 10}%`
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

/**
 * The last value of each part, by group, where shares are of an amount: a value is in the first
 * part whose cumulative share exceeds what all better ones have of the whole. So the cell that
 * crosses 80 % is in. Missing where nothing adds up.
 */
function shareLimits(plan: RankPlan, of: BoundText, judged: Judged): Float64Array[] {
  const values = numbers(judged.value, judged.length)
  const weights = numbers(judged.run(of.bound), judged.length)
  const cells: number[][] = Array.from({ length: judged.groupCount }, () => [])
  for (let i = 0; i < values.length; i++)
    if (judged.population[i] >= 0 && !Number.isNaN(values[i]) && weights[i] > 0) cells[judged.population[i]].push(i)
  const limits = plan.parts.map(() => new Float64Array(judged.groupCount).fill(Number.NaN))
  cells.forEach((list, g) => {
    const all = list.reduce((sum, i) => sum + weights[i], 0)
    if (all === 0) judged.note(problem('note-no-weight', { of: of.text }))
    list.sort((a, b) => (plan.rising ? values[a] - values[b] : values[b] - values[a]))
    let [better, before] = [0, 0]
    list.forEach((i, k) => {
      if (k > 0 && values[i] !== values[list[k - 1]]) better = before
      let cut = 0
      plan.parts.forEach(({ size }, p) => {
        cut = round14(cut + size.value)
        if (round14(better / all) < cut) limits[p][g] = values[i]
      })
      before += weights[i]
    })
  })
  return limits
}
