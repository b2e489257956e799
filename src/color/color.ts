// The colours of CSS alone: all that culori knows is three times as much, which a page of a browser need not carry.
import 'culori/css'
import { converter, formatHex, parse } from 'culori/fn'

/** A colour as `0xRRGGBB` in sRGB: small enough for a typed array, exact in text. */
export type PackedColor = number

const toRgb = converter('rgb')

/** Reads any CSS colour; undefined when the text is none. Alpha is dropped: a report is opaque. */
export function parseColor(text: string): PackedColor | undefined {
  const color = parse(text)
  if (color === undefined) return undefined
  const hex = formatHex(toRgb(color))
  return hex === undefined ? undefined : Number.parseInt(hex.slice(1), 16)
}

/** `#rrggbb`, lower case. */
export function colorText(color: PackedColor): string {
  return `#${color.toString(16).padStart(6, '0')}`
}
