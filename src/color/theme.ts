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
  // Text itself stays nearly white.
  const chroma = Math.min(0.16, far < 0.5 ? c * 1.25 : c * (far > 0.97 ? 0.3 : 0.95))
  return tinted({ l: lightness, chroma, hue: h ?? 0 }, 1 - far)
}

/** The ground of the dark theme is a blue-grey; what is near it takes part of its tint. */
const TINT = { chroma: 0.028, hue: 266 }

const RADIANS = Math.PI / 180

/** A colour with a share of the tint of the ground, added in OKLab. */
function tinted({ l, chroma, hue }: { l: number; chroma: number; hue: number }, share: number): PackedColor {
  const x = chroma * Math.cos(hue * RADIANS) + share * TINT.chroma * Math.cos(TINT.hue * RADIANS)
  const y = chroma * Math.sin(hue * RADIANS) + share * TINT.chroma * Math.sin(TINT.hue * RADIANS)
  return fromLch(l, Math.hypot(x, y), Math.atan2(y, x) / RADIANS)
}

/**
 * Good, fair and bad in the dark theme, chosen so that they stay as far apart as in the light one
 * under every kind of vision. Converted by rule they come too close under protanopia. A test checks
 * the distances.
 */
const CHOSEN: ReadonlyMap<PackedColor, PackedColor> = new Map([
  [PIGMENTS.aqua.wash, 0x18605e],
  [PIGMENTS.aqua.body, 0x2fb7b4],
  [PIGMENTS.straw.wash, 0x5c6000],
  [PIGMENTS.straw.body, 0xd8d35f],
  [PIGMENTS.coral.wash, 0x77151d],
  [PIGMENTS.coral.body, 0xd95a55],
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
