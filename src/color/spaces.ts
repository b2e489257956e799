import {
  converter,
  convertLabToLch,
  convertLchToLab,
  convertLrgbToRgb,
  convertOklabToRgb,
  convertRgbToLrgb,
  convertRgbToOklab,
  differenceHueChroma,
  fixupAlpha,
  fixupHueShorter,
  getMode,
  interpolatorLinear,
  type Oklch,
  type Rgb,
  serializeHex,
  toGamut,
  useMode,
  wcagContrast,
} from 'culori/fn'
import type { PackedColor } from './color.js'

/**
 * The spaces that colours are turned and compared in, as culori converts to and from them, without what reads them from text: a page reads
 * none. Where culori knows a space already it is left as it is.
 */
const channels = (...names: string[]) => ({
  channels: [...names, 'alpha'],
  interpolate: Object.fromEntries(
    [...names, 'alpha'].map((name) => [
      name,
      name === 'h'
        ? { use: interpolatorLinear, fixup: fixupHueShorter }
        : name === 'alpha'
          ? { use: interpolatorLinear, fixup: fixupAlpha }
          : interpolatorLinear,
    ]),
  ),
})
const SPACES = [
  { mode: 'rgb', ...channels('r', 'g', 'b'), gamut: true, white: { r: 1, g: 1, b: 1 }, black: { r: 0, g: 0, b: 0 } },
  {
    mode: 'lrgb',
    ...channels('r', 'g', 'b'),
    toMode: { rgb: convertLrgbToRgb },
    fromMode: { rgb: convertRgbToLrgb },
  },
  {
    mode: 'oklch',
    ...channels('l', 'c', 'h'),
    ranges: { l: [0, 1], c: [0, 0.4], h: [0, 360] },
    difference: { h: differenceHueChroma },
    toMode: { rgb: (color: Oklch) => convertOklabToRgb(convertLchToLab(color)) },
    fromMode: { rgb: (color: Rgb) => ({ ...convertLabToLch(convertRgbToOklab(color)), mode: 'oklch' }) },
  },
] as unknown as Parameters<typeof useMode>[0][]
for (const space of SPACES) if (getMode(space.mode as 'rgb') === undefined) useMode(space)

const toOklch = converter('oklch')
const gamut = toGamut('rgb', 'oklch')

function rgbOf(color: PackedColor): Rgb {
  return { mode: 'rgb', r: (color >> 16) / 255, g: ((color >> 8) & 255) / 255, b: (color & 255) / 255 }
}

function packed(color: Rgb): PackedColor {
  return Number.parseInt(serializeHex(color).slice(1), 16)
}

/** Lightness, chroma and hue in OKLCh (Ottosson 2020, by culori); a gray has no hue. */
export function lchOf(color: PackedColor): Oklch {
  return toOklch(rgbOf(color))
}

/** The colour of a lightness, chroma and hue in OKLCh; with less chroma where sRGB has none so strong. */
export function fromLch(l: number, c: number, h: number | undefined): PackedColor {
  return packed(gamut({ mode: 'oklch', l, c, ...(h !== undefined && { h }) }) as Rgb)
}

/** Mixes along stops, spread evenly from 0 to 1, in OKLab. */
export function mixer(stops: readonly PackedColor[]): (share: number) => PackedColor {
  const labs = stops.map((stop) => convertRgbToOklab(rgbOf(stop)))
  const [l, a, b] = (['l', 'a', 'b'] as const).map((channel) => interpolatorLinear(labs.map((lab) => lab[channel])))
  return (share) => packed(convertOklabToRgb({ l: l(share), a: a(share), b: b(share) }))
}

/** The WCAG 2.2 contrast ratio of two colours, 1 to 21. */
export function contrast(one: PackedColor, other: PackedColor): number {
  return wcagContrast(rgbOf(one), rgbOf(other))
}
