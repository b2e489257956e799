import { NONE, PERCENT, type Unit } from '../../expression/unit.js'
import { type NumberFormat, numberPrinter } from '../../format/format.js'
import { parseFormat } from '../../format/parse.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import { problem } from '../../problem/input.js'
import { nearest } from '../../problem/nearest.js'
import type { Place } from '../../problem/place.js'
import type { Problem } from '../../problem/problem.js'
import type { ParameterSpec } from '../../spec/sources.js'
import type { Parameter } from './vocabulary.js'

/** A parameter with its label, format and bounds. */
export interface NamedParameter extends Parameter {
  name: string
  label: string
  format: NumberFormat
  from?: number
  to?: number
  step?: number
}

/**
 * Reads the parameters of a report or of plain options: a number, a percent as text, or a map with
 * bounds.
 */
export function readParameters(
  specs: Readonly<Record<string, ParameterSpec>>,
  at: Diagnostics,
): Map<string, NamedParameter> {
  const parameters = new Map<string, NamedParameter>()
  for (const [name, spec] of Object.entries(specs)) {
    const path = at.at(name)
    const whole = typeof spec === 'object' ? spec : { value: spec }
    const value = readAmount(whole.value)
    if (value === undefined) {
      const here = typeof spec === 'object' ? path.at('value') : path
      here.report('parameter-value', { name, found: String(whole.value) })
      continue
    }
    let format: NumberFormat = { kind: value.percent ? 'percent' : 'number', signed: false, compact: false }
    let unit: Unit = value.percent ? PERCENT : NONE
    if (whole.format !== undefined) {
      const read = parseFormat(whole.format)
      if ('code' in read) {
        path.at('format').take([read])
        continue
      }
      format = read
      if (read.kind === 'money') unit = { is: 'money', currency: read.currency ?? '' }
      if (read.kind === 'percent') unit = PERCENT
    }
    const parameter: NamedParameter = { name, value: value.amount, unit, label: whole.label ?? name, format }
    for (const bound of ['from', 'to'] as const) {
      const written = whole[bound]
      if (written === undefined) continue
      const amount = readAmount(written)
      if (amount === undefined) path.at(bound).report('parameter-value', { name, found: String(written) })
      else parameter[bound] = amount.amount
    }
    if (whole.step !== undefined) parameter.step = whole.step
    parameters.set(name, parameter)
  }
  return parameters
}

/** A number, or a percent as text; undefined for anything else. */
function readAmount(written: number | string): { amount: number; percent: boolean } | undefined {
  if (typeof written === 'number') return Number.isFinite(written) ? { amount: written, percent: false } : undefined
  const match = /^([+-]?(?:\d+(?:\.\d+)?|\.\d+)(?:e[+-]?\d+)?)\s*(%?)$/i.exec(written.trim())
  if (match === null) return undefined
  const percent = match[2] === '%'
  return { amount: percent ? Number(match[1]) / 100 : Number(match[1]), percent }
}

/**
 * Sets a parameter from outside: a plain number (0.15 for 15 %), or a text: `70000`, and `15%` for
 * a percent. Returns the parameter with its new value, or a problem; a value outside the bounds is
 * accepted, with a message in `notes`.
 */
export function setParameter(
  parameter: NamedParameter,
  written: number | string,
  locale: string,
  notes: Problem[],
): NamedParameter | Problem {
  const { name, unit, from, to } = parameter
  const read = typeof written === 'number' || typeof written === 'string' ? readAmount(written) : undefined
  if (read === undefined) return problem('parameter-value', { name, found: String(written) })
  const isPercent = unit.is === 'percent'
  const isText = typeof written === 'string'
  if (isText && isPercent && !read.percent && read.amount !== 0)
    return problem('parameter-percent', {
      name,
      found: written,
      percent: `${Number((read.amount * 100).toPrecision(12))}%`,
    })
  if (!isPercent && read.percent) return problem('parameter-not-percent', { name, found: String(written) })
  const print = numberPrinter(parameter.format, locale)
  if (read.amount < (from ?? read.amount) || read.amount > (to ?? read.amount)) {
    const bounds = { from: from === undefined ? '' : print(from), to: to === undefined ? '' : print(to) }
    notes.push(problem('parameter-bounds', { name, value: print(read.amount), ...bounds }))
  }
  return { ...parameter, value: read.amount }
}

/**
 * The parameters with other values by name; unknown names and invalid values are reported at their
 * path.
 */
export function setParameters(
  parameters: ReadonlyMap<string, NamedParameter>,
  changed: Readonly<Record<string, number | string>>,
  locale: string,
  diagnostics: Diagnostics,
  notes: Problem[] = [],
): Map<string, NamedParameter> {
  const candidates = [...parameters.keys()]
  const moved = new Map(parameters)
  for (const [name, written] of Object.entries(changed)) {
    const parameter = parameters.get(name)
    const named =
      parameter === undefined
        ? problem('unknown-parameter', { name, nearest: nearest(name, candidates), known: candidates })
        : setParameter(parameter, written, locale, notes)
    if ('code' in named) diagnostics.problems.push({ ...named, place: placeOf(diagnostics, name, written) })
    else moved.set(name, named)
  }
  return moved
}

/** The place of a value; empty if it was passed to a call without a path. */
function placeOf({ path }: Diagnostics, name: string, written: number | string): Place {
  return path.length === 0 ? {} : { path: [...path, name], text: String(written) }
}
