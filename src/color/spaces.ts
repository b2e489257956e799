import {
  type Color,
  converter,
  formatHex,
  interpolate,
  modeLrgb,
  modeOklab,
  modeOklch,
  modeRgb,
  type Oklch,
  toGamut,
  useMode,
  wcagContrast,
} from 'culori/fn'
import { colorText, type PackedColor } from './color.js'

// The spaces that colours are mixed, turned and compared in. All that culori knows is some times as much, which a page need not carry.
for (const mode of [modeRgb, modeLrgb, modeOklab, modeOklch]) useMode(mode)

const toOklch = converter('oklch')
const gamut = toGamut('rgb', 'oklch')

function packed(color: Color): PackedColor {
  return Number.parseInt(formatHex(color).slice(1), 16)
}

/** Lightness, chroma and hue in OKLCh (Ottosson 2020, by culori); a gray has no hue. */
export function lchOf(color: PackedColor): Oklch {
  return toOklch({ mode: 'rgb', r: (color >> 16) / 255, g: ((color >> 8) & 255) / 255, b: (color & 255) / 255 })
}

/** The colour of a lightness, chroma and hue in OKLCh; with less chroma where sRGB has none so strong. */
export function fromLch(l: number, c: number, h: number | undefined): PackedColor {
  return packed(gamut({ mode: 'oklch', l, c, ...(h !== undefined && { h }) }))
}

/** Mixes along stops, spread evenly from 0 to 1, in OKLab. */
export function mixer(stops: readonly PackedColor[]): (share: number) => PackedColor {
  const mix = interpolate(stops.map(colorText), 'oklab')
  return (share) => packed(mix(share))
}

/** The WCAG 2.2 contrast ratio of two colours, 1 to 21. */
export function contrast(a: PackedColor, b: PackedColor): number {
  return wcagContrast(colorText(a), colorText(b))
}
