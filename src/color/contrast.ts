import type { PackedColor } from './color.js'
import { contrast } from './spaces.js'

export { contrast }

/** WCAG 2.2, success criterion 1.4.3: the minimum contrast of text. */
export const READABLE = 4.5

/** The first of theme ink, theme paper, black and white that is readable on the fill. */
export function readableInk(fill: PackedColor, ink: PackedColor, paper: PackedColor): PackedColor {
  for (const candidate of [ink, paper, 0x000000]) if (contrast(candidate, fill) >= READABLE) return candidate
  // Black or white reaches 4.5 on every colour: where black does not, white does.
  return 0xffffff
}
