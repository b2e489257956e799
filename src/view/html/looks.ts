import { colorText } from '../../color/color.js'
import { contrast } from '../../color/contrast.js'
import { PAPER, SOOT } from '../../color/pigments.js'
import { mixed } from '../../color/ramp.js'
import type { Look } from '../../look/look.js'

/** Gives each distinct look of a page one class, and writes the classes in the end. */
export interface LookClasses {
  /** The class of a look, empty where it changes nothing that style can say. */
  of(look: Look): string
  /** A class for the ground of a legend's ramp. */
  ramp(colors: readonly number[]): string
  css(): string
}

export function createLookClasses(): LookClasses {
  const known = new Map<string, string>()
  const rules: string[] = []
  const byLook = new Map<Look, string>()
  const add = (prefix: string, css: string): string => {
    let name = known.get(css)
    if (name === undefined) {
      name = `${prefix}${known.size}`
      known.set(css, name)
      rules.push(`.${name}{${css}}`)
    }
    return name
  }
  return {
    of(look) {
      let name = byLook.get(look)
      if (name === undefined) {
        const css = declarations(look)
        name = css === '' ? '' : add('l', css)
        byLook.set(look, name)
      }
      return name
    },
    ramp(colors) {
      const stops = Array.from({ length: 17 }, (_, i) => colorText(colors[Math.round((i / 16) * (colors.length - 1))]))
      // Few colours are steps, not a flow.
      if (colors.length <= 16) {
        const step = 100 / colors.length
        const bands = colors.map((c, i) => `${colorText(c)} ${(i * step).toFixed(2)}% ${((i + 1) * step).toFixed(2)}%`)
        return add('r', `background:linear-gradient(90deg,${bands.join(',')})`)
      }
      return add('r', `background:linear-gradient(90deg,${stops.join(',')})`)
    },
    css: () => rules.join('\n'),
  }
}

/** WCAG 2.2, success criterion 1.4.11. */
const MARK_CONTRAST = 3

function declarations({ fill, ink, weight, pigment, bar }: Look): string {
  const parts: string[] = []
  if (fill !== null) {
    parts.push(`background:${colorText(fill)}`)
    // The edge is the fill a third of the way to the pigment's body, or to soot.
    const edge = pigment === null ? mixed(fill, SOOT, 0.14) : mixed(fill, pigment.body, 0.38)
    parts.push(`--edge:${colorText(edge)}`)
  }
  if (bar !== null) {
    parts.push(`--bar:${colorText(bar.color)}`)
    // A pale bar gets an outline.
    if (contrast(bar.color, PAPER) < MARK_CONTRAST) parts.push(`--bare:${colorText(mixed(bar.color, SOOT, 0.6))}`)
  }
  if (ink !== null) parts.push(`color:${colorText(ink)}`)
  if (weight !== null) parts.push(`font-weight:${weight === 'bold' ? 650 : 400}`)
  return parts.join(';')
}
