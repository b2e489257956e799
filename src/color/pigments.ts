import type { PackedColor } from './color.js'
import { contrast, fromLch, lchOf } from './spaces.js'

/** A pigment: a wash for fills, a body for bars, marks and edges, an ink for text on the wash. */
export interface Pigment {
  wash: PackedColor
  body: PackedColor
  ink: PackedColor
}

/**
 * The house pigments, designed and measured for this project: see docs/architecture.md. A test
 * checks their contrast and their distances under colour-vision deficiency.
 */
export const PIGMENTS: Readonly<Record<string, Pigment>> = {
  aqua: { wash: 0xc0f0de, body: 0x008065, ink: 0x00483a },
  straw: { wash: 0xffefa5, body: 0xd3b23d, ink: 0x5a480c },
  coral: { wash: 0xf0ad9a, body: 0xd4622d, ink: 0x6d2a14 },
  indigo: { wash: 0xbfdcf2, body: 0x1b5379, ink: 0x0f3b5a },
  sky: { wash: 0xd9e3f5, body: 0x6d88b8, ink: 0x2f4773 },
  rose: { wash: 0xf9d3da, body: 0xcf6f88, ink: 0x74293f },
  violet: { wash: 0xdcc3e6, body: 0x7b428c, ink: 0x4f235d },
  stone: { wash: 0xebe7df, body: 0x9d978a, ink: 0x57524a },
}

/** Text and ground of the light theme. */
export const SOOT: PackedColor = 0x212730
export const PAPER: PackedColor = 0xfdfaf4

/** The same colour under its name in palettes. */
export const HOUSE_PIGMENTS: Readonly<Record<string, Pigment>> = PIGMENTS

/**
 * A pigment from one colour, its body. The wash has the lightness of the house washes and the same
 * hue; the ink is the lightest dark colour of that hue that is readable on the wash.
 */
export function pigmentOf(body: PackedColor): Pigment {
  const { c = 0, h } = lchOf(body)
  const color = (l: number, chroma: number): PackedColor => fromLch(l, chroma, h)
  const wash = color(0.9, Math.min(c, 0.06))
  for (let l = 0.45; l > 0; l -= 0.01) {
    const ink = color(l, Math.min(c, 0.09))
    if (contrast(ink, wash) >= 5.5) return { wash, body, ink }
  }
  return { wash, body, ink: SOOT }
}
