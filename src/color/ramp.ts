import { formatHex, interpolate } from 'culori/fn'
import { colorText, type PackedColor } from './color.js'

/**
 * `steps` colours along a ramp, mixed in OKLab (Ottosson 2020, by culori), the stops spread evenly, both ends included.
 * A gradient is looked up in such a table, so a page needs no more than 256 colours a ramp.
 */
export function rampTable(stops: readonly PackedColor[], steps: number): PackedColor[] {
  const mix = interpolate(stops.map(colorText), 'oklab')
  return Array.from({ length: steps }, (_, i) => {
    const hex = formatHex(mix(steps === 1 ? 0.5 : i / (steps - 1)))
    return Number.parseInt(hex.slice(1), 16)
  })
}

/** The colour a `share` of the way from one to another, 0 to 1, mixed in OKLab. */
export function mixed(from: PackedColor, to: PackedColor, share: number): PackedColor {
  const hex = formatHex(interpolate([colorText(from), colorText(to)], 'oklab')(share))
  return Number.parseInt(hex.slice(1), 16)
}
