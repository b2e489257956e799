import type { PackedColor } from './color.js'
import { contrast, READABLE, readableInk } from './contrast.js'
import { PAPER, PIGMENTS, SOOT } from './pigments.js'
import { fromLch, lchOf } from './spaces.js'

/** Lightness (OKLab) of the dark theme's ground and text. */
const DARK_LIGHTNESS = 0.2
const TEXT_LIGHTNESS = 0.93

/**
 * The dark-theme counterpart of a light-theme colour: the same distance from the ground and the
 * same hue, with the order of lightness reversed. Washes get more chroma, as pale ones would
 * vanish. All colours go through the same function, so a ramp through paper passes through the dark
 * ground.
 */
export function toDark(color: PackedColor): PackedColor {
  const ink = CHOSEN.get(color)
  if (ink !== undefined) return ink
  const { l, c = 0, h } = lchOf(color)
  const paper = lchOf(PAPER).l
  const soot = lchOf(SOOT).l
  const far = Math.min(1.06, Math.max(0, (paper - l) / (paper - soot)))
  const lightness = DARK_LIGHTNESS + (TEXT_LIGHTNESS - DARK_LIGHTNESS) * far ** 0.8
  const chroma = Math.min(0.16, far < 0.5 ? c * 1.25 : c * 0.95)
  return fromLch(lightness, chroma, h)
}

/**
 * Good, fair and bad in the dark theme, chosen so that they stay as far apart as in the light one
 * under every kind of vision. Converted by rule they come too close under protanopia. A test checks
 * the distances.
 */
const CHOSEN: ReadonlyMap<PackedColor, PackedColor> = new Map([
  [PIGMENTS.aqua.wash, 0x2c5546],
  [PIGMENTS.aqua.body, 0x2aa584],
  [PIGMENTS.straw.wash, 0x6b5a16],
  [PIGMENTS.straw.body, 0xe3c04f],
  [PIGMENTS.coral.wash, 0x5a1f10],
  [PIGMENTS.coral.body, 0xcf5c22],
])

/**
 * A colour of the same hue that contrasts equally with black and white, for a terminal with an
 * unknown ground. Its relative luminance is 0.18, which has a contrast of 4.6 with both (WCAG 2.2).
 */
export function toMidtone(color: PackedColor): PackedColor {
  const { c = 0, h } = lchOf(color)
  let [low, high] = [0, 1]
  let ink = color
  for (let step = 0; step < 16; step++) {
    const l = (low + high) / 2
    ink = fromLch(l, Math.min(c, 0.15), h)
    if (contrast(ink, 0) > contrast(ink, 0xffffff)) high = l
    else low = l
  }
  return ink
}

/** The dark theme's ground and text. */
export const DARK_GROUND: PackedColor = toDark(PAPER)
export const DARK_TEXT: PackedColor = toDark(SOOT)

/** An ink for the dark theme: converted with its fill, and replaced if it is not readable there. */
export function toDarkInk(ink: PackedColor, fill: PackedColor | null): PackedColor {
  const ground = fill === null ? DARK_GROUND : toDark(fill)
  const turned = toDark(ink)
  return contrast(turned, ground) >= READABLE ? turned : readableInk(ground, DARK_TEXT, DARK_GROUND)
}
