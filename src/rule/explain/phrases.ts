import { colorText, type PackedColor } from '../../color/color.js'
import { decimalsOfNumber } from '../../column/decimals.js'
import { round14 } from '../../column/round.js'
import type { Bound, BoundAggregate } from '../../expression/bound.js'
import { constantNumber, evaluate, type Scope } from '../../expression/evaluate.js'
import type { Unit } from '../../expression/unit.js'
import { type NumberFormat, numberPrinter } from '../../format/format.js'
import { ordinal } from '../../format/ordinal.js'
import { periodPrinter } from '../../format/period.js'
import type { Status } from '../../spec/rules.js'
import { type Effect, iconOf } from '../../style/cell-style.js'
import type { Palette } from '../../style/palette.js'
import { statusLabel } from '../../style/status.js'
import type { NamedParameter } from '../bind/parameters.js'
import { isWritten, joinWithAnd } from '../kinds/limit-text.js'
import type { BoundRule, BoundText, Phrases, Print } from '../model.js'
import { ROW } from '../row.js'
import { formatFor, printerFor } from './print.js'

/** The facts about names that sentences use. */
export interface PhraseContext {
  /** BCP 47. */
  locale: string
  /** Whether shares are printed without the names of their parameters. */
  brief?: true
  statuses: Readonly<Record<string, Status>>
  parameters: ReadonlyMap<string, NamedParameter>
  /** The label of a measure, key or field. */
  label(name: string): string
  /** A colour by the name of its pigment, or as `#rrggbb`. */
  color(color: PackedColor): string
  /** The written format of a measure. */
  format(measure: string): string | undefined
}

/** Names colours by their pigments. */
export function createColorNamer({ pigments }: Palette): (color: PackedColor) => string {
  const names = new Map<PackedColor, string>()
  for (const [name, { wash, body, ink }] of Object.entries(pigments))
    for (const color of [wash, body, ink]) if (!names.has(color)) names.set(color, name)
  return (color) => names.get(color) ?? colorText(color)
}

/** Creates the phrases of one rule. */
export function createPhrases(rule: BoundRule, facts: PhraseContext): Phrases {
  const print = judgedPrinter(rule, facts)
  const { exact, apart } = exactPrinter(rule, facts, print)
  const words = (bound: Bound, text: string): string => expressionText(bound, facts, exact) ?? text
  return {
    brief: facts.brief === true,
    print,
    exact,
    apart,
    words,
    gives: (index) => effectText(rule.effects[index], facts),
    amount(limit: BoundText) {
      const value = settled(limit.bound, facts)
      return value === undefined ? words(limit.bound, limit.text) : exact(value)
    },
    limit(limit: BoundText) {
      const named = words(limit.bound, limit.text)
      const value = settled(limit.bound, facts)
      if (value !== undefined) return isWritten(limit.bound) ? exact(value) : `${exact(value)} (${named})`
      return named
    },
  }
}

/** A limit with more digits is rounded like values. */
const READ_DIGITS = 4
const MOST_DIGITS = 12

/** Prints numbers with more digits than values, if they need them. */
function exactPrinter(rule: BoundRule, facts: PhraseContext, print: Print): Pick<Phrases, 'exact' | 'apart'> {
  if (rule.judged.kind === 'date') return { exact: print, apart: print }
  const format = judgedFormat(rule, facts)
  const least = format.digits ?? 0
  const withDigits = (digits: number): Print => numberPrinter({ ...format, digits, compact: false }, facts.locale)
  return {
    exact(value) {
      const shown = format.kind === 'percent' ? round14(value * 100) : value
      const decimals = decimalsOfNumber(shown) ?? Number.POSITIVE_INFINITY
      const written = format.digits ?? 2
      return decimals > written && decimals <= written + READ_DIGITS ? withDigits(decimals)(value) : print(value)
    },
    apart(value, other) {
      let text = print(value)
      for (let d = least; d <= MOST_DIGITS && text === print(other); d++) {
        const finer = withDigits(d)
        if (finer(value) !== finer(other)) text = finer(value)
      }
      return text
    },
  }
}

/** Prints judged values: in the format of the judged measure, else by the unit. */
export function judgedPrinter(rule: BoundRule, facts: PhraseContext): Print {
  if (rule.judged.kind === 'date') {
    const { date } = periodPrinter(facts.locale)
    return (value) => (Number.isNaN(value) ? '' : date(value))
  }
  return numberPrinter(judgedFormat(rule, facts), facts.locale)
}

function judgedFormat({ judged, judge, measure: painted }: BoundRule, facts: PhraseContext): NumberFormat {
  const bound = judge?.bound
  const measure = bound === undefined ? painted : bound.op === 'name' ? bound.ref.name : undefined
  const format = measure === undefined ? undefined : facts.format(measure)
  const unit: Unit = judged.kind === 'number' ? judged.unit : { is: 'none' }
  // A quotient of two amounts of one unit is printed as a percent.
  const share = format === undefined && unit.is === 'none' && unit.like === true
  return formatFor(format, share ? { is: 'percent' } : unit)
}

/** The result of a class in words: the label of its status, else its style. */
export function effectText(given: Effect, facts: PhraseContext): string {
  if (given.status !== null) return statusLabel(facts.statuses, given.status)
  const parts: string[] = []
  const [fill, ink] = [given.fill, given.ink].map((color) => (color === null ? '' : facts.color(color)))
  if (fill !== '') parts.push(`${fill} fill`)
  // The text colour of a fill's own pigment is not mentioned.
  if (ink !== '' && ink !== fill) parts.push(`${ink} text`)
  if (given.weight !== null) parts.push(given.weight === 'bold' ? 'bold' : 'not bold')
  const icon = iconOf(given)
  if (icon !== null) parts.push(icon === 'bySign' ? 'an arrow by its sign' : `icon ${icon}`)
  if (given.bar !== null) parts.push(`${given.bar.name} bar`)
  if (given.flag !== null) parts.push(`flag ‘${given.flag}’`)
  if (given.picture !== null) parts.push('a picture')
  if (given.hide !== null) parts.push(given.hide === 'value' ? 'no number' : 'no icon')
  return parts.length === 0 ? 'no style' : joinWithAnd(parts)
}

/** The painted measure or column, for readers. */
export function subjectOf(rule: BoundRule, facts: PhraseContext): string {
  return rule.measure === ROW ? 'each row' : facts.label(rule.measure)
}

/** The number of an expression of numbers and parameters alone. */
export function settled(bound: Bound, { parameters }: Pick<PhraseContext, 'parameters'>): number | undefined {
  let free = true
  const scope: Scope = {
    length: 1,
    read(ref) {
      const parameter = ref.kind === 'parameter' ? parameters.get(ref.name) : undefined
      if (parameter === undefined) free = false
      return constantNumber(parameter?.value ?? Number.NaN)
    },
    aggregate() {
      free = false
      return constantNumber(Number.NaN)
    },
    beside() {
      free = false
      return constantNumber(Number.NaN)
    },
  }
  try {
    const value = evaluate(bound, scope)
    return free && value.kind === 'number' && !Number.isNaN(value.values[0]) ? value.values[0] : undefined
  } catch {
    // An expression of other columns has no constant value.
    return undefined
  }
}

const AGGREGATES: Readonly<Partial<Record<BoundAggregate['statistic'], string>>> = {
  mean: 'the mean of',
  median: 'the median of',
  lowest: 'the lowest',
  highest: 'the highest',
  sum: 'the sum of',
  count: 'the number of',
  countDistinct: 'the number of different',
  stdev: 'the standard deviation of',
}

/** An expression in words; undefined if its own text is clearer. */
function expressionText(bound: Bound, facts: PhraseContext, print: Print): string | undefined {
  const inner = (part: Bound): string | undefined => expressionText(part, facts, print)
  if (bound.op === 'number') {
    const percent = bound.type.kind === 'number' && bound.type.unit.is === 'percent'
    return percent ? `${Number((bound.value * 100).toPrecision(12))}%` : print(bound.value)
  }
  if (bound.op === 'text') return `‘${bound.value}’`
  if (bound.op === 'name') {
    if (bound.ref.kind === 'value') return bound.ref.name === 'value' ? 'the value' : `the ${bound.ref.name}`
    const parameter = bound.ref.kind === 'parameter' ? facts.parameters.get(bound.ref.name) : undefined
    return parameter?.label ?? facts.label(bound.ref.name)
  }
  if (bound.op === 'negate') {
    const of = inner(bound.of)
    return of === undefined ? undefined : bound.of.op === 'number' ? print(-bound.of.value) : `minus ${of}`
  }
  if (bound.op === 'arithmetic') {
    const part = (bound: Bound): string | undefined => shareOfText(bound, facts) ?? inner(bound)
    // The product of a share of a share: `88% (80% of Target level) of Target`.
    let [whole, share]: [Bound, number] = [bound, 1]
    const names: unknown[] = []
    while (whole.op === 'arithmetic' && whole.sign === 'of') {
      const factor = settled(whole.left, facts)
      if (factor === undefined) break
      share *= factor
      names.push(inner(whole.left))
      whole = whole.right
    }
    const rest = names.length > 1 && whole.op !== 'arithmetic' && whole.op !== 'if' ? inner(whole) : undefined
    if (rest !== undefined) return `${round14(share * 100)}%${facts.brief ? '' : ` (${names.join(' of ')})`} of ${rest}`
    const [left, right] = [part(bound.left), part(bound.right)]
    const plain = [bound.left, bound.right].every((part) => part.op !== 'arithmetic' && part.op !== 'if')
    if (left === undefined || right === undefined || !plain) return undefined
    return bound.sign === 'of' ? `${left} of ${right}` : `${left} ${SIGNS[bound.sign]} ${right}`
  }
  if (bound.op === 'compare') {
    const beside = (other: Bound): Print => numberBeside(other, facts, print)
    const left = expressionText(bound.left, facts, beside(bound.right))
    const right = expressionText(bound.right, facts, beside(bound.left))
    return left === undefined || right === undefined ? undefined : `${left} ${COMPARES[bound.sign]} ${right}`
  }
  if (bound.op === 'call' && bound.name === 'abs') {
    const of = inner(bound.args[0])
    return of === undefined ? undefined : `the amount of ${of}`
  }
  if (bound.op !== 'aggregate' || bound.where !== undefined) return undefined
  const of = bound.of === undefined ? 'cells' : inner(bound.of)
  if (of === undefined) return undefined
  const within =
    bound.within === undefined
      ? ''
      : bound.within.length === 0
        ? ' over everything'
        : ` within each ${bound.within.map((name) => facts.label(name)).join(' and ')}`
  const words =
    bound.statistic === 'percentile' ? `the ${ordinal(bound.share * 100)} percentile of` : AGGREGATES[bound.statistic]
  if (words === undefined) return undefined
  // "of value" is not mentioned.
  const judged = bound.of?.op === 'name' && bound.of.ref.kind === 'value' && bound.statistic !== 'countDistinct'
  return `${judged ? words.replace(/ of$/, '') : `${words} ${of}`}${within}`
}

/** A number is printed in the unit of the other side of its comparison. */
function numberBeside(other: Bound, facts: PhraseContext, print: Print): Print {
  if (other.op !== 'name' || other.ref.kind === 'value') return print
  const { type } = other
  return printerFor(facts.format(other.ref.name), type.kind === 'number' ? type.unit : { is: 'none' }, facts.locale)
}

const SIGNS = { '+': 'plus', '-': 'minus', '*': 'times', '/': 'over', of: 'of' } as const
const COMPARES = {
  '=': 'is',
  '!=': 'is not',
  '<': 'is below',
  '<=': 'is up to',
  '>': 'is above',
  '>=': 'is at least',
} as const

/** A parameter that is a share of something, with its number: `15% (slack)`. */
function shareOfText(bound: Bound, { parameters, locale, brief }: PhraseContext): string | undefined {
  const factor = bound.op === 'negate' ? bound.of : bound
  const parameter =
    factor.op === 'name' && factor.ref.kind === 'parameter' ? parameters.get(factor.ref.name) : undefined
  if (parameter?.format.kind !== 'percent') return undefined
  const named = brief ? '' : ` (${parameter.label})`
  const text = `${numberPrinter(parameter.format, locale)(parameter.value)}${named}`
  return bound.op === 'negate' ? `minus ${text}` : text
}
