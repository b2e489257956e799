import type { PackedColor } from './color.js'
import { mixer } from './spaces.js'

/**
 * `steps` colours along a ramp, mixed in OKLab (Ottosson 2020, by culori), the stops spread evenly, both ends included.
 * A gradient is looked up in such a table, so a page needs no more than 256 colours a ramp.
 */
export function rampTable(stops: readonly PackedColor[], steps: number): PackedColor[] {
  const mix = mixer(stops)
  return Array.from({ length: steps }, (_, i) => mix(steps === 1 ? 0.5 : i / (steps - 1)))
}

/** The colour a `share` of the way from one to another, 0 to 1, mixed in OKLab. */
export function mixed(from: PackedColor, to: PackedColor, share: number): PackedColor {
  return mixer([from, to])(share)
}
