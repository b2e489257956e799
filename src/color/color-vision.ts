import {
  type Color,
  differenceCiede2000,
  filterDeficiencyDeuter,
  filterDeficiencyProt,
  filterDeficiencyTrit,
  parse,
  type Rgb,
} from 'culori'
import { colorText, type PackedColor } from './color.js'

const difference = differenceCiede2000()

/** The kinds of colour vision that are looked at. */
export const SIGHTS = ['normal', 'protanopia', 'deuteranopia', 'tritanopia'] as const
/** A kind of colour vision. */
export type Sight = (typeof SIGHTS)[number]

/** Full deficiencies, by the matrices of Machado, Oliveira and Fernandes (2009) on sRGB. */
const SEEN: Readonly<Record<Sight, (color: Color) => Color>> = {
  normal: (color) => color,
  protanopia: filterDeficiencyProt(1),
  deuteranopia: filterDeficiencyDeuter(1),
  tritanopia: filterDeficiencyTrit(1),
}

/** How different two colours look to a kind of vision, in CIEDE2000. */
export function seenDifference(sight: Sight, a: PackedColor, b: PackedColor): number {
  const see = SEEN[sight]
  const [one, other] = [a, b].map((color) => parse(colorText(color)) as Color)
  return difference(see(one), see(other))
}

/**
 * The smallest difference between two colours over all kinds of vision: CIEDE2000 under normal
 * vision, full protanopia, deuteranopia and tritanopia.
 */
export function worstDifference(a: PackedColor, b: PackedColor): number {
  return Math.min(...SIGHTS.map((sight) => seenDifference(sight, a, b)))
}

/**
 * What a kind of vision makes of red, green and blue, each from 0 to 1 and gamma-encoded: three
 * rows of a matrix, as a colour filter of SVG takes them.
 */
export function visionMatrix(sight: Sight): number[][] {
  const see = SEEN[sight]
  const seen = [
    { mode: 'rgb', r: 1, g: 0, b: 0 },
    { mode: 'rgb', r: 0, g: 1, b: 0 },
    { mode: 'rgb', r: 0, g: 0, b: 1 },
  ].map((color) => see(color as Rgb) as Rgb)
  return (['r', 'g', 'b'] as const).map((channel) => seen.map((color) => color[channel]))
}
