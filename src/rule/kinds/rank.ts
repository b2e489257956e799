import { type Order, ofEach } from '../../column/order.js'
import { round14 } from '../../column/round.js'
import { numbers } from '../../expression/evaluate.js'
import type { Path } from '../../problem/problem.js'
import { addLimit, type Checker, type Kind, writtenOutcome } from '../kind.js'
import type { RankSpec } from '../spec.js'
import { nextUp } from './ladder.js'
import { listed } from './limit-text.js'

/** A count of cells, or a share of them (0 to 1). */
interface Size {
  share: boolean
  value: number
  text: string
}

interface Plan {
  /** Counted from the lowest instead of the highest. */
  rising: boolean
  /** What the places are called for readers. */
  end: string
  /** Parts in order; each runs on from the one before. */
  parts: { size: Size; gives: number }[]
  /** Class of what is left, -1 for none. */
  rest: number
  split: boolean
}

const ENDS = ['top', 'bottom', 'best', 'worst'] as const

/** A value's place in its population. Ties share the better place and are all kept. */
export const rank: Kind<Plan, Fit> = {
  key: 'rank',

  check(spec, checker, at) {
    const own = spec.rank ?? {}
    const here = [...at, 'rank']
    checker.needNumber('rank', here)
    const found = [...ENDS.filter((end) => own[end] !== undefined), ...(own.split === undefined ? [] : ['split'])]
    if (found.length !== 1) {
      checker.tell('one-rank', { found }, here)
      return undefined
    }
    return own.split === undefined
      ? checkEnd(own, found[0] as (typeof ENDS)[number], checker, here)
      : checkSplit(own, checker, here)
  },

  expressions: () => [],

  readsPopulation: () => true,

  fit(plan, judged) {
    return { limits: limitsOf(plan, judged.orders()) }
  },

  /** From its last value on a part takes all that are better; risen from the lowest, up to it. */
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

  sentence(plan, telling) {
    const parts = plan.parts.map(
      (part, p) => `${telling.gives(part.gives)} for the ${p === 0 ? plan.end : 'next'} ${part.size.text}`,
    )
    if (plan.rest >= 0) parts.push(`${telling.gives(plan.rest)} for the rest`)
    const order = plan.end === 'best' ? `, best being ${plan.rising ? 'lowest' : 'highest'}` : ''
    const worst = plan.end === 'worst' ? `, worst being ${plan.rising ? 'lowest' : 'highest'}` : ''
    return `is ${listed(parts)}${order}${worst}; ties all fall to the better part and missing has no place`
  },

  boundaries(plan, { limits }, judged, cell) {
    const g = judged.population[cell]
    if (g < 0) return []
    return plan.parts.flatMap((part, p) => {
      const value = limits[p][g]
      return value === undefined || Number.isNaN(value)
        ? []
        : [{ value, what: `last of the ${p === 0 ? plan.end : 'next'} ${part.size.text}` }]
    })
  },

  explain(plan, _, judged, cell) {
    const value = numbers(judged.value, judged.length)[cell]
    const g = judged.population[cell]
    if (Number.isNaN(value)) return [{ text: 'the value is missing and has no place' }]
    if (g < 0) return [{ text: 'the cell is outside the population and has no place' }]
    const own = numbers(judged.value, judged.length).filter((x, i) => judged.population[i] === g && !Number.isNaN(x))
    const better = own.filter((x) => (plan.rising ? x < value : x > value)).length
    const ties = own.filter((x) => x === value).length - 1
    const shared = ties === 0 ? '' : `, shared with ${ties} more`
    const from = plan.rising ? 'lowest' : 'highest'
    return [
      { text: `place ${better + 1} of ${own.length} from the ${from}${shared}`, limit: better },
      ...plan.parts.map((part, p) => {
        const cut = cutOf(plan, p, own.length)
        const holds = better < cut
        const places = Math.min(own.length, Math.ceil(cut))
        const what = p === 0 ? plan.end : 'down to the next'
        return {
          text: `${what} ${part.size.text}, places 1 to ${places}: ${holds ? 'yes' : 'no'}`,
          limit: places,
          holds,
        }
      }),
    ]
  },
}

interface Fit {
  /** The last value that each part still takes, by group. */
  limits: readonly Float64Array[]
}

/**
 * The place from which a part no longer holds, in a population of n. A count k keeps r < k; a share s keeps r < max(1, s·n);
 * of a split, the first part whose cumulative share exceeds r ÷ n. Rounded to 14 digits, so that 7 % of 100 is 7.
 */
function cutOf(plan: Plan, part: number, n: number): number {
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
 * The last value that each part still takes, by group. A place r is the number of better values, so r < cut holds exactly
 * from the value at place ⌈cut⌉ − 1 on: one sort of plain numbers, and ties fall to the better part by themselves.
 */
function limitsOf(plan: Plan, orders: readonly Order[]): Float64Array[] {
  return plan.parts.map((_, p) =>
    ofEach(orders, (own) => {
      const last = Math.min(own.size, Math.ceil(cutOf(plan, p, own.size))) - 1
      return own.at(plan.rising ? last : own.size - 1 - last) ?? Number.NaN
    }),
  )
}

function checkEnd(own: RankSpec, end: (typeof ENDS)[number], checker: Checker, at: Path): Plan | undefined {
  const size = readSize(own[end], checker, [...at, end])
  const written = writtenOutcome(own, at)
  const gives = checker.outcome(written.outcome, written.at, 'rank')
  const rising = risingFor(end, checker, [...at, end])
  if (size === undefined || gives === undefined || rising === undefined) return undefined
  return { rising, end, parts: [{ size, gives }], rest: -1, split: false }
}

function risingFor(end: (typeof ENDS)[number], checker: Checker, at: Path): boolean | undefined {
  if (end === 'top' || end === 'bottom') return end === 'bottom'
  const { better, measure } = checker
  if (better !== 'higher' && better !== 'lower') {
    checker.tell('better-needed', { what: end, measure }, at)
    return undefined
  }
  return (end === 'best') === (better === 'lower')
}

function checkSplit(own: RankSpec, checker: Checker, at: Path): Plan | undefined {
  const rising = checker.better === 'lower'
  const end = checker.better === 'higher' || checker.better === 'lower' ? 'best' : 'highest'
  const plan: Plan = { rising, end, parts: [], rest: -1, split: true }
  let total = 0
  own.split?.forEach((part, i) => {
    const here = [...at, 'split', i]
    if (part.rest !== undefined) {
      plan.rest = checker.outcome(part.rest, [...here, 'rest'], 'rest') ?? -1
      return
    }
    const size = readSize(part.share, checker, [...here, 'share'])
    const written = writtenOutcome(part, here)
    const gives = checker.outcome(written.outcome, written.at, 'the part')
    if (size === undefined || gives === undefined) return
    if (size.share) total += size.value
    plan.parts.push({ size, gives })
  })
  if (round14(total) > 1) checker.tell('share-over', {}, [...at, 'split'])
  return plan
}

function readSize(written: number | string | undefined, checker: Checker, at: Path): Size | undefined {
  const text = String(written)
  const percent = /^(\d+(?:\.\d+)?)\s*%$/.exec(text.trim())
  if (percent !== null) {
    const value = Number(percent[1]) / 100
    if (value > 0 && value <= 1) return { share: true, value, text: `${percent[1]}%` }
  } else if (/^[1-9]\d{0,8}$/.test(text)) return { share: false, value: Number(text), text }
  checker.tell('count-or-share', { found: written === undefined ? '' : text }, at)
  return undefined
}
