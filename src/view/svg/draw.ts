import { colorText, type PackedColor } from '../../color/color.js'
import { PAPER, PIGMENTS, SOOT } from '../../color/pigments.js'
import { mixed } from '../../color/ramp.js'
import type { CellStyle } from '../../style/cell-style.js'
import { iconNamed } from '../../style/icons.js'
import type { Bar } from '../../style/painting.js'
import { escapeText } from '../markup.js'

/** A drawn part with its size. */
export interface Piece {
  width: number
  height: number
  markup: string
}

export const HAIR: PackedColor = 0xdfe4ec
export const FONT =
  '"Source Sans 3","Segoe UI",-apple-system,BlinkMacSystemFont,Roboto,Cantarell,Ubuntu,"Noto Sans","Helvetica Neue","Liberation Sans",Arial,sans-serif'

export interface TextStyle {
  size?: number
  color?: PackedColor
  weight?: number
  anchor?: 'start' | 'middle' | 'end'
}

/** Text at its baseline. */
export function drawText(x: number, y: number, text: string, style: TextStyle = {}): string {
  if (text === '') return ''
  const { size = 13, color = SOOT, weight = 400, anchor = 'start' } = style
  const parts = [`x="${round(x)}"`, `y="${round(y)}"`, `font-size="${size}"`, `fill="${colorText(color)}"`]
  if (weight !== 400) parts.push(`font-weight="${weight}"`)
  if (anchor !== 'start') parts.push(`text-anchor="${anchor}"`)
  return `<text ${parts.join(' ')}>${escapeText(text)}</text>`
}

/** A fill: a dab with a darker lower edge, or flat. */
export function groundAt(x: number, y: number, width: number, height: number, look: CellStyle, flat: boolean): string {
  const { fill, pigment } = look
  if (fill === null) return ''
  const box = `x="${round(x)}" y="${round(y)}" width="${round(width)}" height="${round(height)}"`
  if (flat) return `<rect ${box} fill="${colorText(fill)}"/>`
  const edge = pigment === null ? mixed(fill, SOOT, 0.14) : mixed(fill, pigment.body, 0.38)
  return `<rect ${box} rx="5" fill="${colorText(edge)}"/><rect x="${round(x)}" y="${round(y)}" width="${round(width)}" height="${round(height - 2)}" rx="5" fill="${colorText(fill)}"/>`
}

/** An icon; one of the report is an image. */
export function iconAt(
  x: number,
  y: number,
  size: number,
  name: string,
  color: PackedColor,
  icons: Readonly<Record<string, string>>,
): string {
  if (Object.hasOwn(icons, name)) return imageAt(x, y, size, size, icons[name])
  const icon = iconNamed(name)
  if (icon === undefined) return ''
  const line =
    icon.line === undefined
      ? ''
      : `<path d="${icon.line}" fill="none" stroke="${colorText(color)}" stroke-width="2.3" stroke-linecap="round" stroke-linejoin="round"/>`
  const full = icon.fill === undefined ? '' : `<path d="${icon.fill}" fill="${colorText(color)}"/>`
  return `<g transform="translate(${round(x)} ${round(y)}) scale(${round(size / 16)})">${line}${full}</g>`
}

export function imageAt(x: number, y: number, width: number, height: number, address: string): string {
  return `<image x="${round(x)}" y="${round(y)}" width="${width}" height="${height}" href="${escapeText(address)}"/>`
}

export function lineAt(x1: number, y1: number, x2: number, y2: number, color: PackedColor, width = 1): string {
  return `<path d="M${round(x1)} ${round(y1)}L${round(x2)} ${round(y2)}" fill="none" stroke="${colorText(color)}" stroke-width="${width}"/>`
}

/** The text colour of a style, soot without one. */
export function inkOf({ ink }: CellStyle): PackedColor {
  return ink ?? SOOT
}

export function barAt(
  x: number,
  y: number,
  width: number,
  bar: Pick<Bar, 'from' | 'to' | 'beyond'>,
  dot: 'from' | 'to' | null,
  look: CellStyle,
): string {
  const color = look.bar?.color ?? PIGMENTS.stone.body
  return `${drawnBar(x, y, width, bar, dot, color)}${beyondAt(x, y, width, bar, color)}`
}

/** A bar beyond its scale has an arrow at that end. */
function beyondAt(x: number, y: number, width: number, { beyond }: Pick<Bar, 'beyond'>, color: PackedColor): string {
  if (beyond === undefined) return ''
  const [at, by] = beyond === 'high' ? [x + width + 1, 5] : [x - 1, -5]
  return `<path d="M${round(at)} ${round(y - 5)}L${round(at + by)} ${round(y)}L${round(at)} ${round(y + 5)}z" fill="${colorText(mixed(color, SOOT, 0.3))}"/>`
}

function drawnBar(
  x: number,
  y: number,
  width: number,
  bar: { from: number; to: number },
  dot: 'from' | 'to' | null,
  color: PackedColor,
): string {
  if (dot !== null)
    return `${lineAt(x, y, x + width, y, HAIR)}<circle cx="${round(x + width * bar[dot])}" cy="${round(y)}" r="4.6" fill="${colorText(color)}" stroke="${colorText(SOOT)}"/>`
  const wide = Math.max(1, (bar.to - bar.from) * width)
  return `<rect x="${round(x + bar.from * width)}" y="${round(y - 6)}" width="${round(wide)}" height="12" rx="2" fill="${colorText(color)}" stroke="${colorText(mixed(color, SOOT, 0.3))}" stroke-width=".6"/>`
}

/** Parts below each other. */
export function stacked(pieces: readonly Piece[], gap: number): Piece {
  let y = 0
  let markup = ''
  for (const piece of pieces) {
    if (piece.height === 0) continue
    markup += `<g transform="translate(0 ${round(y)})">${piece.markup}</g>`
    y += piece.height + gap
  }
  return { width: Math.max(0, ...pieces.map(({ width }) => width)), height: Math.max(0, y - gap), markup }
}

export function round(x: number): number {
  return Math.round(x * 100) / 100
}

/** A drawing as a file, on paper. */
export function svgFile(title: string, piece: Piece): string {
  // Attributes for assistive technology inside a page are not part of SVG 1.1; the title describes
  // the whole.
  const inner = piece.markup.replace(/ (aria-[a-z]+|role|data-mark)="[^"]*"/g, '')
  const [width, height] = [Math.ceil(piece.width + 40), Math.ceil(piece.height + 40)]
  return `<?xml version="1.0" encoding="UTF-8"?>
<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}" font-family="${escapeText(FONT)}" style="font-variant-numeric:tabular-nums lining-nums"><title>${escapeText(title)}</title><rect width="${width}" height="${height}" fill="${colorText(PAPER)}"/><g transform="translate(20 20)">${inner}</g></svg>
`
}
