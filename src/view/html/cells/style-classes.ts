import { colorText, type PackedColor } from '../../../color/color.js'
import { contrast } from '../../../color/contrast.js'
import { PAPER, SOOT } from '../../../color/pigments.js'
import { mixed } from '../../../color/ramp.js'
import { DARK_GROUND, toDark, toDarkInk } from '../../../color/theme.js'
import type { CellStyle } from '../../../style/cell-style.js'

/** Gives each distinct style of a page one class, and writes the classes at the end. */
export interface StyleClasses {
  /** The class of a style, empty if CSS has nothing to set. */
  of(look: CellStyle): string
  /** Every style with a class. */
  looks(): Iterable<CellStyle>
  /** A class for the ramp of a legend. */
  ramp(colors: readonly number[]): string
  /** A colour of a drawing, as a variable with a value in each theme. */
  paint(color: PackedColor): string
  /** The rules of the classes in the light theme, and the changes of the dark one. */
  css(): { light: string; dark: string }
}

/**
 * @param mark a part of each class name; a page that the tool has written has classes already, and
 *   those of its script must not share their names.
 */
export function createStyleClasses(mark = ''): StyleClasses {
  const classNames = new Map<string, string>()
  const light: string[] = []
  const dark: string[] = []
  const colors = new Set<PackedColor>()
  const byLook = new Map<CellStyle, string>()
  const add = (prefix: string, css: string, night: string): string => {
    let name = classNames.get(css)
    if (name === undefined) {
      name = `${prefix}${mark}${classNames.size}`
      classNames.set(css, name)
      light.push(`.${name}{${css}}`)
      if (night !== css && night !== '') dark.push(`.${name}{${night}}`)
    }
    return name
  }
  return {
    of(look) {
      let name = byLook.get(look)
      if (name === undefined) {
        const css = declarations(look, LIGHT)
        name = css === '' ? '' : add('l', css, declarations(look, DARK))
        byLook.set(look, name)
      }
      return name
    },
    looks: () => byLook.keys(),
    ramp: (stops) => add('r', rampStyle(stops), rampStyle(stops.map(toDark))),
    paint(color) {
      colors.add(color)
      return `var(--k${color.toString(16).padStart(6, '0')})`
    },
    css() {
      const names = (turn: (color: PackedColor) => PackedColor): string =>
        [...colors].map((c) => `--k${c.toString(16).padStart(6, '0')}:${colorText(turn(c))}`).join(';')
      const declarations = (turn: (color: PackedColor) => PackedColor): string[] =>
        colors.size === 0 ? [] : [`:root{${names(turn)}}`]
      return {
        light: [...light, ...declarations((c) => c)].join('\n'),
        dark: [...dark, ...declarations(toDark)].join('\n'),
      }
    },
  }
}

function rampStyle(colors: readonly PackedColor[]): string {
  // A ramp of few colours is drawn in steps.
  if (colors.length <= 16) {
    const step = 100 / colors.length
    const bands = colors.map((c, i) => `${colorText(c)} ${(i * step).toFixed(2)}% ${((i + 1) * step).toFixed(2)}%`)
    return `background:linear-gradient(90deg,${bands.join(',')})`
  }
  const stops = Array.from({ length: 17 }, (_, i) => colorText(colors[Math.round((i / 16) * (colors.length - 1))]))
  return `background:linear-gradient(90deg,${stops.join(',')})`
}

/** WCAG 2.2, success criterion 1.4.11. */
const MARK_CONTRAST = 3

/** A light-theme colour in each theme. */
interface Theme {
  color(color: PackedColor): PackedColor
  ink(ink: PackedColor, fill: PackedColor | null): PackedColor
  paper: PackedColor
}

const LIGHT: Theme = { color: (c) => c, ink: (ink) => ink, paper: PAPER }
const DARK: Theme = { color: toDark, ink: toDarkInk, paper: DARK_GROUND }

function declarations({ fill, ink, weight, pigment, bar }: CellStyle, theme: Theme): string {
  const parts: string[] = []
  if (fill !== null) {
    parts.push(`background:${colorText(theme.color(fill))}`)
    // The edge is the fill mixed by a third with the pigment's body, or with soot.
    const edge =
      pigment === null
        ? mixed(theme.color(fill), theme.color(SOOT), 0.14)
        : mixed(theme.color(fill), theme.color(pigment.body), 0.38)
    parts.push(`--edge:${colorText(edge)}`)
  }
  if (bar !== null) {
    const color = theme.color(bar.color)
    parts.push(`--bar:${colorText(color)}`)
    // A pale bar gets an outline.
    if (contrast(color, theme.paper) < MARK_CONTRAST)
      parts.push(`--bare:${colorText(mixed(color, theme.color(SOOT), 0.6))}`)
  }
  if (ink !== null) parts.push(`color:${colorText(theme.ink(ink, fill))}`)
  if (weight !== null) parts.push(`font-weight:${weight === 'bold' ? 650 : 400}`)
  return parts.join(';')
}
