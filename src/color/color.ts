/** A colour as `0xRRGGBB` in sRGB: small enough for a typed array, exact in text. */
export type PackedColor = number

/** `#rrggbb`, lower case. */
export function colorText(color: PackedColor): string {
  return `#${color.toString(16).padStart(6, '0')}`
}
