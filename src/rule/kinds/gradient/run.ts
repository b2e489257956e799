import type { PackedColor } from '../../../color/color.js'
import { sortedByGroup } from '../../../column/statistic.js'
import { numbers } from '../../../expression/evaluate.js'
import { problem } from '../../../problem/answering.js'
import type { BoundText, Judged, Kind, Phrases } from '../../model.js'
import { clamp, endOf, isInside, percentText, perGroup } from '../ends.js'
import { isWritten, joinWithAnd } from '../limit-text.js'
import { fillEvenRamp, fillRamp } from './kernels.js'

/** The number of colours of a smooth ramp. */
export const SMOOTH = 256

export interface GradientPlan {
  /** Empty for icons. */
  colors: PackedColor[]
  icons: readonly string[]
  /** The stops as written. */
  stops: readonly string[]
  /** Whether its colours follow the direction of the measure. */
  byDirection: boolean
  /** The class of the first colour; the others follow. */
  first: number
  steps: number | undefined
  /** Whether it has a middle: a ramp of three colours or more. */
  centred: boolean
  ink: boolean
  from: BoundText | undefined
  middle: BoundText | undefined
  to: BoundText | undefined
}

/** A colour by the position of a value between from, (middle,) and to. */
export const kind: Kind<GradientPlan, GradientFit> = {
  key: 'gradient',

  expressions: (plan) => [plan.from, plan.middle, plan.to].filter((limit) => limit !== undefined).map((l) => l.bound),

  readsPopulation: (plan) => plan.from === undefined || plan.to === undefined,

  fit(plan, judged) {
    const ends = gradientEnds(plan, judged)
    return { ...ends, ...stepsOf(ends, judged.groupCount) }
  },

  decide(plan, fit, judged) {
    const { length, groups, groupCount } = judged
    const values = numbers(judged.value, length)
    const out = new Int16Array(length)
    const [m] = fit.middle
    // The most common case: one group and a smooth ramp.
    const [order] = groupCount === 1 ? judged.orders() : []
    const [low, up] = [fit.lower[0], fit.upper[0]]
    const inside = order !== undefined && isInside(order, fit.from[0], fit.to[0])
    if (order === undefined || plan.steps !== undefined || Number.isNaN(m) || judged.population !== groups)
      for (let i = 0; i < length; i++) out[i] = classAt(plan, placeAt(fit, groups[i], values[i]))
    else if (inside && low === up) fillEvenRamp(values, m, up, SMOOTH - 1, plan.first, out)
    else fillRamp(values, m, low, up, SMOOTH - 1, plan.first, out)
    return { classes: out }
  },

  scale: (fit) => fit,

  legend(plan, fit, judged, telling) {
    const marks = marksOf(plan, fit, judged, telling)
    const steps = stepTexts(plan, fit, telling)
    if (steps !== undefined && marks.length > 0) {
      const limits: string[] = []
      for (const [k, text] of steps.entries()) limits[plan.first + k] = text
      return { limits }
    }
    if (plan.icons.length === 0) return { limits: [], ramp: { colors: plan.colors, ink: plan.ink, marks } }
    // Each group has limits of its own.
    const [low, high] = [marks[0], marks.at(-1)]
    const words = plan.icons.map((_, k) => {
      const mark = k === 0 ? low : k === plan.icons.length - 1 ? high : undefined
      return mark === undefined ? '' : `towards ${mark.text} ${mark.what}`.trim()
    })
    return { limits: words }
  },

  describe(plan, telling) {
    const what = plan.icons.length > 0 ? 'an icon' : plan.ink ? 'its text coloured' : 'coloured'
    const steps = plan.steps === undefined || plan.icons.length > 0 ? '' : ` in ${plan.steps} steps`
    const { from, middle, to, stops } = plan
    const low = from === undefined ? 'the lowest' : telling.amount(from)
    const high = to === undefined ? 'the highest' : telling.amount(to)
    const centre =
      middle !== undefined
        ? telling.amount(middle)
        : plan.centred
          ? 'the middle (zero where values lie on both sides of it, else halfway)'
          : undefined
    const inner = stops.slice(1, -1)
    const over =
      plan.icons.length > 0
        ? inner.length === 0
          ? ''
          : ` through ${joinWithAnd(inner)}`
        : inner.length === 0
          ? ''
          : ` over ${joinWithAnd(inner)}`
    return `${what} from ${stops[0]} at ${low}${over}${centre === undefined ? '' : ` at ${centre}`} to ${stops.at(-1)} at ${high}${steps}; values beyond an end count as that end; missing values stay unpainted`
  },

  explain(plan, fit, judged, cell, telling) {
    const value = numbers(judged.value, judged.length)[cell]
    if (Number.isNaN(value)) return [{ text: 'the value is missing', conclusion: true }]
    const g = judged.groups[cell]
    const endText = (limit: BoundText | undefined, x: number, words: string): string =>
      `${telling.print(x)}${limit === undefined ? ` (${words})` : isWritten(limit.bound) ? '' : ` (${telling.words(limit.bound, limit.text)})`}`
    const low = endText(plan.from, fit.from[g], 'lowest')
    const high = endText(plan.to, fit.to[g], 'highest')
    const centre = plan.centred ? ` over ${endText(plan.middle, fit.middle[g], 'the middle')}` : ''
    const t = placeAt(fit, g, value)
    const step =
      plan.steps === undefined || Number.isNaN(t) ? '' : `, step ${classAt(plan, t) - plan.first + 1} of ${plan.steps}`
    const scale = `the scale runs from ${low}${centre} to ${high}`
    if (Number.isNaN(t)) return [{ text: scale }, { text: 'its ends are missing', conclusion: true }]
    return [{ text: `${scale}, and the value is at ${percentText(t)} of it${step}` }]
  },
}

export interface GradientFit extends Ends {
  /** The position on the ramp for one unit of value, below and above the middle. */
  lower: Float64Array
  upper: Float64Array
}

/**
 * The position of a value on the ramp, 0 to 1: one half below the middle, one above; one half for
 * equal ends. One of the two distances from the middle is 0, so adding them needs no branch.
 */
function placeAt({ middle, lower, upper }: GradientFit, g: number, v: number): number {
  const d = v - middle[g]
  return clamp(0.5 + Math.max(d, 0) * upper[g] + Math.min(d, 0) * lower[g])
}

function classAt({ first, steps: shades }: GradientPlan, t: number): number {
  if (Number.isNaN(t)) return -1
  if (shades === undefined) return first + ((t * (SMOOTH - 1) + 0.5) | 0)
  // The small addend keeps a value exactly on an edge in the class above it.
  return first + Math.min(shades - 1, Math.floor(t * shades + 1e-12))
}

export interface Ends {
  from: Float64Array
  middle: Float64Array
  to: Float64Array
}

/** The ends of each group: as written, or from its own values. */
function gradientEnds(plan: GradientPlan, judged: Judged): Ends {
  const { groupCount } = judged
  const from = endOf(plan.from, 'lowest', judged).slice()
  const to = endOf(plan.to, 'highest', judged).slice()
  const middle = new Float64Array(groupCount)
  const written = plan.middle === undefined ? undefined : perGroup(plan.middle, judged)
  for (let g = 0; g < groupCount; g++) {
    const spansZero = from[g] < 0 && to[g] > 0
    if (!plan.centred) middle[g] = (from[g] + to[g]) / 2
    else if (written !== undefined) middle[g] = written[g]
    else middle[g] = spansZero ? 0 : (from[g] + to[g]) / 2
    // If both ends come from the data, both halves have one scale: that of the farther end.
    const balanced = plan.centred && plan.from === undefined && plan.to === undefined
    if (balanced && (written !== undefined || spansZero)) {
      const reach = Math.max(Math.abs(from[g] - middle[g]), Math.abs(to[g] - middle[g]))
      from[g] = middle[g] - reach
      to[g] = middle[g] + reach
    }
    if (from[g] > to[g]) {
      judged.note(problem('from-above-to', { from: String(from[g]), to: String(to[g]) }))
      middle[g] = Number.NaN
    }
  }
  return { from, middle, to }
}

/** The position on the ramp for one unit of value, below and above the middle. */
function stepsOf({ from, middle, to }: Ends, groups: number): { lower: Float64Array; upper: Float64Array } {
  const lower = new Float64Array(groups)
  const upper = new Float64Array(groups)
  for (let g = 0; g < groups; g++) {
    lower[g] = middle[g] > from[g] ? 0.5 / (middle[g] - from[g]) : 0
    upper[g] = to[g] > middle[g] ? 0.5 / (to[g] - middle[g]) : 0
  }
  return { lower, upper }
}

/** More steps are shown as a ramp. */
const MAX_TOLD_STEPS = 9

/**
 * The limits of each step; undefined for a smooth ramp, and where groups have limits of their own.
 */
function stepTexts({ steps }: GradientPlan, fit: GradientFit, telling: Phrases): string[] | undefined {
  const common = [fit.from, fit.middle, fit.to].every((ends) => ends.every((end) => end === ends[0]))
  if (steps === undefined || steps > MAX_TOLD_STEPS || !common) return undefined
  const [middle, lower, upper] = [fit.middle[0], fit.lower[0], fit.upper[0]]
  // Equal ends leave nothing between them.
  if (!(lower > 0 && upper > 0)) return undefined
  const edges = Array.from({ length: steps - 1 }, (_, k) => {
    const t = (k + 1) / steps - 0.5
    return telling.print(t === 0 ? middle : middle + t / (t < 0 ? lower : upper))
  })
  return Array.from({ length: steps }, (_, k) => {
    if (k === 0) return `below ${edges[0]}`
    return k === steps - 1 ? `${edges[k - 1]} or more` : `${edges[k - 1]} to ${edges[k]}`
  })
}

function marksOf(
  plan: GradientPlan,
  { from, middle, to }: Ends,
  judged: Judged,
  telling: Phrases,
): { at: number; text: string; what: string }[] {
  const { groupCount, population, length } = judged
  if (from.every(Number.isNaN) || to.every(Number.isNaN)) return []
  const sorted = sortedByGroup(numbers(judged.value, length), population, groupCount)
  const mark = (
    at: number,
    limit: BoundText | undefined,
    values: Float64Array,
    ownWord: string,
  ): { at: number; text: string; what: string } => {
    // An end that differs between groups is printed by name, a common one as a number.
    if (values.some((x) => x !== values[0]))
      return { at, text: limit === undefined ? ownWord : telling.words(limit.bound, limit.text), what: 'of each' }
    const text = telling.print(values[0])
    if (limit === undefined) return { at, text, what: ownWord }
    return { at, text, what: isWritten(limit.bound) ? '' : `(${telling.words(limit.bound, limit.text)})` }
  }
  const isOwn = (values: Float64Array, end: 0 | -1): boolean =>
    sorted.every((members, g) => members.at(end) === values[g])
  const marks = [mark(0, plan.from, from, isOwn(from, 0) ? 'lowest' : '')]
  if (plan.centred) marks.push(mark(0.5, plan.middle, middle, ''))
  marks.push(mark(1, plan.to, to, isOwn(to, -1) ? 'highest' : ''))
  return marks
}
