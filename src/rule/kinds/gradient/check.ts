import type { PackedColor } from '../../../color/color.js'
import { contrast, READABLE, readableInk } from '../../../color/contrast.js'
import { PAPER, SOOT } from '../../../color/pigments.js'
import { mixed, rampTable } from '../../../color/ramp.js'
import type { Diagnostics } from '../../../problem/diagnostics.js'
import { nearest } from '../../../problem/nearest.js'
import { RENAMED_PIGMENTS } from '../../../problem/renamed.js'
import type { GradientSpec } from '../../../spec/rules.js'
import { NO_EFFECT } from '../../../style/cell-style.js'
import { iconNames, isIcon, resolveColor } from '../../../style/effect.js'
import { FAMILY_NAMES, familyIcons } from '../../../style/icons.js'
import { isPigment, type Palette } from '../../../style/palette.js'
import type { BoundText } from '../../model.js'
import type { Check, Checker } from '../check.js'
import { type GradientPlan, SMOOTH } from './run.js'

export const check: Check<GradientPlan> = (spec, checker, at) => {
  const own = spec.gradient
  const here = at.at('gradient')
  if (own === undefined) return undefined
  checker.needNumber('gradient', here)
  const gives = own.as ?? (own.icons === undefined ? 'fill' : 'icon')
  const steps = gives === 'icon' ? checkIcons(own, checker, here) : undefined
  const stops = gives === 'icon' ? undefined : checkRamp(own, checker, here)
  if (gives !== 'icon' && own.icons !== undefined) here.at('icons').report('icons-or-ramp', { gives })
  const end = (key: 'from' | 'middle' | 'to'): BoundText | undefined => {
    const limit = own[key]
    return limit === undefined ? undefined : checker.limit(limit, here.at(key), true)
  }
  const from = end('from')
  const middle = end('middle')
  const to = end('to')
  const middleOfTwo = (steps !== undefined || stops?.length === 2) && own.middle !== undefined
  if (middleOfTwo && steps === undefined) here.at('middle').report('middle-of-two', {})
  if (steps !== undefined) {
    const shades = steps.length
    const centred = own.middle !== undefined
    return {
      colors: [],
      icons: steps,
      stops: steps,
      byDirection: false,
      first: checker.givesEach(steps.map((icon) => ({ ...NO_EFFECT, icon }))),
      steps: shades,
      centred,
      ink: false,
      from,
      middle,
      to,
    }
  }
  if (stops === undefined || checker.refused) return undefined
  const ink = gives === 'ink'
  const shades = own.steps ?? SMOOTH
  const { colors, givens } = checker.palette.remember(`${ink} ${shades} ${stops.map((stop) => stop.color)}`, () => {
    const made = rampTable(
      stops.map((stop) => stop.color),
      shades,
    )
    return {
      colors: made,
      givens: made.map((color) => ({ ...NO_EFFECT, ...(ink ? { ink: deepened(color) } : { fill: color }) })),
    }
  })
  return {
    colors,
    icons: [],
    stops: stops.map((stop) => stop.name),
    byDirection: own.ramp === 'badToGood',
    first: checker.givesEach(givens),
    steps: own.steps,
    centred: stops.length > 2,
    ink,
    from,
    middle,
    to,
  }
}

/** The icons from low to high: a list, or a family in so many steps. */
function checkIcons(own: GradientSpec, checker: Checker, at: Diagnostics): string[] | undefined {
  const here = at.at('icons')
  if (own.icons === undefined || own.ramp !== undefined) {
    ;(own.icons === undefined ? at : at.at('ramp')).report('icons-or-ramp', { gives: 'icon' })
    return undefined
  }
  if (typeof own.icons === 'string') {
    const family = familyIcons(own.icons, own.steps ?? 5)
    if (family === undefined) {
      const params = { name: own.icons, nearest: nearest(own.icons, FAMILY_NAMES), known: FAMILY_NAMES }
      if (FAMILY_NAMES.includes(own.icons)) at.at('steps').report('family-steps', { name: own.icons })
      else here.report('unknown-family', params)
    }
    return family
  }
  if (own.steps !== undefined && own.steps !== own.icons.length)
    at.at('steps').report('icons-steps', { icons: own.icons.length, steps: own.steps })
  const known = iconNames(checker.palette)
  let whole = true
  own.icons.forEach((name, i) => {
    if (isIcon(checker.palette, name)) return
    whole = false
    here.at(i).report('unknown-icon', { name, nearest: nearest(name, known), known })
  })
  return whole ? [...own.icons] : undefined
}

/**
 * A text colour must be readable on paper: lighter colours of the ramp are darkened until they are.
 */
function deepened(color: PackedColor): PackedColor {
  if (contrast(color, PAPER) >= READABLE) return color
  const darker = rampTable([color, SOOT], 16)
  return darker.find((c) => contrast(c, PAPER) >= READABLE) ?? readableInk(PAPER, SOOT, PAPER)
}

interface Stop {
  name: string
  color: PackedColor
}

function checkRamp(own: GradientSpec, checker: Checker, at: Diagnostics): Stop[] | undefined {
  const part = own.as === 'ink' ? 'ink' : 'body'
  const here = at.at('ramp')
  const { palette } = checker
  if (own.ramp === undefined) {
    at.report('icons-or-ramp', { gives: own.as ?? 'fill' })
    return undefined
  }
  const pigment = (name: string): Stop => ({ name, color: softened(palette, name, own) })
  if (own.ramp === 'badToGood') {
    const { better, measure } = checker
    if (better !== 'higher' && better !== 'lower') {
      here.report('better-needed', { what: 'ramp: badToGood', measure })
      return undefined
    }
    const between = own.as === 'ink' ? { name: 'soot', color: SOOT } : { name: 'paper', color: PAPER }
    const stops = [pigment('coral'), between, pigment('aqua')]
    return better === 'higher' ? stops : stops.reverse()
  }
  const old = String(own.ramp)
  if ((old === 'judged' || Object.hasOwn(RENAMED_PIGMENTS, old)) && !isPigment(palette, old)) {
    here.report('renamed', { old, now: old === 'judged' ? 'badToGood' : RENAMED_PIGMENTS[old] })
    return undefined
  }
  if (typeof own.ramp === 'string') {
    if (isPigment(palette, own.ramp)) return [{ name: 'paper', color: PAPER }, pigment(own.ramp)]
    const known = ['badToGood', ...Object.keys(palette.pigments)]
    here.report('unknown-pigment', { name: own.ramp, nearest: nearest(own.ramp, known), known })
    return undefined
  }
  if (own.ramp.length < 2) {
    here.report('ramp-short', {})
    return undefined
  }
  const stops: Stop[] = []
  own.ramp.forEach((name, i) => {
    const color = name === 'paper' ? PAPER : name === 'soot' ? SOOT : resolveColor(name, part, palette)
    if (color === undefined) checker.unknownColor(name, here.at(i))
    else stops.push(isPigment(palette, name) ? pigment(name) : { name, color })
  })
  return stops.length < own.ramp.length ? undefined : stops
}

/**
 * The ends of a filled ramp are a pigment's body lightened with paper: full strength is too heavy
 * for a whole cell.
 */
function softened(palette: Palette, name: string, own: GradientSpec): PackedColor {
  const { ink, body } = palette.pigments[name]
  return own.as === 'ink' ? ink : palette.remember(`softened ${name}`, () => mixed(PAPER, body, 0.85))
}
