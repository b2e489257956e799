import type { PackedColor } from '../color/color.js'
import type { Diagnostics } from '../problem/diagnostics.js'
import { nearest } from '../problem/nearest.js'
import { RENAMED_ICONS, RENAMED_PIGMENTS } from '../problem/renamed.js'
import type { Style } from '../spec/rules.js'
import { type Effect, NO_EFFECT } from './cell-style.js'
import { ICON_NAMES, loadFamilies } from './icon-families.js'
import { iconNamed } from './icons.js'
import { isPigment, type Palette } from './palette.js'

/** Resolves a style to colours. `status` is the name of its status, if it has one. */
export function effectOf(style: Style, status: string | null, palette: Palette): Effect {
  const given: Effect = { ...NO_EFFECT, status }
  if (style.wash !== undefined && isPigment(palette, style.wash)) {
    const pigment = palette.pigments[style.wash]
    given.pigment = pigment
    given.fill = pigment.wash
    given.ink = pigment.ink
  }
  if (style.fill !== undefined) {
    given.fill = resolveColor(style.fill, 'wash', palette) ?? given.fill
    given.pigment = isPigment(palette, style.fill) ? palette.pigments[style.fill] : null
    given.ink = null
  }
  if (style.ink !== undefined) given.ink = resolveColor(style.ink, 'ink', palette) ?? given.ink
  given.weight = style.weight ?? null
  given.icon = style.icon ?? null
  given.flag = style.flag ?? null
  if (style.picture !== undefined) {
    const read = palette.picture(style.picture)
    given.picture = typeof read === 'string' ? read : null
  }
  given.hide = style.hide ?? null
  return given
}

/** A part of a pigment, or any CSS colour. Undefined for other text. */
export function resolveColor(text: string, part: 'wash' | 'ink' | 'body', palette: Palette): PackedColor | undefined {
  return isPigment(palette, text) ? palette.pigments[text][part] : palette.color(text)
}

/** Whether an icon exists: of the house, a step of a family, or of the report. */
export function isIcon(palette: Palette, name: string): boolean {
  loadFamilies()
  return name === 'bySign' || iconNamed(name) !== undefined || Object.hasOwn(palette.icons, name)
}

export function iconNames(palette: Palette): string[] {
  return [...Object.keys(palette.icons), ...ICON_NAMES]
}

/** Reports an unknown colour, with the nearest pigment. */
export function reportColor(name: string, { pigments }: Palette, at: Diagnostics): void {
  if (Object.hasOwn(RENAMED_PIGMENTS, name)) at.report('renamed', { old: name, now: RENAMED_PIGMENTS[name] })
  else at.report('unknown-color', { name, nearest: nearest(name, Object.keys(pigments)) })
}

/** Reports what is wrong with a style. */
export function checkStyle(style: Style, at: Diagnostics, palette: Palette): void {
  const { wash, icon } = style
  if (wash !== undefined && !isPigment(palette, wash)) {
    const candidates = Object.keys(palette.pigments)
    if (Object.hasOwn(RENAMED_PIGMENTS, wash))
      at.at('wash').report('renamed', { old: wash, now: RENAMED_PIGMENTS[wash] })
    else at.at('wash').report('unknown-pigment', { name: wash, nearest: nearest(wash, candidates), known: candidates })
  }
  for (const key of ['fill', 'ink'] as const) {
    const name = style[key]
    if (name !== undefined && resolveColor(name, 'wash', palette) === undefined) reportColor(name, palette, at.at(key))
  }
  if (icon !== undefined && !isIcon(palette, icon)) {
    const candidates = iconNames(palette)
    if (Object.hasOwn(RENAMED_ICONS, icon)) at.at('icon').report('renamed', { old: icon, now: RENAMED_ICONS[icon] })
    else at.at('icon').report('unknown-icon', { name: icon, nearest: nearest(icon, candidates), known: candidates })
  }
  if (style.picture !== undefined) {
    const read = palette.picture(style.picture)
    if (typeof read !== 'string') at.at('picture').take([read])
  }
}
