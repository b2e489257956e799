import type { PackedColor } from './color.js'
import { mixer } from './spaces.js'

/**
 * A table of `steps` colours along a ramp, mixed in OKLab (Ottosson 2020, by culori). The stops are
 * spread evenly, both ends included. Gradients read their colours from such a table, so a page
 * needs at most 256 colours for each ramp.
 */
export function rampTable(stops: readonly PackedColor[], steps: number): PackedColor[] {
  const mix = mixer(stops)
  return Array.from({ length: steps }, (_, i) => mix(steps === 1 ? 0.5 : i / (steps - 1)))
}

/** The colour a `share` of the way from one to another, 0 to 1, mixed in OKLab. */
export function mixed(from: PackedColor, to: PackedColor, share: number): PackedColor {
  return mixer([from, to])(share)
}
