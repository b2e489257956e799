import type { GradientSpec } from '../../../spec/rules.js'
import {
  colorInSentence,
  endInSentence,
  endsInSentence,
  iconInSentence,
  limitInSentence,
  type WriteClauses,
} from '../sentence-parts.js'

/** `shade from paper at 0 to aqua at the 95th percentile`, or `icons petals in 5 steps from 0`. */
export const writeClauses: WriteClauses = ({ gradient = {} }) => {
  const { icons, from, middle, to, steps } = gradient
  const inSteps = steps === undefined ? '' : ` in ${steps} steps`
  if (icons === undefined) return shadeText(gradient, inSteps)
  const drawings = typeof icons === 'string' ? iconInSentence(icons) : `(${icons.map(iconInSentence).join(', ')})`
  return `icons ${drawings}${inSteps}${endsInSentence({ from, to, around: middle })}`
}

function shadeText({ ramp = [], from, middle, to, as }: GradientSpec, inSteps: string): string {
  const at = (limit: typeof from): string => (limit === undefined ? '' : ` at ${endInSentence(limit)}`)
  const stops =
    ramp === 'badToGood' ? ['bad', 'good'] : (typeof ramp === 'string' ? ['paper', ramp] : ramp).map(colorInSentence)
  const inner = stops.slice(1, -1)
  // The middle is attached to the colour between the ends; without one it is written by itself.
  const through = inner.map((stop) => ` through ${stop}${inner.length === 1 ? at(middle) : ''}`).join('')
  const around = middle === undefined || inner.length === 1 ? '' : ` around ${limitInSentence(middle)}`
  const text = as === 'ink' ? ' as text' : ''
  return `shade from ${stops[0] ?? 'paper'}${at(from)}${through} to ${stops.at(-1) ?? 'paper'}${at(to)}${around}${inSteps}${text}`
}
