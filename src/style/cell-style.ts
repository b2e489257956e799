import type { PackedColor } from '../color/color.js'
import { contrast, READABLE, readableInk } from '../color/contrast.js'
import { PAPER, type Pigment, SOOT } from '../color/pigments.js'

/** The parts of a look that rules decide, each on its own. */
export const CHANNELS = ['status', 'fill', 'ink', 'weight', 'icon', 'bar', 'flag', 'picture', 'hide'] as const
/** A part of a cell's look that rules decide on its own. */
export type Channel = (typeof CHANNELS)[number]

/** How a bar is drawn; where it begins and ends is the cell's own. */
export interface BarStyle {
  /** The pigment or colour as its writer named it. */
  name: string
  color: PackedColor
  finish: 'solid' | 'fading'
}

/** What one rule gives a cell: null where it leaves the channel to others. */
export interface Effect {
  status: string | null
  fill: PackedColor | null
  ink: PackedColor | null
  weight: 'bold' | 'normal' | null
  icon: string | null
  bar: BarStyle | null
  /** Words in which `{name}` stands for a formatted value. */
  flag: string | null
  /** A data address, or the name of a file until it is read. */
  picture: string | null
  hide: 'value' | 'icon' | null
  /** The pigment behind fill and ink, when it is one: views draw its edge, charts its body. */
  pigment: Pigment | null
}

/** How a cell looks in the end, and which rule decided each channel. */
export interface CellStyle extends Effect {
  paintedBy: Readonly<Partial<Record<Channel, string>>>
  /** No later rule paints it. */
  final: boolean
  /** An ink that could not be read on the fill of another rule, and was replaced. */
  unread?: { rule: string; ink: PackedColor }
}

export const NO_EFFECT: Effect = {
  status: null,
  fill: null,
  ink: null,
  weight: null,
  icon: null,
  bar: null,
  flag: null,
  picture: null,
  hide: null,
  pigment: null,
}

export const PLAIN_STYLE: CellStyle = { ...NO_EFFECT, paintedBy: {}, final: false }

/**
 * Precedence, whole. Rules are laid on in their order; the first that sets a channel of a cell wins
 * that channel; channels are independent; a sealed cell takes nothing more.
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
 * Sees to it that text can be read: a fill without an ink gets one; an ink from another rule than
 * the fill that contrasts less than 4.5 is replaced. An ink of the fill's own rule stays, as its
 * writer wanted it.
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
