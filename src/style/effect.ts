import type { PackedColor } from '../color/color.js'
import { nearest } from '../problem/nearest.js'
import { type Path, type Problem, problem } from '../problem/problem.js'
import { RENAMED_ICONS, RENAMED_PIGMENTS } from '../problem/renamed.js'
import type { Style } from '../spec/rules.js'
import { type Effect, NO_EFFECT } from './cell-style.js'
import { ICON_NAMES, iconNamed } from './icons.js'
import { isPigment, type Palette } from './palette.js'

/**
 * A style resolved to colours. `status` is the name of the status that it belongs to, if it does.
 */
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

/** A pigment's part, or any CSS colour. Undefined when the text is neither. */
export function resolveColor(text: string, part: 'wash' | 'ink' | 'body', palette: Palette): PackedColor | undefined {
  return isPigment(palette, text) ? palette.pigments[text][part] : palette.color(text)
}

/** Whether a drawing is there: the house's, a step of a family, or the report's own. */
export function isIcon(palette: Palette, name: string): boolean {
  return name === 'bySign' || iconNamed(name) !== undefined || Object.hasOwn(palette.icons, name)
}

export function iconNames(palette: Palette): string[] {
  return [...Object.keys(palette.icons), ...ICON_NAMES]
}

/** A colour that is none, with the pigment that may be meant. */
export function unknownColor(name: string, { pigments }: Palette, path: Path): Problem {
  if (Object.hasOwn(RENAMED_PIGMENTS, name))
    return problem('renamed', { old: name, now: RENAMED_PIGMENTS[name] }, { path })
  return problem('unknown-color', { name, nearest: nearest(name, Object.keys(pigments)) }, { path })
}

/** What is wrong with a style. */
export function checkStyle(style: Style, at: Path, palette: Palette): Problem[] {
  const problems: Problem[] = []
  const { wash, icon } = style
  if (wash !== undefined && !isPigment(palette, wash)) {
    const known = Object.keys(palette.pigments)
    const path = [...at, 'wash']
    if (Object.hasOwn(RENAMED_PIGMENTS, wash))
      problems.push(problem('renamed', { old: wash, now: RENAMED_PIGMENTS[wash] }, { path }))
    else problems.push(problem('unknown-pigment', { name: wash, nearest: nearest(wash, known), known }, { path }))
  }
  for (const key of ['fill', 'ink'] as const) {
    const name = style[key]
    if (name !== undefined && resolveColor(name, 'wash', palette) === undefined)
      problems.push(unknownColor(name, palette, [...at, key]))
  }
  if (icon !== undefined && !isIcon(palette, icon)) {
    const known = iconNames(palette)
    const path = [...at, 'icon']
    if (Object.hasOwn(RENAMED_ICONS, icon))
      problems.push(problem('renamed', { old: icon, now: RENAMED_ICONS[icon] }, { path }))
    else problems.push(problem('unknown-icon', { name: icon, nearest: nearest(icon, known), known }, { path }))
  }
  if (style.picture !== undefined) {
    const read = palette.picture(style.picture)
    if (typeof read !== 'string') problems.push({ ...read, place: { ...read.place, path: [...at, 'picture'] } })
  }
  return problems
}
