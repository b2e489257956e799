import { round14 } from '../../../column/round.js'
import type { Diagnostics } from '../../../problem/diagnostics.js'
import type { RankSpec } from '../../../spec/rules.js'
import { type Check, type Checker, writtenOutcome } from '../check.js'
import type { RankPlan, Size } from './run.js'

const ENDS = ['top', 'bottom', 'best', 'worst'] as const

export const check: Check<RankPlan> = (spec, checker, at) => {
  const rank = spec.rank ?? {}
  const here = at.at('rank')
  checker.needNumber('rank', here)
  const keys = [...ENDS.filter((end) => rank[end] !== undefined), ...(rank.split === undefined ? [] : ['split'])]
  if (keys.length !== 1) {
    here.report('one-rank', { found: keys })
    return undefined
  }
  if (rank.of !== undefined && rank.split === undefined) here.at('of').report('of-needs-split', {})
  return rank.split === undefined
    ? checkEnd(rank, keys[0] as (typeof ENDS)[number], checker, here)
    : checkSplit(rank, checker, here)
}

function checkEnd(rank: RankSpec, end: (typeof ENDS)[number], checker: Checker, at: Diagnostics): RankPlan | undefined {
  const size = readSize(rank[end], checker, at.at(end))
  const written = writtenOutcome(rank, at)
  const gives = checker.outcome(written.outcome, written.at, 'rank', written.refined)
  const rising = risingFor(end, checker, at.at(end))
  if (size === undefined || gives === undefined || rising === undefined) return undefined
  return { rising, end, parts: [{ size, gives }], rest: -1, split: false }
}

function risingFor(end: (typeof ENDS)[number], checker: Checker, at: Diagnostics): boolean | undefined {
  if (end === 'top' || end === 'bottom') return end === 'bottom'
  const { better, measure } = checker
  if (better !== 'higher' && better !== 'lower') {
    // If the measure is unknown, its direction is not reported, too.
    if (checker.judged.kind === 'unknown') return undefined
    at.report('better-needed', { what: end, measure })
    return undefined
  }
  return (end === 'best') === (better === 'lower')
}

function checkSplit(rank: RankSpec, checker: Checker, at: Diagnostics): RankPlan | undefined {
  const rising = checker.better === 'lower'
  const end = checker.better === 'higher' || checker.better === 'lower' ? 'best' : 'highest'
  const plan: RankPlan = { rising, end, parts: [], rest: -1, split: true }
  if (rank.of !== undefined) plan.of = checker.number(rank.of, at.at('of'))
  let total = 0
  rank.split?.forEach((part, i) => {
    const here = at.at('split', i)
    if (part.otherwise !== undefined) {
      plan.rest = checker.outcome(part.otherwise, here.at('otherwise'), 'otherwise') ?? -1
      return
    }
    const size = readSize(part.share, checker, here.at('share'))
    const written = writtenOutcome(part, here)
    const gives = checker.outcome(written.outcome, written.at, 'the part', written.refined)
    if (size === undefined || gives === undefined) return
    if (rank.of !== undefined && !size.share) here.at('share').report('share-of', { found: size.text, of: rank.of })
    if (size.share) total += size.value
    plan.parts.push({ size, gives })
  })
  if (round14(total) > 1) at.at('split').report('share-over', {})
  return plan
}

function readSize(written: number | string | undefined, _checker: Checker, at: Diagnostics): Size | undefined {
  const text = String(written)
  const percent = /^(\d+(?:\.\d+)?)\s*%$/.exec(text.trim())
  if (percent !== null) {
    const value = Number(percent[1]) / 100
    if (value > 0 && value <= 1) return { share: true, value, text: `${percent[1]}%` }
  } else if (/^[1-9]\d{0,8}$/.test(text)) return { share: false, value: Number(text), text }
  at.report('count-or-share', { found: written === undefined ? '' : text })
  return undefined
}
