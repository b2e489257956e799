import { STATISTICS } from '../column/statistic.js'
import { nearest } from '../problem/nearest.js'
import { RENAMED_FUNCTIONS } from '../problem/renamed.js'
import { CIVIL_CALENDAR } from '../time/calendar.js'
import { isPeriodUnit, isTimeUnit, PERIOD_UNITS, type PeriodUnit, type TimeUnit } from '../time/period.js'
import { shiftOf } from '../time/shift.js'
import type { Step } from '../time/step.js'
import { addsUp, type Bound, filled, type Type, unitOnly } from './bound.js'
import type { CallBinder } from './call-binder.js'
import { FUNCTIONS, isWording, WORDINGS, type Wording } from './functions.js'
import { printExpression } from './print.js'
import type { Tree } from './tree.js'
import { COUNT, LIKE, NONE } from './unit.js'

type Call = Tree & { op: 'call' }

/** Functions that only a measure can use: they read other periods or other cells. */
const MEASURE_ONLY = [
  'lag',
  'sofar',
  'opening',
  'rolling',
  'prorated',
  'perPeriod',
  'projected',
  'sameKeys',
  'elapsed',
  'streak',
  'share',
  'rank',
] as const
type MeasureOnly = (typeof MEASURE_ONLY)[number]

const DATE_PARTS = ['year', 'quarter', 'month', 'week', 'day', 'monthOfYear', 'weekday'] as const

/** Common synonyms of statistics and functions. */
const MEANT: Readonly<Record<string, string>> = {
  average: 'mean',
  avg: 'mean',
  total: 'sum',
  min: 'lowest',
  minimum: 'lowest',
  max: 'highest',
  maximum: 'highest',
  stddev: 'stdev',
  unique: 'countDistinct',
  quantile: 'percentile',
  lower: 'lowercase',
  upper: 'uppercase',
}

/** Binds a call of anything but an aggregate. */
export function bindCall(binder: CallBinder, tree: Call): Bound {
  const { name } = tree
  const only = MEASURE_ONLY.find((candidate) => candidate === name)
  if (only !== undefined) return measureOnly(binder, tree, only)
  binder.refuseClauses(tree, `only ${STATISTICS.join(', ')} are narrowed or grouped`)
  if (isWording(name) || name === 'length') return ofText(binder, tree, name)
  if (isTimeUnit(name)) return ofDate(binder, tree, name)
  if (name === 'coalesce') return coalesce(binder, tree)
  if (name === 'ofRange') return ofRange(binder, tree)
  if (Object.hasOwn(FUNCTIONS, name)) return ofNumbers(binder, tree)
  // Aggregates first: they are what is mostly meant.
  const candidates = [
    ...STATISTICS,
    ...MEASURE_ONLY,
    ...Object.keys(FUNCTIONS),
    'coalesce',
    'ofRange',
    ...WORDINGS,
    'length',
    ...DATE_PARTS,
  ]
  if (Object.hasOwn(RENAMED_FUNCTIONS, name)) {
    binder.tell('renamed', tree, { old: name, now: RENAMED_FUNCTIONS[name] })
    return binder.lost()
  }
  const meant = Object.hasOwn(MEANT, name.toLowerCase()) ? MEANT[name.toLowerCase()] : nearest(name, candidates)
  binder.tell('unknown-function', tree, { name, nearest: meant, known: candidates })
  return binder.lost()
}

function takes(binder: CallBinder, tree: Call, least: number, most: number, says: string): boolean {
  if (tree.args.length >= least && tree.args.length <= most) return true
  binder.tell('argument-count', tree, { name: `${tree.name}()`, takes: says, found: tree.args.length })
  return false
}

function ofNumbers(binder: CallBinder, tree: Call): Bound {
  const valueFunction = FUNCTIONS[tree.name]
  const [least, most] = valueFunction.takes
  if (!takes(binder, tree, least, most, valueFunction.says)) return binder.lost()
  const args = tree.args.map((arg) => binder.number(arg, `${tree.name}()`))
  let type = args[0].type
  if (valueFunction.extra !== true)
    for (let i = 1; i < args.length; i++) type = binder.joined(type, args[i].type, tree.args[i], 'put together')
  if (valueFunction.share === true && type.kind === 'number') type = { kind: 'number', unit: LIKE }
  return { op: 'call', name: tree.name, args, type }
}

/** The first value that is not missing, all of one kind. */
function coalesce(binder: CallBinder, tree: Call): Bound {
  if (!takes(binder, tree, 2, 9, 'two values or more')) return binder.lost()
  const args = tree.args.map((arg) => binder.bind(arg))
  let { type } = args[0]
  for (let i = 1; i < args.length; i++) type = binder.joined(type, args[i].type, tree.args[i], 'put together')
  return args.reduceRight((rest, of) => ({
    op: 'if',
    test: { op: 'missing', of, not: true, type: { kind: 'condition' } },
    yes: of,
    no: rest,
    type,
  }))
}

/** A limit at a share of the way from the lowest to the highest value of the population. */
function ofRange(binder: CallBinder, tree: Call): Bound {
  const { setting } = binder
  if (setting.cells !== true || setting.inside === undefined || binder.inAggregate !== undefined) {
    binder.tell('rule-only', tree, { name: 'ofRange' })
    return binder.lost()
  }
  if (!takes(binder, tree, 1, 1, 'a percent, as in ofRange(67%)')) return binder.lost()
  const [share] = tree.args
  if (share.op !== 'number' || !share.percent || share.value > 1) {
    const found = printExpression(share)
    binder.tell('wrong-type', share, { what: 'ofRange()', expected: 'a written percent up to 100%', found })
    return binder.lost()
  }
  const { from, to } = tree
  const value: Tree = { op: 'name', name: 'value', from, to }
  const end = (name: string): Tree => ({ op: 'call', name, args: [value], from, to })
  const width: Tree = { op: '-', left: end('highest'), right: end('lowest'), from, to }
  const part: Tree = { op: 'of', left: share, right: width, from, to }
  return binder.bind({ op: '+', left: end('lowest'), right: part, from, to })
}

function ofText(binder: CallBinder, tree: Call, name: Wording | 'length'): Bound {
  if (!takes(binder, tree, 1, 1, 'one text')) return binder.lost()
  const of = filled(binder.bind(tree.args[0]), { kind: 'text' })
  if (of.type.kind !== 'text' && of.type.kind !== 'unknown') binder.wrong(tree.args[0], `${name}()`, 'a text', of.type)
  const type: Type = name === 'length' ? { kind: 'number', unit: NONE } : { kind: 'text' }
  if (of.type.kind !== 'text') return binder.lost()
  return { op: 'wording', name, of, type }
}

function ofDate(binder: CallBinder, tree: Call, unit: TimeUnit): Bound {
  if (!takes(binder, tree, 1, 1, 'one date')) return binder.lost()
  const of = filled(binder.bind(tree.args[0]), { kind: 'date' })
  if (of.type.kind !== 'date') {
    binder.wrong(tree.args[0], `${unit}()`, 'a date', of.type)
    return binder.lost()
  }
  const type: Type = isPeriodUnit(unit) ? dateOf(unit) : { kind: 'number', unit: NONE }
  return { op: 'dated', unit, calendar: binder.setting.calendar ?? CIVIL_CALENDAR, of, type }
}

function dateOf(unit: PeriodUnit): Type {
  return unit === 'day' ? { kind: 'date' } : { kind: 'date', unit }
}

const SAYS: Readonly<Record<MeasureOnly, string>> = {
  lag: 'a measure and how far back, as in lag(revenue, 1 year)',
  sofar: 'a measure and where it starts, as in sofar(revenue, year) or sofar(revenue, all)',
  opening: 'a measure and the period it opens, as in opening(price, year)',
  rolling: 'a measure and how many periods to the end of each cell, as in rolling(revenue, 3 months)',
  prorated: 'a measure that adds up, of a source by month or longer, as in prorated(plan)',
  perPeriod: 'a measure that adds up and a period, as in perPeriod(revenue, month)',
  projected: 'a measure that adds up and a year, a quarter or a month, as in projected(revenue, year)',
  sameKeys: 'an expression, a key and how far back, as in sameKeys(growth, shop, 1 year)',
  elapsed: 'nothing, as in elapsed()',
  streak: 'a condition, and the period it is counted in if wanted, as in streak(gap < 0) or streak(gap < 0, month)',
  share: 'a measure, as in share(revenue) within region',
  rank: 'a measure, as in rank(revenue) within region',
}

function measureOnly(binder: CallBinder, tree: Call, name: MeasureOnly): Bound {
  const beside = name === 'share' || name === 'rank'
  const { setting } = binder
  const inRule = beside && setting.cells === true && binder.inAggregate === undefined
  if (!inRule && (setting.measure !== true || binder.inAggregate !== undefined || (!beside && setting.time !== true))) {
    binder.tell('measure-only', tree, { name, dated: !beside })
    return binder.lost()
  }
  if (tree.where !== undefined)
    binder.tell('clause-here', tree, { clause: 'where', advice: `write it at the aggregates inside ${name}()` })
  if (tree.within !== undefined && !beside)
    binder.tell('clause-here', tree, { clause: 'within', advice: 'only share() and rank() are divided in a measure' })
  const [least, most] = ARGUMENTS[name] ?? [2, 2]
  if (!takes(binder, tree, least, most, SAYS[name])) return binder.lost()
  switch (name) {
    case 'share':
    case 'rank':
      return besideOthers(binder, tree, name)
    case 'streak':
      return streak(binder, tree)
    case 'prorated':
      return prorated(binder, tree)
    case 'perPeriod':
      return perPeriod(binder, tree)
    case 'projected':
      return projected(binder, tree)
    case 'sameKeys':
      return sameKeys(binder, tree)
    case 'elapsed':
      return { op: 'spanned', of: 'elapsed', key: 'elapsed', type: { kind: 'number', unit: LIKE } }
    default:
      return moved(binder, tree, name)
  }
}

/** How many arguments a function takes, if not two. */
const ARGUMENTS: Readonly<Partial<Record<MeasureOnly, readonly [number, number]>>> = {
  share: [1, 1],
  rank: [1, 1],
  streak: [1, 2],
  prorated: [1, 1],
  elapsed: [0, 0],
  sameKeys: [3, 3],
}

/** A number that adds up over time. */
function addable(binder: CallBinder, tree: Call): Bound {
  const of = binder.number(tree.args[0], `${tree.name}()`)
  const { adds = () => true } = binder.setting
  if (of.type.kind !== 'unknown' && !addsUp(of, adds)) binder.tell('adds-not-up', tree.args[0], { name: tree.name })
  return of
}

/** Whole periods whole, the one that the date of the report cuts by its days. */
function prorated(binder: CallBinder, tree: Call): Bound {
  const of = addable(binder, tree)
  const type = unitOnly(of.type)
  const finished: Bound = { op: 'moved', of, step: { kind: 'finished' }, type }
  const begun: Bound = { op: 'moved', of, step: { kind: 'begun' }, type }
  const both: Bound = { op: 'arithmetic', sign: '+', left: finished, right: begun, type }
  const missing = (of: Bound): Bound => ({ op: 'missing', of, not: false, type: { kind: 'condition' } })
  const late: Bound = { op: 'if', test: missing(begun), yes: finished, no: both, type }
  return { op: 'if', test: missing(finished), yes: begun, no: late, type }
}

function perPeriod(binder: CallBinder, tree: Call): Bound {
  const left = addable(binder, tree)
  const unit = unitNamed(tree.args[1])
  if (unit === undefined) return wrongUnit(binder, tree, 'perPeriod')
  const right: Bound = { op: 'spanned', of: 'periods', unit, key: unit, type: { kind: 'number', unit: NONE } }
  return { op: 'arithmetic', sign: '/', left, right, type: unitOnly(left.type) }
}

/**
 * What a period will come to: so far, times the whole of the same period last year over its part to
 * the same day; without such a base by days. A finished period is itself.
 */
function projected(binder: CallBinder, tree: Call): Bound {
  const of = addable(binder, tree)
  const unit = unitNamed(tree.args[1])
  if (unit === undefined || unit === 'week' || unit === 'day') return wrongUnit(binder, tree, 'projected')
  const type = unitOnly(of.type)
  const read = (step: Step, bound: Bound): Bound => ({ op: 'moved', of: bound, step, type })
  const arithmetic = (sign: '*' | '/', left: Bound, right: Bound): Bound => ({
    op: 'arithmetic',
    sign,
    left,
    right,
    type,
  })
  const number = (value: number): Bound => ({ op: 'number', value, type: { kind: 'number', unit: NONE } })
  const lastYear: Step = { kind: 'lag', shift: shiftOf(1, 'year') }
  const [soFar, whole]: Step[] = [
    { kind: 'sofar', unit },
    { kind: 'whole', unit },
  ]
  const base = read(lastYear, read(soFar, of))
  const course = arithmetic('/', read(lastYear, read(whole, of)), base)
  const passed: Bound = {
    op: 'spanned',
    of: 'passed',
    unit,
    key: `passed ${unit}`,
    type: { kind: 'number', unit: NONE },
  }
  const isOver: Bound = { op: 'compare', sign: '>=', left: passed, right: number(1), type: { kind: 'condition' } }
  const hasBase: Bound = { op: 'compare', sign: '>', left: base, right: number(0), type: { kind: 'condition' } }
  const choose = (over: Bound, byYear: Bound, byDays: Bound): Bound => {
    // A missing base is no base.
    const known: Bound = { op: 'missing', of: course, not: true, type: { kind: 'condition' } }
    const test: Bound = { op: 'and', left: known, right: hasBase, type: { kind: 'condition' } }
    return { op: 'if', test: isOver, yes: over, no: { op: 'if', test, yes: byYear, no: byDays, type }, type }
  }
  const now = read(soFar, of)
  const value = choose(read(whole, of), arithmetic('*', now, course), arithmetic('/', now, passed))
  return { ...(value as Bound & { op: 'if' }), method: choose(number(0), number(1), number(2)) }
}

/** The expression over the values of a key alone that have rows now and so long before. */
function sameKeys(binder: CallBinder, tree: Call): Bound {
  const [first, key, back] = tree.args
  const of = binder.number(first, 'sameKeys()')
  const by = key.op === 'name' ? (key.source === undefined ? key.name : `${key.source}.${key.name}`) : undefined
  if (by === undefined || (binder.setting.keys ?? binder.setting.groups)?.(by) === false || isTimeUnit(by)) {
    const candidates = binder.setting.rows?.all() ?? []
    const name = printExpression(key)
    binder.tell('unknown-name', key, { name, nearest: nearest(name, candidates), known: candidates })
    return binder.lost()
  }
  if (back.op !== 'duration' || !Number.isInteger(back.count) || back.count < 1 || back.count > 1000) {
    binder.tell('argument-count', tree, { name: 'sameKeys()', takes: SAYS.sameKeys, found: tree.args.length })
    return binder.lost()
  }
  return { op: 'sameKeys', of, by, shift: shiftOf(back.count, back.unit), type: of.type }
}

function besideOthers(binder: CallBinder, tree: Call, how: 'share' | 'rank'): Bound {
  const { setting } = binder
  const within = tree.within ?? (setting.cells === true ? undefined : [])
  for (const name of within ?? [])
    if ((setting.keys ?? setting.groups)?.(name) === false) {
      const candidates = [...(binder.setting.rows?.all() ?? []), ...DATE_PARTS]
      binder.tell('unknown-name', tree, { name, nearest: nearest(name, candidates), known: candidates })
    }
  const of = binder.number(tree.args[0], `${how}()`)
  const group = within === undefined ? {} : { within }
  return { op: 'beside', how, of, ...group, type: { kind: 'number', unit: how === 'share' ? LIKE : NONE } }
}

function streak(binder: CallBinder, tree: Call): Bound {
  const of = binder.condition(tree.args[0], 'streak()')
  const unit = tree.args[1] === undefined ? undefined : unitNamed(tree.args[1])
  if (tree.args[1] !== undefined && unit === undefined) return wrongUnit(binder, tree, 'streak')
  const bound: Bound = { op: 'streak', of, key: printExpression(tree), type: { kind: 'number', unit: COUNT } }
  return unit === undefined ? bound : { ...bound, unit }
}

function moved(binder: CallBinder, tree: Call, name: 'lag' | 'sofar' | 'opening' | 'rolling'): Bound {
  const [first, second] = tree.args
  const of = binder.number(first, `${name}()`)
  const type = unitOnly(of.type)
  if (name === 'lag' || name === 'rolling') {
    const whole =
      second.op === 'duration' && Number.isInteger(second.count) && second.count >= 1 && second.count <= 1000
    if (second.op !== 'duration' || !whole) return wrongUnit(binder, tree, name)
    const { count, unit } = second
    const step: Step = name === 'lag' ? { kind: 'lag', shift: shiftOf(count, unit) } : { kind: 'rolling', count, unit }
    return { op: 'moved', of, step, type }
  }
  const unit = unitNamed(second)
  if (name === 'sofar' && second.op === 'name' && second.name === 'all')
    return { op: 'moved', of, step: { kind: 'sofar', unit: 'all' }, type }
  if (unit === undefined) return wrongUnit(binder, tree, name)
  return { op: 'moved', of, step: { kind: name, unit }, type }
}

function unitNamed(tree: Tree): PeriodUnit | undefined {
  return tree.op === 'name' && tree.source === undefined ? PERIOD_UNITS.find((unit) => unit === tree.name) : undefined
}

/** A period argument; `at` is its position. */
function wrongUnit(binder: CallBinder, tree: Call, name: MeasureOnly): Bound {
  const at = tree.args[1]
  if (name === 'lag' || name === 'rolling') {
    binder.tell('argument-count', tree, { name: `${name}()`, takes: SAYS[name], found: tree.args.length })
    return binder.lost()
  }
  const candidates: string[] = [...PERIOD_UNITS, ...(name === 'sofar' ? ['all'] : [])]
  const text = printExpression(at)
  binder.tell('not-a-unit', at, {
    name: `${name}()`,
    found: text,
    nearest: nearest(text, candidates),
    known: candidates,
  })
  return binder.lost()
}
