import { type PackedColor, parseColor } from '../color/color.js'
import { isPigment, PIGMENTS } from '../color/pigments.js'
import { nearest } from '../problem/nearest.js'
import { type Path, type Problem, problem } from '../problem/problem.js'
import { ICON_NAMES } from './icons.js'
import { type Given, PLAIN_GIVEN } from './look.js'
import type { Status, Style } from './style.js'

/** A style resolved to colours. `status` is the name of the status that it belongs to, if it does. */
export function givenOf(style: Style, status: string | null): Given {
  const given: Given = { ...PLAIN_GIVEN, status }
  const pigment = style.wash === undefined ? undefined : PIGMENTS[style.wash]
  if (style.wash !== undefined && pigment !== undefined) {
    given.pigment = style.wash
    given.fill = pigment.wash
    given.ink = pigment.ink
  }
  if (style.fill !== undefined) {
    given.fill = resolveColor(style.fill, 'wash') ?? given.fill
    given.pigment = isPigment(style.fill) ? style.fill : null
    given.ink = null
  }
  if (style.ink !== undefined) given.ink = resolveColor(style.ink, 'ink') ?? given.ink
  given.weight = style.weight ?? null
  given.icon = style.icon ?? null
  given.hide = style.hide ?? null
  return given
}

/** A pigment's part, or any CSS colour. Undefined when the text is neither. */
export function resolveColor(text: string, part: 'wash' | 'ink' | 'body'): PackedColor | undefined {
  return isPigment(text) ? PIGMENTS[text][part] : parseColor(text)
}

/** What is wrong with a style. */
export function checkStyle(style: Style, at: Path): Problem[] {
  const problems: Problem[] = []
  const pigments = Object.keys(PIGMENTS)
  const { wash, icon } = style
  if (wash !== undefined && !isPigment(wash)) {
    const params = { name: wash, nearest: nearest(wash, pigments), known: pigments }
    problems.push(problem('unknown-pigment', params, { path: [...at, 'wash'] }))
  }
  for (const key of ['fill', 'ink'] as const) {
    const name = style[key]
    if (name !== undefined && resolveColor(name, 'wash') === undefined)
      problems.push(problem('unknown-color', { name }, { path: [...at, key] }))
  }
  if (icon !== undefined && !ICON_NAMES.includes(icon)) {
    const params = { name: icon, nearest: nearest(icon, ICON_NAMES), known: ICON_NAMES }
    problems.push(problem('unknown-icon', params, { path: [...at, 'icon'] }))
  }
  return problems
}

/** The label of a status for readers. */
export function statusLabel(statuses: Readonly<Record<string, Status>>, name: string): string {
  return Object.hasOwn(statuses, name) ? (statuses[name].label ?? name) : name
}
