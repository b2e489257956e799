import { colorText, type PackedColor } from '../color/color.js'
import { toDark, toDarkInk } from '../color/theme.js'
import { checkShape } from '../shape/shape.js'

/**
 * A colour of a painted report as CSS that follows the theme of its place, as the report does:
 * `light-dark(#a7e5e3, #18605e)`.
 *
 * @param color of the light theme: 0xrrggbb, or a text `#rrggbb`.
 * @param fill the fill behind it, for the colour of a text, which stays readable; left out for any
 *   other colour, null for a text on the ground of the page.
 * @throws ProblemError for what is no such colour.
 */
export function themeColor(color: PackedColor | string, fill?: PackedColor | string | null): string {
  const own = packed(color, 'color')
  const behind = fill === undefined || fill === null ? null : packed(fill, 'fill')
  const dark = fill === undefined ? toDark(own) : toDarkInk(own, behind)
  return `light-dark(${colorText(own)}, ${colorText(dark)})`
}

function packed(color: PackedColor | string, name: string): PackedColor {
  const number =
    typeof color === 'string' && /^#[0-9a-f]{6}$/i.test(color) ? Number.parseInt(color.slice(1), 16) : color
  checkShape({ is: 'whole', min: 0, max: 0xffffff }, number, [name])
  return number as PackedColor
}
