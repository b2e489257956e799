// The colours of CSS alone: all that culori knows is three times as much.
import 'culori/css'
import { converter, formatHex, parse } from 'culori/fn'
import type { PackedColor } from './color.js'

const toRgb = converter('rgb')

/** Reads any CSS colour; undefined when the text is none. Alpha is dropped: a report is opaque. */
export function parseColor(text: string): PackedColor | undefined {
  const color = parse(text)
  if (color === undefined) return undefined
  const hex = formatHex(toRgb(color))
  return hex === undefined ? undefined : Number.parseInt(hex.slice(1), 16)
}
