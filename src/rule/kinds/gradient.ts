import type { PackedColor } from '../../color/color.js'
import { contrast, READABLE, readableInk } from '../../color/contrast.js'
import { isPigment, PAPER, PIGMENTS, SOOT } from '../../color/pigments.js'
import { rampTable } from '../../color/ramp.js'
import { sortedByGroup, statistic } from '../../column/statistic.js'
import { numbers } from '../../expression/evaluate.js'
import { resolveColor } from '../../look/given.js'
import { PLAIN_GIVEN } from '../../look/look.js'
import { type Path, problem } from '../../problem/problem.js'
import type { BoundText, Checker, Judged, Kind, Print } from '../kind.js'
import type { GradientSpec } from '../spec.js'
import { limitText } from './bands.js'

/** Colours a smooth ramp is looked up in. */
const SMOOTH = 256

interface Plan {
  colors: PackedColor[]
  /** Class of the first colour; the others follow. */
  first: number
  shades: number | undefined
  /** A ramp of three colours or more has a middle. */
  centred: boolean
  ink: boolean
  from: BoundText | undefined
  middle: BoundText | undefined
  to: BoundText | undefined
}

/** Where a value lies between from, (middle,) and to, as a colour. */
export const gradient: Kind<Plan> = {
  key: 'gradient',

  check(spec, checker, at) {
    const own = spec.gradient
    const here = [...at, 'gradient']
    if (own === undefined) return undefined
    checker.needNumber('gradient', here)
    const stops = checkRamp(own, checker, [...here, 'ramp'])
    const end = (key: 'from' | 'middle' | 'to'): BoundText | undefined => {
      const limit = own[key]
      return limit === undefined ? undefined : checker.limit(limit, [...here, key], true)
    }
    const from = end('from')
    const middle = end('middle')
    const to = end('to')
    if (stops === undefined) return undefined
    if (stops.length === 2 && own.middle !== undefined) checker.tell('middle-of-two', {}, [...here, 'middle'])
    const ink = own.gives === 'ink'
    const colors = rampTable(stops, own.shades ?? SMOOTH)
    const classes = colors.map((color) =>
      checker.gives({ ...PLAIN_GIVEN, ...(ink ? { ink: deepened(color) } : { fill: color }) }),
    )
    return { colors, first: classes[0], shades: own.shades, centred: stops.length > 2, ink, from, middle, to }
  },

  expressions: (plan) => [plan.from, plan.middle, plan.to].filter((limit) => limit !== undefined).map((l) => l.bound),

  readsPopulation: (plan) => plan.from === undefined || plan.to === undefined,

  run(plan, judged) {
    const { length, groups } = judged
    const ends = endsOf(plan, judged)
    const values = numbers(judged.value, length)
    const out = new Int16Array(length)
    const { first, shades } = plan
    const { middle } = ends
    const { lower, upper } = stepsOf(ends, judged.groupCount)
    for (let i = 0; i < length; i++) {
      const v = values[i]
      const g = groups[i]
      const m = middle[g]
      // Half of the ramp lies below the middle, half above; equal ends are one half.
      const t = clamp(0.5 + (v - m) * (v >= m ? upper[g] : lower[g]))
      if (Number.isNaN(t)) out[i] = -1
      else if (shades === undefined) out[i] = first + Math.round(t * (SMOOTH - 1))
      // The grain of salt keeps a value that stands on an edge in the class above it.
      else out[i] = first + Math.min(shades - 1, Math.floor(t * shades + 1e-12))
    }
    return out
  },

  legend(plan, judged, print) {
    return { limits: [], ramp: { colors: plan.colors, ink: plan.ink, marks: marksOf(plan, judged, print) } }
  },
}

function clamp(t: number): number {
  return Math.min(1, Math.max(0, t))
}

/** An ink must be read on paper: colours of the ramp that are too light for it are darkened until they can be. */
function deepened(color: PackedColor): PackedColor {
  if (contrast(color, PAPER) >= READABLE) return color
  const darker = rampTable([color, SOOT], 16)
  return darker.find((c) => contrast(c, PAPER) >= READABLE) ?? readableInk(PAPER, SOOT, PAPER)
}

function checkRamp(own: GradientSpec, checker: Checker, at: Path): PackedColor[] | undefined {
  const part = own.gives === 'ink' ? 'ink' : 'body'
  if (own.ramp === 'judged') {
    const { better, measure } = checker
    if (better !== 'higher' && better !== 'lower') {
      checker.tell('better-needed', { what: 'ramp: judged', measure }, at)
      return undefined
    }
    const stops = [
      softened(PIGMENTS.clay[part], own),
      own.gives === 'ink' ? SOOT : PAPER,
      softened(PIGMENTS.leaf[part], own),
    ]
    return better === 'higher' ? stops : stops.reverse()
  }
  if (own.ramp.length < 2) {
    checker.tell('ramp-short', {}, at)
    return undefined
  }
  const stops: PackedColor[] = []
  own.ramp.forEach((name, i) => {
    const color = name === 'paper' ? PAPER : name === 'soot' ? SOOT : resolveColor(name, part)
    if (color === undefined) checker.tell('unknown-color', { name }, [...at, i])
    else stops.push(isPigment(name) ? softened(color, own) : color)
  })
  return stops.length < own.ramp.length ? undefined : stops
}

/** The ends of a filled ramp are a pigment's body thinned with paper: full strength is too heavy for a whole cell. */
function softened(color: PackedColor, own: GradientSpec): PackedColor {
  return own.gives === 'ink' ? color : rampTable([PAPER, color], 21)[17]
}

interface Ends {
  from: Float64Array
  middle: Float64Array
  to: Float64Array
}

/** The ends of each group: as written, or from its own values. */
function endsOf(plan: Plan, judged: Judged): Ends {
  const { groupCount, population } = judged
  const values = numbers(judged.value, judged.length)
  const from =
    plan.from === undefined ? statistic('lowest', values, population, groupCount) : perGroup(plan.from, judged)
  const to = plan.to === undefined ? statistic('highest', values, population, groupCount) : perGroup(plan.to, judged)
  const middle = new Float64Array(groupCount)
  const written = plan.middle === undefined ? undefined : perGroup(plan.middle, judged)
  for (let g = 0; g < groupCount; g++) {
    const spansZero = from[g] < 0 && to[g] > 0
    if (!plan.centred) middle[g] = (from[g] + to[g]) / 2
    else if (written !== undefined) middle[g] = written[g]
    else middle[g] = spansZero ? 0 : (from[g] + to[g]) / 2
    // With both ends left to the data, both halves are on one scale: the farther end sets it.
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

/** How far a unit of value moves along the ramp, below and above the middle. */
function stepsOf({ from, middle, to }: Ends, groups: number): { lower: Float64Array; upper: Float64Array } {
  const lower = new Float64Array(groups)
  const upper = new Float64Array(groups)
  for (let g = 0; g < groups; g++) {
    lower[g] = middle[g] > from[g] ? 0.5 / (middle[g] - from[g]) : 0
    upper[g] = to[g] > middle[g] ? 0.5 / (to[g] - middle[g]) : 0
  }
  return { lower, upper }
}

/** A limit, one a group: constant, or the same for all cells of a group (a statistic within it). */
function perGroup(limit: BoundText, judged: Judged): Float64Array {
  const { length, groups, groupCount } = judged
  const vector = judged.run(limit.bound)
  const out = new Float64Array(groupCount).fill(Number.NaN)
  if (vector.constant) return out.fill(numbers(vector, 1)[0])
  const values = numbers(vector, length)
  // A limit that differs inside a group was refused when the rule was checked.
  for (let i = 0; i < length; i++) out[groups[i]] = values[i]
  return out
}

function marksOf(plan: Plan, judged: Judged, print: Print): { at: number; text: string; what: string }[] {
  const { groupCount, population, length } = judged
  const { from, middle, to } = endsOf(plan, judged)
  if (from.every(Number.isNaN) || to.every(Number.isNaN)) return []
  const found = sortedByGroup(numbers(judged.value, length), population, groupCount)
  const mark = (
    at: number,
    limit: BoundText | undefined,
    values: Float64Array,
    own: string,
  ): { at: number; text: string; what: string } => {
    // An end that differs from group to group is told by its name, one that is the same for all as a number.
    if (values.some((x) => x !== values[0])) return { at, text: limit?.text ?? own, what: 'of each' }
    const text = print(values[0])
    if (limit === undefined) return { at, text, what: own }
    return { at, text, what: limitText(limit, judged, print) === text ? '' : limit.text }
  }
  const isOwn = (values: Float64Array, end: 0 | -1): boolean => found.every((own, g) => own.at(end) === values[g])
  const marks = [mark(0, plan.from, from, isOwn(from, 0) ? 'lowest' : '')]
  if (plan.centred) marks.push(mark(0.5, plan.middle, middle, ''))
  marks.push(mark(1, plan.to, to, isOwn(to, -1) ? 'highest' : ''))
  return marks
}
