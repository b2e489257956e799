import { numbers } from '../../../expression/evaluate.js'
import { problem } from '../../../problem/answering.js'
import type { BarStyle } from '../../../style/cell-style.js'
import { BEYOND_HIGH, BEYOND_LOW, placeBeyond } from '../../../style/painting.js'
import type { BoundText, Judged, Kind } from '../../model.js'
import { clamp, endOf, isInside, percentText, perGroup } from '../ends.js'
import { isWritten, limitText, withArticle } from '../limit-text.js'
import { fillBars, fillBarsFromLeft } from './kernels.js'

export interface BarPlan {
  positive: BarStyle
  negative: BarStyle
  /** The classes of the two. */
  right: number
  left: number
  from: BoundText | undefined
  to: BoundText | undefined
  base: BoundText | undefined
}

export interface BarFit {
  from: Float64Array
  to: Float64Array
  base: Float64Array
}

/** A bar between two ends, from a base to the value. */
export const kind: Kind<BarPlan, BarFit> = {
  key: 'bar',

  expressions: (plan) => [plan.from, plan.to, plan.base].filter((limit) => limit !== undefined).map((l) => l.bound),

  readsPopulation: (plan) => plan.to === undefined || plan.from === undefined,

  fit(plan, judged) {
    const { groupCount } = judged
    // A bar of amounts begins at 0: the length of a cut bar would mean nothing.
    const from = plan.from === undefined ? towardsZero('lowest', judged) : perGroup(plan.from, judged)
    const to = plan.to === undefined ? towardsZero('highest', judged) : perGroup(plan.to, judged)
    const base = plan.base === undefined ? new Float64Array(groupCount) : perGroup(plan.base, judged)
    for (let g = 0; g < groupCount; g++) {
      if (from[g] > to[g]) {
        judged.note(problem('from-above-to', { from: String(from[g]), to: String(to[g]) }))
        from[g] = Number.NaN
      }
      base[g] = Math.min(to[g], Math.max(from[g], base[g]))
    }
    return { from, to, base }
  },

  /** The side of the base is a step of the value; over equal ends it is decided cell by cell. */
  cuts: (_, fit) => (fit.from.length === 1 && fit.to[0] > fit.from[0] ? [fit.base[0]] : undefined),

  extents(_, fit, judged) {
    const bars = { from: new Float32Array(judged.length), to: new Float32Array(judged.length) }
    const values = numbers(judged.value, judged.length)
    const [[low], [high], [base], [order]] = [fit.from, fit.to, fit.base, judged.orders()]
    if (base === low && judged.population === judged.groups && order.lowest >= low && isInside(order, low, high))
      fillBarsFromLeft(values, low, high, bars.from, bars.to)
    else fillBars(values, low, high, base, bars.from, bars.to)
    return bars
  },

  decide(plan, fit, judged) {
    const { length, groups } = judged
    const values = numbers(judged.value, length)
    const classes = new Int16Array(length)
    const bars = { from: new Float32Array(length), to: new Float32Array(length) }
    for (let i = 0; i < length; i++) {
      const g = groups[i]
      const v = values[i]
      const [place, base] = [placeAt(fit, g, v), clamp(placeAt(fit, g, fit.base[g]))]
      bars.from[i] = Math.min(base, place)
      bars.to[i] = Math.max(base, place)
      classes[i] = Number.isNaN(place) ? -1 : v < fit.base[g] ? plan.left : plan.right
    }
    return { classes, bars }
  },

  scale: (fit) => fit,

  legend(plan, fit, judged, telling) {
    const end = (limit: BoundText | undefined, values: Float64Array, endText: string): string => {
      if (values.some((x) => x !== values[0] && !Number.isNaN(x)))
        return limit === undefined ? `${endText} of each` : telling.words(limit.bound, limit.text)
      return limit === undefined || isWritten(limit.bound)
        ? telling.print(values[0])
        : limitText(limit, judged, telling)
    }
    // Without values there is no scale to describe.
    const bases = [...fit.base].filter((base) => !Number.isNaN(base))
    if (bases.length === 0) return { limits: [] }
    const text = `${end(plan.from, fit.from, 'lowest')} to ${end(plan.to, fit.to, 'highest')}`
    const limits: string[] = []
    limits[plan.right] = text
    if (plan.left === plan.right) return { limits }
    const base = bases.every((base) => base === bases[0]) ? telling.print(bases[0]) : 'the base of each'
    limits[plan.right] = `right of ${base}, ${text}`
    limits[plan.left] = `left of ${base}`
    return { limits }
  },

  describe(plan, telling) {
    const { from, to, base, positive, negative } = plan
    const low = from === undefined ? 'zero (the lowest where some are negative)' : telling.amount(from)
    const high = to === undefined ? 'the highest' : telling.amount(to)
    const start = base === undefined ? '' : `, starting at ${telling.amount(base)}`
    const other = negative === positive ? '' : `, ${negative.name} ${base === undefined ? 'below zero' : 'left of it'}`
    const fading = positive.finish === 'fading' ? 'fading ' : ''
    return `${withArticle(`${fading}${positive.name} bar`)} from ${low} to ${high}${start}${other}; missing values stay unpainted`
  },

  explain(_, fit, judged, cell, telling) {
    const value = numbers(judged.value, judged.length)[cell]
    if (Number.isNaN(value)) return [{ text: 'the value is missing', conclusion: true }]
    const g = judged.groups[cell]
    const place = placeAt(fit, g, value)
    if (Number.isNaN(place)) return [{ text: 'the ends of its scale are missing', conclusion: true }]
    const start = `starting at ${telling.print(fit.base[g])}`
    return [
      {
        text: `the bar runs from ${telling.print(fit.from[g])} to ${telling.print(fit.to[g])}, ${start}, and ${place === clamp(place) ? `ends at ${percentText(place)} of the width` : `runs beyond the ${place > 1 ? 'right' : 'left'} end`}`,
      },
    ]
  },
}

/** Equal ends give a bar of full width: all values are equal, or outside. */
function placeAt({ from, to }: BarFit, g: number, v: number): number {
  const reach = to[g] - from[g]
  if (reach === 0 && !Number.isNaN(v)) return v < to[g] ? BEYOND_LOW : v > to[g] ? BEYOND_HIGH : 1
  return placeBeyond((v - from[g]) / reach)
}

function towardsZero(end: 'lowest' | 'highest', judged: Judged): Float64Array {
  const ends = endOf(undefined, end, judged)
  return ends.map((x) => (end === 'lowest' ? Math.min(0, x) : Math.max(0, x)))
}
