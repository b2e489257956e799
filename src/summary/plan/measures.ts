import type { Binding, Found, Names, Setting } from '../../expression/bind.js'
import { bindInOrder } from '../../expression/bind-in-order.js'
import { addsUp, type Bound } from '../../expression/bound.js'
import { FUNCTIONS } from '../../expression/functions.js'
import { printExpression } from '../../expression/print.js'
import { PERCENT, type Unit, unitText } from '../../expression/unit.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import type { Better } from '../../table/table.js'
import { unitOfFormat } from '../../table/unit.js'
import { type Calendar, CIVIL_CALENDAR } from '../../time/calendar.js'

/** A measure as written. A plain text is the formula alone. */
export interface MeasureSpec {
  formula: string
  label?: string
  format?: string
  better?: Better
}

/** A measure with a bound formula. */
export interface Measure {
  name: string
  label: string
  format?: string
  better?: Better
  unit: Unit
  /** Canonical text. */
  formula: string
  bound: Bound
}

/**
 * Binds the measures of a report. Inside an aggregate names are columns and fields, outside it
 * measures and parameters, so `amount: sum(amount)` is no circle. Circles are reported with their
 * names.
 */
export function bindMeasures(
  specs: Readonly<Record<string, MeasureSpec>>,
  columns: Names,
  parameters: Names,
  at: Diagnostics,
  { time, calendar = CIVIL_CALENDAR, keys }: { time: boolean; calendar?: Calendar; keys?: (name: string) => boolean },
): Map<string, Measure> {
  const find = (name: string, source?: string): Found | undefined => {
    if (source !== undefined) return undefined
    if (!Object.hasOwn(specs, name)) return parameters.find(name)
    bindings.need(name)
    const measure = bindings.get(name)
    // An invalid measure can still be named, so that its mistake is reported once.
    if (measure === undefined) return { ref: { kind: 'measure', name }, type: { kind: 'unknown' } }
    return { ref: { kind: 'measure', name }, type: { kind: 'number', unit: measure.unit }, formula: measure.formula }
  }
  const adds = (name: string): boolean => {
    const measure = bindings.get(name)
    return measure === undefined || addsUp(measure.bound, adds)
  }
  const setting: Setting = {
    what: 'a measure',
    names: { find, all: () => [...Object.keys(specs), ...parameters.all()] },
    inside: columns,
    rows: columns,
    time,
    calendar,
    measure: true,
    adds,
    ...(keys === undefined ? {} : { keys }),
  }
  const bindings = bindInOrder<Measure>({
    texts: new Map(Object.entries(specs).map(([name, { formula }]) => [name, formula])),
    setting,
    circle([name, ...rest]) {
      if (rest.length === 1 && columns.find(name) !== undefined) at.at(name, 'formula').report('self-named', { name })
      else at.at(name).report('circle', { circle: [name, ...rest] })
    },
    refused: (name, problems) => at.at(name, 'formula').take(problems),
    finish: (name, binding) => measureOf(name, specs[name], binding, at.at(name)),
  })
  const bound = bindings.all()
  const measures = new Map<string, Measure>()
  for (const name of Object.keys(specs)) {
    const measure = bound.get(name)
    if (measure !== undefined) measures.set(name, measure)
  }
  for (const measure of measures.values()) {
    const better = measure.better ?? inheritedBetter(measure.bound, measures)
    if (better !== undefined) measure.better = better
  }
  return measures
}

/** The measure of a bound formula; undefined after a problem. */
function measureOf(name: string, spec: MeasureSpec, { bound, tree }: Binding, at: Diagnostics): Measure | undefined {
  if (bound.type.kind === 'unknown') return undefined
  if (bound.type.kind !== 'number') {
    const type = `a ${bound.type.kind}`
    const place = { text: spec.formula, from: tree.from, to: tree.to }
    at.at('formula').report('wrong-type', { what: `the measure ${name}`, expected: 'a number', found: type }, place)
    return undefined
  }
  const unit = statedUnit(bound.type.unit, spec.format)
  if (unit === undefined) {
    const asUnit = unitText(unitOfFormat(spec.format ?? ''))
    const params = { format: spec.format ?? '', unit: unitText(bound.type.unit), asUnit }
    at.at('format').report('format-contradicts', params)
    return undefined
  }
  const measure: Measure = { name, label: spec.label ?? name, unit, formula: printExpression(tree), bound }
  if (spec.format !== undefined) measure.format = spec.format
  if (spec.better !== undefined) measure.better = spec.better
  return measure
}

/**
 * The unit of a measure, from its formula or its format; undefined if they contradict each other.
 */
function statedUnit(unit: Unit, format: string | undefined): Unit | undefined {
  if (format === undefined) return unit
  const stated = unitOfFormat(format)
  if (stated.is === 'none') return unit
  if (unit.is === 'none') return stated.is === 'percent' && unit.like ? PERCENT : stated
  if (stated.is === 'money' && unit.is === 'money' && stated.currency !== unit.currency) return undefined
  return stated.is === unit.is ? unit : undefined
}

/**
 * x − y, change and percentChange have the direction of x if y's is the same, absent or neither; a
 * shifted measure has the direction of the measure.
 */
function inheritedBetter(bound: Bound, measures: ReadonlyMap<string, Measure>): Better | undefined {
  if (bound.op === 'name' && bound.ref.kind === 'measure') {
    const named = measures.get(bound.ref.name)
    return named === undefined ? undefined : (named.better ?? inheritedBetter(named.bound, measures))
  }
  if (bound.op === 'moved' || bound.op === 'sameKeys') return inheritedBetter(bound.of, measures)
  const [left, right] = difference(bound)
  if (left === undefined || right === undefined) return undefined
  const x = inheritedBetter(left, measures)
  const y = inheritedBetter(right, measures)
  return y === undefined || y === 'neither' || y === x ? x : undefined
}

/** The two sides of a difference, however it is written. */
function difference(bound: Bound): readonly Bound[] {
  if (bound.op === 'arithmetic' && bound.sign === '-') return [bound.left, bound.right]
  return bound.op === 'call' && FUNCTIONS[bound.name].directed === true ? bound.args : []
}
