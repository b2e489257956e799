import { wcagContrast } from 'culori/fn'
import { colorText, type PackedColor } from './color.js'

/** WCAG 2.2, success criterion 1.4.3: the least contrast of text. */
export const READABLE = 4.5

/** The WCAG 2.2 contrast ratio of two colours, 1 to 21. */
export function contrast(a: PackedColor, b: PackedColor): number {
  return wcagContrast(colorText(a), colorText(b))
}

/** The first of theme ink, theme paper, black and white that can be read on the fill. */
export function readableInk(fill: PackedColor, ink: PackedColor, paper: PackedColor): PackedColor {
  for (const candidate of [ink, paper, 0x000000]) if (contrast(candidate, fill) >= READABLE) return candidate
  // Black or white reaches 4.5 on every colour, so what black does not read on, white does.
  return 0xffffff
}
