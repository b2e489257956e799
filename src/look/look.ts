import type { PackedColor } from '../color/color.js'
import { contrast, READABLE, readableInk } from '../color/contrast.js'
import { PAPER, SOOT } from '../color/pigments.js'

/** The parts of a look that rules decide, each on its own. */
export const CHANNELS = ['status', 'fill', 'ink', 'weight', 'icon', 'hide'] as const
export type Channel = (typeof CHANNELS)[number]

/** What one rule gives a cell: null where it leaves the channel to others. */
export interface Given {
  status: string | null
  fill: PackedColor | null
  ink: PackedColor | null
  weight: 'bold' | 'normal' | null
  icon: string | null
  hide: 'value' | 'icon' | null
  /** The pigment behind fill and ink, when it is one: views draw its edge, charts its body. */
  pigment: string | null
}

/** How a cell looks in the end, and which rule decided each channel. */
export interface Look extends Given {
  paintedBy: Readonly<Partial<Record<Channel, string>>>
  /** No later rule paints it. */
  sealed: boolean
}

export const PLAIN_GIVEN: Given = {
  status: null,
  fill: null,
  ink: null,
  weight: null,
  icon: null,
  hide: null,
  pigment: null,
}

export const PLAIN_LOOK: Look = { ...PLAIN_GIVEN, paintedBy: {}, sealed: false }

/**
 * Precedence, whole. Rules are laid on in their order; the first that sets a channel of a cell wins that channel;
 * channels are independent; a sealed cell takes nothing more.
 */
export function layOn(look: Look, given: Given, rule: string, seal: boolean): Look {
  if (look.sealed) return look
  const next = { ...look, paintedBy: { ...look.paintedBy }, sealed: seal }
  for (const channel of CHANNELS) {
    if (look[channel] !== null || given[channel] === null) continue
    Object.assign(next, { [channel]: given[channel] })
    next.paintedBy[channel] = rule
    if (channel === 'fill') next.pigment = given.pigment
  }
  return next
}

/**
 * Sees to it that text can be read: a fill without an ink gets one; an ink from another rule than the fill that contrasts
 * less than 4.5 is replaced. An ink of the fill's own rule stays, as its writer wanted it.
 */
export function finished(look: Look): Look {
  const { fill, ink, paintedBy } = look
  if (fill === null) return look
  if (ink !== null && (paintedBy.ink === paintedBy.fill || contrast(ink, fill) >= READABLE)) return look
  return { ...look, ink: readableInk(fill, SOOT, PAPER), paintedBy: { ...paintedBy, ink: paintedBy.fill } }
}
