import { type Path, ProblemError, problem } from '../problem/problem.js'
import type { Draft } from './draft.js'
import type { Edit } from './edits.js'
import { isPlainName } from './naming/rename-in-text.js'
import { nothingAt } from './nothing.js'
import { isPlainMap, isSame, valueAt } from './text/plain.js'

const LIMITS = ['atLeast', 'above', 'atMost', 'below'] as const

/** A typed number becomes a parameter, a style a status; each is used wherever the same stood. */
export function extractParts(draft: Draft, { path, name }: Extract<Edit, { do: 'extract' }>): Edit[] {
  const value = valueAt(draft.spec, path)
  if (value === undefined) throw new ProblemError([nothingAt(path)])
  if (isPlainMap(value)) return styleParts(draft, path, name, value)
  if (!isNumber(value)) throw new ProblemError([problem('edit-no-number', {}, { path })])
  return numberParts(draft, path, name, value)
}

/** A number, or a share written as one: 15%. */
function isNumber(value: unknown): value is number | string {
  return typeof value === 'number' || (typeof value === 'string' && /^-?\d+(?:\.\d+)?\s?%$/.test(value))
}

function numberParts({ spec }: Draft, path: Path, name: string, value: number | string): Edit[] {
  const known = ['measures', 'parameters'].flatMap((section) => Object.keys((valueAt(spec, [section]) ?? {}) as object))
  if (known.includes(name)) throw new ProblemError([problem('two-of-a-name', { name, what: 'parameters' })])
  if (!isPlainName(name)) throw new ProblemError([problem('bad-name', { name })])
  const painted = path[0] === 'rules' ? valueAt(spec, [...path.slice(0, 2), 'paint']) : undefined
  const [measure] = [painted].flat()
  const format = typeof measure === 'string' ? valueAt(spec, ['measures', measure, 'format']) : undefined
  const places = painted === undefined ? [path] : limitsOf(spec, painted, value)
  if (!places.some((place) => isSame(place, path))) places.unshift(path)
  const parameter = typeof format === 'string' && typeof value === 'number' ? { value, format } : value
  return [
    { do: 'set', path: ['parameters', name], value: parameter },
    ...places.map((place): Edit => ({ do: 'set', path: place, value: name })),
  ]
}

/** The limits of rules that paint the same, with the same number. */
function limitsOf(spec: Draft['spec'], painted: unknown, value: number | string): Path[] {
  const rules = Array.isArray(spec.rules) ? spec.rules : []
  return rules.flatMap((rule, i) => {
    const bands = isPlainMap(rule) && isSame(rule.paint, painted) && Array.isArray(rule.bands) ? rule.bands : []
    return bands.flatMap((band, k) =>
      LIMITS.filter((limit) => isPlainMap(band) && band[limit] === value).map(
        (limit): Path => ['rules', i, 'bands', k, limit],
      ),
    )
  })
}

function styleParts({ spec }: Draft, path: Path, name: string, style: Record<string, unknown>): Edit[] {
  const key = path[path.length - 1]
  const isOutcome = key === 'missing' || key === 'otherwise'
  if (key !== 'style' && !isOutcome) throw new ProblemError([problem('edit-no-number', {}, { path })])
  if (Object.hasOwn((valueAt(spec, ['statuses']) ?? {}) as object, name))
    throw new ProblemError([problem('two-of-a-name', { name, what: 'statuses' })])
  return [
    { do: 'set', path: ['statuses', name], value: style },
    ...stylesOf(spec, style).flatMap((place): Edit[] => {
      const last = place[place.length - 1]
      if (last !== 'style') return [{ do: 'set', path: place, value: name }]
      const holder = place.slice(0, -1)
      const { style: _, ...rest } = valueAt(spec, holder) as Record<string, unknown>
      return [{ do: 'set', path: holder, value: { ...rest, status: name } }]
    }),
  ]
}

/** Where rules have the same style, without a status of their own. */
function stylesOf(spec: Draft['spec'], style: unknown): Path[] {
  const found: Path[] = []
  const walk = (value: unknown, path: Path): void => {
    if (Array.isArray(value)) for (const [i, item] of value.entries()) walk(item, [...path, i])
    if (!isPlainMap(value)) return
    for (const [key, item] of Object.entries(value)) {
      const isStyle = (key === 'style' && !('status' in value)) || key === 'missing' || key === 'otherwise'
      if (isStyle && isSame(item, style)) found.push([...path, key])
      else walk(item, [...path, key])
    }
  }
  walk(spec.rules, ['rules'])
  return found
}
