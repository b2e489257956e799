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
  aqua: { wash: 0xa7e5e4, body: 0x0a8783, ink: 0x004a4d },
  straw: { wash: 0xf1f8ba, body: 0xcfc02a, ink: 0x4c4a00 },
  coral: { wash: 0xf4a19e, body: 0xd8504c, ink: 0x6b1420 },
  indigo: { wash: 0xc6c7fb, body: 0x4a55b5, ink: 0x272c6e },
  sky: { wash: 0xabd2fb, body: 0x3d86c6, ink: 0x0f3f6b },
  rose: { wash: 0xf9c8e0, body: 0xc6508c, ink: 0x741f4b },
  violet: { wash: 0xdfc3f3, body: 0x8b4aad, ink: 0x4e2266 },
  stone: { wash: 0xdcd7d1, body: 0x948f88, ink: 0x4d4943 },
}

/** Text and ground of the light theme. */
export const SOOT: PackedColor = 0x1b2340
/** Text beside other text, on paper. */
export const QUIET: PackedColor = 0x586079
export const PAPER: PackedColor = 0xfbfcfd

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
