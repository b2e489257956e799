/** A colour as `0xRRGGBB` in sRGB: fits a typed array, and is exact in text. */
export type PackedColor = number

/** `#rrggbb`, lower case. */
export function colorText(color: PackedColor): string {
  return `#${color.toString(16).padStart(6, '0')}`
}
