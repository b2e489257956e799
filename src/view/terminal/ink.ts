import type { PackedColor } from '../../color/color.js'
import { toMidtone } from '../../color/theme.js'
import type { CellStyle } from '../../style/cell-style.js'

/** The bits of colour of a terminal: 1 for none, 4 for 16 colours, 8 for 256, 24 for all. */
export type ColorDepth = 1 | 4 | 8 | 24

/**
 * Colours text for a terminal; returns it unchanged without colours. Its input must be safe
 * already.
 */
export interface Ink {
  /** Whether there are colours. */
  colored: boolean
  /** A painted cell: fill, text colour, weight. */
  cell(text: string, look: CellStyle): string
  strong(text: string): string
  quiet(text: string): string
}

const ESCAPE = '\u001b['
const RESET = `${ESCAPE}0m`

export function createInk(depth: ColorDepth): Ink {
  if (depth === 1) return { colored: false, cell: (text) => text, strong: (text) => text, quiet: (text) => text }
  const cache = new Map<PackedColor, PackedColor>()
  const kept = (color: PackedColor): PackedColor => {
    const midtone = cache.get(color) ?? toMidtone(color)
    cache.set(color, midtone)
    return midtone
  }
  return {
    colored: true,
    cell(text, { fill, ink, weight }) {
      const codes: string[] = []
      if (weight === 'bold') codes.push('1')
      if (fill !== null) codes.push(...colorCodes(fill, 48, depth))
      // Without a fill the terminal's ground is unknown: the text must be readable on dark and
      // light ones.
      if (ink !== null) codes.push(...colorCodes(fill === null ? kept(ink) : ink, 38, depth))
      return codes.length === 0 ? text : `${ESCAPE}${codes.join(';')}m${text}${RESET}`
    },
    strong: (text) => `${ESCAPE}1m${text}${RESET}`,
    quiet: (text) => `${ESCAPE}2m${text}${RESET}`,
  }
}

/**
 * The codes of ISO 8613-6: an RGB colour, the nearest of the 6 × 6 × 6 cube, or the nearest of the
 * eight with their bright variants.
 */
function colorCodes(color: PackedColor, first: 38 | 48, depth: ColorDepth): string[] {
  const parts = [(color >> 16) & 255, (color >> 8) & 255, color & 255]
  if (depth === 24) return [String(first), '2', ...parts.map(String)]
  if (depth === 8) {
    const [r, g, b] = parts.map((part) => Math.round((part / 255) * 5))
    return [String(first), '5', String(16 + 36 * r + 6 * g + b)]
  }
  const most = Math.max(...parts)
  const bits = parts.map((part) => (part > most * 0.75 && most > 60 ? 1 : 0))
  const code = bits[0] + 2 * bits[1] + 4 * bits[2]
  return [String((first === 48 ? 40 : 30) + code + (most > 170 ? 60 : 0))]
}

/** The context of drawing. */
export interface Drawing {
  width: number
  ink: Ink
  ascii: boolean
}
