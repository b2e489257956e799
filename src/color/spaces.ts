import {
  convertLabToLch,
  convertLchToLab,
  convertOklabToRgb,
  convertRgbToLrgb,
  convertRgbToOklab,
  interpolatorLinear,
  type Oklch,
  type Rgb,
} from 'culori/fn'
import type { PackedColor } from './color.js'

// Only the conversions of culori: its parser would add to the size of a page, and pages parse no
// colours.

function rgbOf(color: PackedColor): Rgb {
  return { mode: 'rgb', r: (color >> 16) / 255, g: ((color >> 8) & 255) / 255, b: (color & 255) / 255 }
}

function packed({ r, g, b }: Rgb): PackedColor {
  const byte = (x: number): number => Math.round(Math.max(0, Math.min(1, x)) * 255)
  return (byte(r) << 16) | (byte(g) << 8) | byte(b)
}

/** Lightness, chroma and hue in OKLCh (Ottosson 2020, by culori); a gray has no hue. */
export function lchOf(color: PackedColor): Oklch {
  return { ...convertLabToLch(convertRgbToOklab(rgbOf(color))), mode: 'oklch' }
}

/** Tolerance for rounding: a channel may lie this far outside sRGB. */
const ROUNDING = 1e-6

/**
 * The colour of a lightness, chroma and hue in OKLCh. Outside sRGB the chroma is reduced to the
 * largest one possible; lightness and hue are kept, as contrast and meaning depend on them.
 */
export function fromLch(l: number, c: number, h = 0): PackedColor {
  const at = (chroma: number): Rgb => convertOklabToRgb(convertLchToLab({ l, c: chroma, h }))
  const fits = ({ r, g, b }: Rgb): boolean => [r, g, b].every((x) => x >= -ROUNDING && x <= 1 + ROUNDING)
  if (fits(at(c))) return packed(at(c))
  let [low, high] = [0, c]
  // Enough steps to get closer than half a step of a byte.
  for (let step = 0; step < 20; step++) {
    const middle = (low + high) / 2
    if (fits(at(middle))) low = middle
    else high = middle
  }
  return packed(at(low))
}

/** Mixes along stops, spread evenly from 0 to 1, in OKLab. */
export function mixer(stops: readonly PackedColor[]): (share: number) => PackedColor {
  const labs = stops.map((stop) => convertRgbToOklab(rgbOf(stop)))
  const [l, a, b] = (['l', 'a', 'b'] as const).map((channel) => interpolatorLinear(labs.map((lab) => lab[channel])))
  return (share) => packed(convertOklabToRgb({ l: l(share), a: a(share), b: b(share) }))
}

/** Relative luminance, WCAG 2.2: of linear light, as eyes weigh it. */
function luminance(color: PackedColor): number {
  const { r, g, b } = convertRgbToLrgb(rgbOf(color))
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}

/** The WCAG 2.2 contrast ratio of two colours, 1 to 21. */
export function contrast(one: PackedColor, other: PackedColor): number {
  const [a, b] = [luminance(one), luminance(other)]
  return (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05)
}
