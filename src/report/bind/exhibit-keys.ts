import type { Names, Setting } from '../../expression/bind.js'
import { isOpen } from '../../expression/bound.js'
import { nearest } from '../../problem/nearest.js'
import { type Path, type Problem, problem } from '../../problem/problem.js'
import type { Vocabulary } from '../../rule/bind/vocabulary.js'
import type { KeySpec } from '../../spec/exhibits.js'
import type { TopN } from '../../summary/cells/top-n.js'
import type { Measure } from '../../summary/plan/measures.js'
import { isTimeUnit, parseSpan } from '../../time/period.js'

/** What the parts of an exhibit are checked against. */
export interface ExhibitContext {
  vocabulary: Vocabulary
  columns: Names
  fields: Names
  measures: ReadonlyMap<string, Measure>
  hasDates: boolean
  starts: number
  /** Of all exhibits, in their order. */
  names: readonly string[]
  /** What a name is that conditions on rows do not see. */
  hidden: Setting['hidden']
}

export function asList<T extends string | object>(value: T | readonly T[] | undefined): readonly T[] {
  return value === undefined ? [] : Array.isArray(value) ? value : [value as T]
}

/** The names of keys, checked. */
export function checkKeys(
  keys: KeySpec | readonly KeySpec[] | undefined,
  at: Path,
  context: ExhibitContext,
  problems: Problem[],
): readonly string[] {
  const seen = new Set<string>()
  return asList<KeySpec>(keys).map((key, i) => {
    const path = Array.isArray(keys) ? [...at, i] : at
    const name = typeof key === 'string' ? key : key.key
    const own = typeof key === 'string' ? path : [...path, 'key']
    const found = checkKey(name, own, context, problems)
    if (seen.has(name)) problems.push(problem('key-twice', { key: name }, { path: own }))
    seen.add(name)
    if (typeof key === 'string') return name
    if (key.others !== undefined && key.first === undefined)
      problems.push(problem('others-alone', {}, { path: [...path, 'others'] }))
    if (key.first !== undefined && found !== undefined && found.type.kind !== 'text' && !isOpen(found.type))
      problems.push(problem('first-text', { key: name }, { path: [...path, 'first'] }))
    return name
  })
}

function checkKey(name: string, path: Path, context: ExhibitContext, problems: Problem[]): ReturnType<Names['find']> {
  const found = context.fields.find(name)
  if (found === undefined && isTimeUnit(name) && !context.hasDates)
    problems.push(problem('no-date', { name }, { path }))
  else if (found === undefined) {
    const known = context.fields.all()
    problems.push(problem('unknown-dimension', { name, nearest: nearest(name, known), known }, { path }))
  }
  return found
}

export function checkMeasure(name: string, path: Path, context: ExhibitContext, problems: Problem[]): void {
  const known = [...context.vocabulary.measures.keys()]
  if (!known.includes(name))
    problems.push(problem('unknown-measure', { name, nearest: nearest(name, known), known }, { path }))
}

export function checkMeasures(
  show: string | readonly string[],
  at: Path,
  context: ExhibitContext,
  problems: Problem[],
): readonly string[] {
  const list = asList<string>(show)
  list.forEach((name, i) => {
    checkMeasure(name, typeof show === 'string' ? at : [...at, i], context, problems)
  })
  return list
}

/** What rows are sorted by: one measure, and keys from their last to their first. */
export function sortsOf(
  sort: string | readonly string[] | undefined,
  rows: readonly string[],
  show: readonly string[],
  at: Path,
  problems: Problem[],
  measures: ExhibitContext['measures'] = new Map(),
): { sort: { measure: string; falling: boolean } | undefined; turned: string[] } {
  let measure: { measure: string; falling: boolean } | undefined
  const turned: string[] = []
  asList<string>(sort).forEach((text, i) => {
    const path = typeof sort === 'string' ? at : [...at, i]
    const falling = text.startsWith('-')
    const name = falling ? text.slice(1).trim() : text.trim()
    if (show.includes(name) && measure === undefined) measure = { measure: name, falling }
    else if (rows.includes(name) && !show.includes(name)) {
      if (falling) turned.push(name)
    } else problems.push(badSort(name, text, show, rows, measures, path))
  })
  return { sort: measure, turned }
}

function badSort(
  name: string,
  text: string,
  show: readonly string[],
  rows: readonly string[],
  measures: ExhibitContext['measures'],
  path: Path,
): Problem {
  const known = [...show, ...rows]
  if (measures.has(name)) return problem('sort-unshown', { name, known }, { path })
  return problem('bad-sort', { text, known, nearest: nearest(name, known) }, { path })
}

export function keepsOf(keys: KeySpec | readonly KeySpec[] | undefined): TopN[] {
  return asList<KeySpec>(keys).flatMap((key) =>
    typeof key === 'string' || key.first === undefined
      ? []
      : [{ key: key.key, count: key.first, ...(key.others === undefined ? {} : { rest: key.others }) }],
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
  at: Path,
  { starts, hasDates }: Pick<ExhibitContext, 'starts' | 'hasDates'>,
  problems: Problem[],
): void {
  // Any day will do to see whether the words are a period.
  if (period !== undefined && parseSpan(String(period), 0, starts) === undefined)
    problems.push(problem('bad-period', { text: String(period) }, { path: at }))
  if (period !== undefined && period !== 'all' && !hasDates)
    problems.push(problem('no-date', { name: 'period' }, { path: at }))
}
