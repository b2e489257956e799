// Only the CSS colours: all modes of culori would be three times as large.
import 'culori/css'
import { converter, formatHex, parse } from 'culori/fn'
import type { PackedColor } from './color.js'

const toRgb = converter('rgb')

/** Reads any CSS colour; undefined for other text. Alpha is dropped, as reports are opaque. */
export function parseColor(text: string): PackedColor | undefined {
  const color = parse(text)
  if (color === undefined) return undefined
  const hex = formatHex(toRgb(color))
  return hex === undefined ? undefined : Number.parseInt(hex.slice(1), 16)
}
