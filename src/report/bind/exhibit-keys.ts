import type { Names, Setting } from '../../expression/bind.js'
import { isOpen } from '../../expression/bound.js'
import { meet, unitText } from '../../expression/unit.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import type { Vocabulary } from '../../rule/bind/vocabulary.js'
import type { KeySpec, TrendSpec } from '../../spec/exhibits.js'
import type { TopN } from '../../summary/cells/top-n.js'
import type { Measure } from '../../summary/plan/measures.js'
import type { Calendar } from '../../time/calendar.js'
import { isTimeUnit, parseSpan } from '../../time/period.js'
import type { BoundParts, BoundTrend } from '../model/bound.js'

/** The context in which the parts of an exhibit are checked. */
export interface ExhibitContext {
  vocabulary: Vocabulary
  columns: Names
  fields: Names
  measures: ReadonlyMap<string, Measure>
  hasDates: boolean
  calendar: Calendar
  /** The names of all exhibits, in order. */
  names: readonly string[]
  /** What a name is that conditions on rows cannot use. */
  hidden: Setting['hidden']
}

/**
 * Checks and binds one kind of exhibit. All problems are reported; invalid parts are bound as far
 * as possible.
 */
export type BindKind<Spec> = (spec: Spec, context: ExhibitContext, diagnostics: Diagnostics) => BoundParts

export function asList<T extends string | object>(value: T | readonly T[] | undefined): readonly T[] {
  return value === undefined ? [] : Array.isArray(value) ? value : [value as T]
}

/** The place of each member of a value that may be a list. */
export function eachOf<T extends string | object>(
  value: T | readonly T[] | undefined,
  diagnostics: Diagnostics,
  visit: (item: T, at: Diagnostics, i: number) => void,
): void {
  asList<T>(value).forEach((item, i) => {
    visit(item, Array.isArray(value) ? diagnostics.at(i) : diagnostics, i)
  })
}

/** Checks the names of keys. */
export function checkKeys(
  keys: KeySpec | readonly KeySpec[] | undefined,
  context: ExhibitContext,
  diagnostics: Diagnostics,
): readonly string[] {
  const seen = new Set<string>()
  const names: string[] = []
  const last = asList<KeySpec>(keys).length - 1
  eachOf<KeySpec>(keys, diagnostics, (key, at, i) => {
    const name = typeof key === 'string' ? key : key.key
    names.push(name)
    const place = typeof key === 'string' ? at : at.at('key')
    const checkedKey = checkKey(name, context, place)
    if (seen.has(name)) place.report('key-twice', { key: name })
    seen.add(name)
    if (typeof key === 'string') return
    if (key.others !== undefined && key.first === undefined) at.at('others').report('others-alone', {})
    if (
      key.first !== undefined &&
      checkedKey !== undefined &&
      checkedKey.type.kind !== 'text' &&
      !isOpen(checkedKey.type)
    )
      at.at('first').report('first-text', { key: name })
    if (typeof key.first === 'object' && i < last) at.at('first').report('first-innermost', { key: name })
  })
  return names
}

function checkKey(name: string, context: ExhibitContext, diagnostics: Diagnostics): ReturnType<Names['find']> {
  const field = context.fields.find(name)
  if (field === undefined && isTimeUnit(name) && !context.hasDates) diagnostics.report('no-date', { name })
  else if (field === undefined) {
    const candidates = context.fields.all()
    diagnostics.report('unknown-dimension', { name, nearest: nearest(name, candidates), known: candidates })
  }
  return field
}

export function checkMeasure(name: string, context: ExhibitContext, diagnostics: Diagnostics): void {
  const candidates = [...context.vocabulary.measures.keys()]
  if (!candidates.includes(name))
    diagnostics.report('unknown-measure', { name, nearest: nearest(name, candidates), known: candidates })
}

export function checkMeasures(
  show: string | readonly string[],
  context: ExhibitContext,
  diagnostics: Diagnostics,
): readonly string[] {
  eachOf<string>(show, diagnostics, (name, at) => checkMeasure(name, context, at))
  return asList<string>(show)
}

/** A measure and the one it is compared with must have one unit. */
export function checkVersus(of: string, versus: string, context: ExhibitContext, diagnostics: Diagnostics): void {
  checkMeasure(versus, context, diagnostics)
  const [left, right] = [context.measures.get(of), context.measures.get(versus)]
  if (left === undefined || right === undefined || meet(left.unit, right.unit) !== undefined) return
  const params = { of: left.label, left: unitText(left.unit), versus: right.label, right: unitText(right.unit) }
  diagnostics.report('unlike-versus', params)
}

/** The sort order of rows: one measure, and keys from last to first. */
export function sortsOf(
  sort: string | readonly string[] | undefined,
  { rows, show }: Pick<BoundParts, 'rows' | 'show'>,
  { measures }: Pick<ExhibitContext, 'measures'>,
  diagnostics: Diagnostics,
): { sort: { measure: string; falling: boolean } | undefined; turned: string[] } {
  let measure: { measure: string; falling: boolean } | undefined
  const turned: string[] = []
  eachOf<string>(sort, diagnostics, (text, at) => {
    const falling = text.startsWith('-')
    const name = falling ? text.slice(1).trim() : text.trim()
    if (show.includes(name) && measure === undefined) measure = { measure: name, falling }
    else if (rows.includes(name) && !show.includes(name)) {
      if (falling) turned.push(name)
    } else {
      const candidates = [...show, ...rows]
      if (measures.has(name)) at.report('sort-unshown', { name, known: candidates })
      else at.report('bad-sort', { text, known: candidates, nearest: nearest(name, candidates) })
    }
  })
  return { sort: measure, turned }
}

export function keepsOf(keys: KeySpec | readonly KeySpec[] | undefined): TopN[] {
  return asList<KeySpec>(keys).flatMap((key) =>
    typeof key === 'string' || key.first === undefined
      ? []
      : [
          {
            key: key.key,
            ...(typeof key.first === 'number' ? { count: key.first } : key.first),
            ...(key.others !== undefined && { rest: key.others }),
          },
        ],
  )
}

export function ordersOf(keys: readonly KeySpec[]): Map<string, readonly string[]> {
  return new Map(
    keys.flatMap((key) =>
      typeof key === 'string' || key.order === undefined ? [] : [[key.key, key.order.map(String)]],
    ),
  )
}

export function checkPeriod(
  period: string | number | undefined,
  { calendar, hasDates }: Pick<ExhibitContext, 'calendar' | 'hasDates'>,
  diagnostics: Diagnostics,
): void {
  // Any day will do to check the text.
  if (period !== undefined && parseSpan(String(period), 0, calendar) === undefined)
    diagnostics.report('bad-period', { text: String(period) })
  if (period !== undefined && period !== 'all' && !hasDates) diagnostics.report('no-date', { name: 'period' })
}

/** A trend along a key; `standard` is its default measure. */
export function bindTrend(
  trend: TrendSpec,
  standard: string | undefined,
  context: ExhibitContext,
  diagnostics: Diagnostics,
): BoundTrend | undefined {
  checkKeys(trend.along, context, diagnostics.at('along'))
  checkPeriod(trend.period, context, diagnostics.at('period'))
  const of = trend.of ?? standard
  if (of === undefined) {
    diagnostics.report('trend-of', {})
    return undefined
  }
  if (trend.of !== undefined) checkMeasure(of, context, diagnostics.at('of'))
  return { of, along: trend.along, period: trend.period === undefined ? undefined : String(trend.period) }
}
