import type { PackedColor } from '../color/color.js'
import { contrast, READABLE, readableInk } from '../color/contrast.js'
import { PAPER, type Pigment, SOOT } from '../color/pigments.js'

/** The channels of a style; rules set each channel by itself. */
export const CHANNELS = [
  'status',
  'fill',
  'ink',
  'weight',
  'icon',
  'iconAfter',
  'bar',
  'flag',
  'picture',
  'hide',
] as const
/** A channel of a cell's style. */
export type Channel = (typeof CHANNELS)[number]

/** The style of a bar; its ends belong to the cell. */
export interface BarStyle {
  /** The pigment or colour as written. */
  name: string
  color: PackedColor
  finish: 'solid' | 'fading'
}

/** The channels that one rule sets; null for those that it leaves to others. */
export interface Effect {
  status: string | null
  fill: PackedColor | null
  ink: PackedColor | null
  weight: 'bold' | 'normal' | null
  icon: string | null
  /** A second icon, after the number: that of a rule with `icon: after`. */
  iconAfter: string | null
  bar: BarStyle | null
  /** A text in which `{name}` stands for a formatted value. */
  flag: string | null
  /** A data URL, or the name of a file until it is read. */
  picture: string | null
  hide: 'value' | 'icon' | null
  /**
   * The pigment of fill and ink, if it is one: writers use its other parts for edges and charts.
   */
  pigment: Pigment | null
}

/** The final style of a cell, and which rule set each channel. */
export interface CellStyle extends Effect {
  paintedBy: Readonly<Partial<Record<Channel, string>>>
  /** Whether a rule with `final` painted it: no later rule does. */
  final: boolean
  /** A text colour that was replaced, as it was not readable on the fill of another rule. */
  unread?: { rule: string; ink: PackedColor }
}

export const NO_EFFECT: Effect = {
  status: null,
  fill: null,
  ink: null,
  weight: null,
  icon: null,
  iconAfter: null,
  bar: null,
  flag: null,
  picture: null,
  hide: null,
  pigment: null,
}

/** The icon of a style that stands for it alone, as in a legend: the first that it has. */
export function iconOf({ icon, iconAfter }: Effect): string | null {
  return icon ?? iconAfter
}

/** The effect of a rule with `icon: after`. */
export function iconBehind(effect: Effect): Effect {
  return { ...effect, icon: null, iconAfter: effect.icon }
}

export const PLAIN_STYLE: CellStyle = { ...NO_EFFECT, paintedBy: {}, final: false }

/**
 * The function of precedence. Rules are applied in order; the first that sets a channel of a cell
 * wins that channel; channels are independent; after a rule with `final` the cell stays as it is.
 */
export function applyStyle(look: CellStyle, given: Effect, rule: string, seal: boolean): CellStyle {
  if (look.final) return look
  const next = { ...look, paintedBy: { ...look.paintedBy }, final: seal }
  for (const channel of CHANNELS) {
    if (look[channel] !== null || given[channel] === null) continue
    Object.assign(next, { [channel]: given[channel] })
    next.paintedBy[channel] = rule
    if (channel === 'fill') next.pigment = given.pigment
  }
  return next
}

/**
 * Makes text readable: a fill without a text colour gets one; a text colour from another rule than
 * the fill is replaced if its contrast is below 4.5. A text colour from the rule of the fill is
 * kept.
 */
export function finished(look: CellStyle): CellStyle {
  const { fill, ink, paintedBy } = look
  if (fill === null) return look
  if (ink !== null && (paintedBy.ink === paintedBy.fill || contrast(ink, fill) >= READABLE)) return look
  const by = paintedBy.fill === undefined ? {} : { ink: paintedBy.fill }
  const read: CellStyle = { ...look, ink: readableInk(fill, SOOT, PAPER), paintedBy: { ...paintedBy, ...by } }
  if (ink !== null && paintedBy.ink !== undefined) read.unread = { rule: paintedBy.ink, ink }
  return read
}
