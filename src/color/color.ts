import { formatHex, parse, rgb } from 'culori'

/** A colour as `0xRRGGBB` in sRGB: small enough for a typed array, exact in text. */
export type PackedColor = number

/** Reads any CSS colour; undefined when the text is none. Alpha is dropped: a report is opaque. */
export function parseColor(text: string): PackedColor | undefined {
  const color = parse(text)
  if (color === undefined) return undefined
  const hex = formatHex(rgb(color))
  return hex === undefined ? undefined : Number.parseInt(hex.slice(1), 16)
}

/** `#rrggbb`, lower case. */
export function colorText(color: PackedColor): string {
  return `#${color.toString(16).padStart(6, '0')}`
}
