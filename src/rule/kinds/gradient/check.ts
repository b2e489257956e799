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
import { FAMILY_NAMES, familyIcons, loadFamilies } from '../../../style/icon-families.js'
import { isPigment, type Palette } from '../../../style/palette.js'
import type { BoundText } from '../../model.js'
import type { Check, Checker } from '../check.js'
import { type GradientPlan, SMOOTH } from './run.js'

export const check: Check<GradientPlan> = (spec, checker, at) => {
  const gradient = spec.gradient
  const here = at.at('gradient')
  if (gradient === undefined) return undefined
  checker.needNumber('gradient', here)
  const gives = gradient.as ?? (gradient.icons === undefined ? 'fill' : 'icon')
  const steps = gives === 'icon' ? checkIcons(gradient, checker, here) : undefined
  const stops = gives === 'icon' ? undefined : checkRamp(gradient, checker, here)
  if (gives !== 'icon' && gradient.icons !== undefined) here.at('icons').report('icons-or-ramp', { gives })
  const end = (key: 'from' | 'middle' | 'to'): BoundText | undefined => {
    const limit = gradient[key]
    return limit === undefined ? undefined : checker.limit(limit, here.at(key), true)
  }
  const from = end('from')
  const middle = end('middle')
  const to = end('to')
  const middleOfTwo = (steps !== undefined || stops?.length === 2) && gradient.middle !== undefined
  if (middleOfTwo && steps === undefined) here.at('middle').report('middle-of-two', {})
  if (steps !== undefined) {
    const shades = steps.length
    const centred = gradient.middle !== undefined
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
  const shades = gradient.steps ?? SMOOTH
  const { colors, givens } = checker.palette.remember(`${ink} ${shades} ${stops.map((stop) => stop.color)}`, () => {
    const table = rampTable(
      stops.map((stop) => stop.color),
      shades,
    )
    return {
      colors: table,
      givens: table.map((color) => ({ ...NO_EFFECT, ...(ink ? { ink: deepened(color) } : { fill: color }) })),
    }
  })
  return {
    colors,
    icons: [],
    stops: stops.map((stop) => stop.name),
    byDirection: gradient.ramp === 'badToGood',
    first: checker.givesEach(givens),
    steps: gradient.steps,
    centred: stops.length > 2,
    ink,
    from,
    middle,
    to,
  }
}

/** The icons from low to high: a list, or a family in so many steps. */
function checkIcons(gradient: GradientSpec, checker: Checker, at: Diagnostics): string[] | undefined {
  const here = at.at('icons')
  if (gradient.icons === undefined || gradient.ramp !== undefined) {
    ;(gradient.icons === undefined ? at : at.at('ramp')).report('icons-or-ramp', { gives: 'icon' })
    return undefined
  }
  if (typeof gradient.icons === 'string') {
    loadFamilies()
    const family = familyIcons(gradient.icons, gradient.steps ?? 5)
    if (family === undefined) {
      const params = { name: gradient.icons, nearest: nearest(gradient.icons, FAMILY_NAMES), known: FAMILY_NAMES }
      if (FAMILY_NAMES.includes(gradient.icons)) at.at('steps').report('family-steps', { name: gradient.icons })
      else here.report('unknown-family', params)
    }
    return family
  }
  if (gradient.steps !== undefined && gradient.steps !== gradient.icons.length)
    at.at('steps').report('icons-steps', { icons: gradient.icons.length, steps: gradient.steps })
  const candidates = iconNames(checker.palette)
  let whole = true
  gradient.icons.forEach((name, i) => {
    if (isIcon(checker.palette, name)) return
    whole = false
    here.at(i).report('unknown-icon', { name, nearest: nearest(name, candidates), known: candidates })
  })
  return whole ? [...gradient.icons] : undefined
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

function checkRamp(gradient: GradientSpec, checker: Checker, at: Diagnostics): Stop[] | undefined {
  const part = gradient.as === 'ink' ? 'ink' : 'body'
  const here = at.at('ramp')
  const { palette } = checker
  if (gradient.ramp === undefined) {
    at.report('icons-or-ramp', { gives: gradient.as ?? 'fill' })
    return undefined
  }
  const pigment = (name: string): Stop => ({ name, color: softened(palette, name, gradient) })
  if (gradient.ramp === 'badToGood') {
    const { better, measure } = checker
    if (better !== 'higher' && better !== 'lower') {
      here.report('better-needed', { what: 'ramp: badToGood', measure })
      return undefined
    }
    const between = gradient.as === 'ink' ? { name: 'soot', color: SOOT } : { name: 'paper', color: PAPER }
    const stops = [pigment('coral'), between, pigment('aqua')]
    return better === 'higher' ? stops : stops.reverse()
  }
  const old = String(gradient.ramp)
  if ((old === 'judged' || Object.hasOwn(RENAMED_PIGMENTS, old)) && !isPigment(palette, old)) {
    here.report('renamed', { old, now: old === 'judged' ? 'badToGood' : RENAMED_PIGMENTS[old] })
    return undefined
  }
  if (typeof gradient.ramp === 'string') {
    if (isPigment(palette, gradient.ramp)) return [{ name: 'paper', color: PAPER }, pigment(gradient.ramp)]
    const candidates = ['badToGood', ...Object.keys(palette.pigments)]
    here.report('unknown-pigment', {
      name: gradient.ramp,
      nearest: nearest(gradient.ramp, candidates),
      known: candidates,
    })
    return undefined
  }
  if (gradient.ramp.length < 2) {
    here.report('ramp-short', {})
    return undefined
  }
  const stops: Stop[] = []
  gradient.ramp.forEach((name, i) => {
    const color = name === 'paper' ? PAPER : name === 'soot' ? SOOT : resolveColor(name, part, palette)
    if (color === undefined) checker.unknownColor(name, here.at(i))
    else stops.push(isPigment(palette, name) ? pigment(name) : { name, color })
  })
  return stops.length < gradient.ramp.length ? undefined : stops
}

/**
 * The ends of a filled ramp are a pigment's body lightened with paper: full strength is too heavy
 * for a whole cell.
 */
function softened(palette: Palette, name: string, gradient: GradientSpec): PackedColor {
  const { ink, body } = palette.pigments[name]
  return gradient.as === 'ink' ? ink : palette.remember(`softened ${name}`, () => mixed(PAPER, body, 0.85))
}
