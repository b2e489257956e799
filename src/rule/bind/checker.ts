import { bindAs, bindExpression, didBind, type Names, type Setting, typeText } from '../../expression/bind.js'
import { type Bound, isOpen, type Type } from '../../expression/bound.js'
import { nameText, printExpression } from '../../expression/print.js'
import { meet, unitText } from '../../expression/unit.js'
import { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import type { Limit, Outcome, Status, Style } from '../../spec/rules.js'
import { CHANNELS, type Effect, iconBehind } from '../../style/cell-style.js'
import { checkStyle, effectOf, reportColor } from '../../style/effect.js'
import { flagNames } from '../../style/flag.js'
import type { Palette } from '../../style/palette.js'
import { statusLabel } from '../../style/status.js'
import type { Better } from '../../table/table.js'
import type { Checker } from '../kinds/check.js'
import type { BoundText } from '../model.js'
import type { Vocabulary } from './vocabulary.js'

/** The bound text; its problems are reported at its place. */
export function keep(result: ReturnType<typeof bindExpression>, at: Diagnostics): BoundText | undefined {
  if (didBind(result)) {
    const { bound, tree } = result
    let text: string | undefined
    return {
      bound,
      // Printed on demand, as most rules are run without being read.
      get text() {
        text ??= printExpression(tree)
        return text
      },
    }
  }
  at.take(result)
  return undefined
}

/** The parts of a rule's checker. */
export interface CheckerParts {
  judged: Type
  better: Better | undefined
  measure: string
  givens: Effect[]
  statuses: Readonly<Record<string, Status>>
  palette: Palette
  within: readonly string[]
  setting: Setting
  vocabulary: Vocabulary
  /** Names in flags are added here. */
  flagged: string[]
  /** Where problems of the rule go. */
  diagnostics: Diagnostics
  hide: 'value' | 'icon' | undefined
  icon: 'before' | 'after' | undefined
}

/**
 * The interface that kinds use to check their part of a rule. A class: creating closures for each
 * rule dominated the time of compiling many rules.
 */
export class RuleChecker implements Checker {
  readonly judged: Type
  readonly better: Better | undefined
  readonly measure: string
  readonly palette: Palette
  readonly hide: Effect['hide']
  readonly iconAfter: boolean
  readonly #parts: CheckerParts
  /** The class of each status. */
  #known: Map<string, number> | undefined

  constructor(parts: CheckerParts) {
    this.judged = parts.judged
    this.better = parts.better
    this.measure = parts.measure
    this.palette = parts.palette
    this.hide = parts.hide ?? null
    this.iconAfter = parts.icon === 'after'
    this.#parts = parts
  }

  get refused(): boolean {
    return this.#parts.diagnostics.problems.length > 0
  }

  condition(text: string, at: Diagnostics): BoundText | undefined {
    return keep(bindAs(text, this.#parts.setting, 'condition', 'a condition'), at)
  }

  gives(given: Effect): number {
    const { givens } = this.#parts
    const effect = this.#adapted(given)
    // A smooth ramp may repeat colours, and its classes follow its positions: only statuses share a
    // class.
    if (given.status === null) return givens.push(effect) - 1
    this.#known ??= new Map()
    let code = this.#known.get(given.status)
    if (code === undefined) {
      code = givens.push(effect) - 1
      this.#known.set(given.status, code)
    }
    return code
  }

  /** An effect with what the rule hides, and its icon at the side of the rule. */
  #adapted(effect: Effect): Effect {
    const { hide } = this
    const sided = this.iconAfter ? iconBehind(effect) : effect
    return hide === null ? sided : { ...sided, hide: sided.hide ?? hide }
  }

  givesEach(list: readonly Effect[]): number {
    const { givens } = this.#parts
    const first = givens.length
    for (const given of list) givens.push(this.#adapted(given))
    return first
  }

  texts(name: string, at: Diagnostics): BoundText | undefined {
    const bound = keep(bindExpression(nameText(name), this.#parts.setting), at)
    if (bound === undefined) return undefined
    const type = bound.bound.type
    if (type.kind === 'text' || isOpen(type)) return bound
    at.report('wrong-type', { what: 'fromColumn', expected: 'a column of texts', found: typeText(type) })
    return undefined
  }

  statuses(): Map<string, Effect> {
    const { statuses, palette } = this.#parts
    const effects = new Map<string, Effect>()
    for (const name of Object.keys(statuses)) {
      const given = effectOf(statuses[name], name, palette)
      for (const word of [name, statusLabel(statuses, name)]) if (!effects.has(word)) effects.set(word, given)
    }
    return effects
  }

  unknownColor(name: string, at: Diagnostics): void {
    reportColor(name, this.palette, at)
  }

  needNumber(what: string, at: Diagnostics): void {
    const { judged } = this
    if (judged.kind === 'number' || isOpen(judged)) return
    at.report('wrong-type', { what, expected: 'a number to judge', found: typeText(judged) })
  }

  limit(limit: Limit, at: Diagnostics, extent = false): BoundText | undefined {
    const { judged } = this
    const { setting, within } = this.#parts
    const text = limitSource(limit)
    const bound = keep(bindExpression(text, extent ? extentSetting(setting, judged) : setting), at)
    if (bound === undefined) return undefined
    if (!comparable(bound, text, judged, at)) return undefined
    if (extent && !constantInGroup(bound.bound, within)) {
      at.report('constant-limit', { what: String(at.path.at(-1)) }, { text, from: 0, to: text.length })
      return undefined
    }
    return bound
  }

  number(text: string, at: Diagnostics): BoundText | undefined {
    return keep(bindAs(text, this.#parts.setting, 'number', 'of'), at)
  }

  outcome(outcome: Outcome | undefined, at: Diagnostics, what: string, refined?: Style): number | undefined {
    const { statuses } = this.#parts
    if (outcome === undefined) {
      at.report('no-look', { what })
      return undefined
    }
    if (typeof outcome === 'string') {
      if (Object.hasOwn(statuses, outcome))
        this.#flag(statuses[outcome], new Diagnostics(at.problems, ['statuses', outcome]))
      const refining = refined && this.#style(refined, at.beside('style'))
      return refined !== undefined && refining === undefined
        ? undefined
        : this.#statusClass(outcome, at, refining, refined)
    }
    const given = this.#style(outcome, at)
    return given && this.gives(given)
  }

  #style(style: Style, at: Diagnostics): Effect | undefined {
    const { palette } = this.#parts
    this.#flag(style, at)
    const before = at.problems.length
    checkStyle(style, at, palette)
    return at.problems.length > before ? undefined : effectOf(style, null, palette)
  }

  #statusClass(name: string, at: Diagnostics, refining?: Effect, style: Style = {}): number | undefined {
    const { statuses, palette, givens } = this.#parts
    if (Object.hasOwn(statuses, name)) {
      const given = effectOf(statuses[name], name, palette)
      if (refining === undefined) return this.gives(given)
      // A style of its own, which does not share the class of the status.
      const effect = refinedGiven(given, refining, statuses[name], style)
      return givens.push(this.#adapted(effect)) - 1
    }
    const candidates = Object.keys(statuses)
    at.report('unknown-status', { name, nearest: nearest(name, candidates), known: candidates })
    return undefined
  }

  #flag(style: Style, at: Diagnostics): void {
    if (style.flag === undefined) return
    const { flagged, vocabulary } = this.#parts
    const candidates = ['value', 'status', 'judged', ...vocabulary.measures.keys(), ...vocabulary.parameters.keys()]
    for (const name of flagNames(style.flag)) {
      if (candidates.includes(name)) flagged.push(name)
      else at.at('flag').report('unknown-name', { name, nearest: nearest(name, candidates), known: candidates })
    }
  }
}

/**
 * A status with channels replaced by a style. A new fill gets a readable text colour unless one is
 * written: that of the old fill may not be readable on it.
 */
function refinedGiven(given: Effect, refining: Effect, status: Style, style: Style): Effect {
  const next = { ...given }
  for (const channel of CHANNELS) if (refining[channel] !== null) Object.assign(next, { [channel]: refining[channel] })
  if (refining.fill === null) return next
  next.pigment = refining.pigment
  if (style.wash === undefined && style.ink === undefined && status.ink === undefined) next.ink = null
  return next
}

/** The ends of a gradient may also be lowest and highest, of the judged values. */
function extentSetting(setting: Setting, judged: Type): Setting {
  const find: Names['find'] = (name, source) =>
    source === undefined && (name === 'lowest' || name === 'highest')
      ? { ref: { kind: 'value', name }, type: judged }
      : setting.names.find(name, source)
  return { ...setting, names: { find, all: () => ['lowest', 'highest', ...setting.names.all()] } }
}

/**
 * A number as the text of an expression: `-5` is a minus and a 5, and an exponent is written out.
 */
export function limitSource(limit: Limit): string {
  return typeof limit === 'string' ? limit : String(limit).replace('e+', 'e')
}

/** Whether a limit is comparable with the judged value; reported if it is not. */
export function comparable({ bound }: BoundText, text: string, judged: Type, at: Diagnostics): boolean {
  const place = { text, from: 0, to: text.length }
  const type = bound.type
  if (isOpen(type) || isOpen(judged)) return true
  const ordered = (t: Type): boolean => t.kind === 'number' || t.kind === 'date'
  if (!ordered(type) || !ordered(judged) || type.kind !== judged.kind) {
    at.report('unlike-types', { left: typeText(judged), right: typeText(type), verb: 'compared' }, place)
    return false
  }
  if (type.kind !== 'number' || judged.kind !== 'number' || type.zero) return true
  if (meet(judged.unit, type.unit) !== undefined) return true
  at.report(
    'unlike-units',
    {
      left: unitText(judged.unit),
      right: unitText(type.unit),
      verb: 'compared',
      advice: unitAdvice(bound, judged, text),
    },
    place,
  )
  return false
}

/** The fix for a missing percent sign, or a percent without a base. */
function unitAdvice(bound: Bound, judged: Type, text: string): string | undefined {
  if (judged.kind === 'number' && judged.unit.is === 'percent' && bound.op === 'number')
    return `did you mean ${bound.value > 1 ? bound.value : Number((bound.value * 100).toPrecision(12))}%?`
  if (bound.type.kind === 'number' && bound.type.unit.is === 'percent') return `say of what, as in ${text} of target`
  return undefined
}

/**
 * Whether an expression is constant within a group: outside aggregates nothing differs from cell to
 * cell, and aggregates use the groups of the rule.
 */
function constantInGroup(bound: Bound, within: readonly string[]): boolean {
  if (bound.op === 'aggregate') {
    const ofKey = bound.within
    return ofKey === undefined || ofKey.length === 0 || ofKey.every((name) => within.includes(name))
  }
  if (bound.op === 'name')
    return bound.ref.kind === 'parameter' || (bound.ref.kind === 'value' && bound.ref.name !== 'value')
  if (bound.op === 'call') return bound.args.every((b) => constantInGroup(b, within))
  if (bound.op === 'arithmetic' || bound.op === 'compare' || bound.op === 'and' || bound.op === 'or')
    return constantInGroup(bound.left, within) && constantInGroup(bound.right, within)
  if (bound.op === 'negate' || bound.op === 'not') return constantInGroup(bound.of, within)
  if (bound.op === 'if') return [bound.test, bound.yes, bound.no].every((b) => constantInGroup(b, within))
  return bound.op === 'number'
}
