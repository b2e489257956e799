import { round14 } from '../column/round.js'
import { statistic } from '../column/statistic.js'
import type { Bound, BoundAggregate } from '../expression/bound.js'
import { conditions, constantNumber, evaluate, numbers, type Scope, type Vector } from '../expression/evaluate.js'
import { directionIcon } from '../look/icons.js'
import type { Given } from '../look/look.js'
import { type Problem, problem } from '../problem/problem.js'
import { columnVector } from '../table/scope.js'
import type { Table } from '../table/table.js'
import type { BoundRule } from './check.js'
import type { Judged } from './kind.js'
import { groupCells } from './population.js'

/** The cells that rules are run over: one pair of levels of an exhibit, or a plain table. */
export interface Cells {
  /** The exhibit they belong to; undefined for a plain table. */
  exhibit?: string
  level: 'details' | 'totals'
  /** For notes: `shops, details`. */
  what: string
  table: Table
  /** The keys that the cells are split by. */
  keys: readonly string[]
  /** Fields that differ inside some cell. */
  mixed: ReadonlySet<string>
  parameters: ReadonlyMap<string, number>
}

/** What a rule gave: a class a cell (-1 for none) into `givens`. */
export interface RuleResult {
  rule: BoundRule
  classes: Int16Array
  givens: readonly Given[]
  judged: Judged
}

/** Why a rule does not reach these cells, in words; undefined where it does. */
export function unreached(rule: BoundRule, cells: Cells): string | undefined {
  for (const field of rule.fields) {
    if (cells.mixed.has(field)) return `${field} differs inside its cells`
    if (!cells.table.columns.has(field)) return `${field} is not known there`
  }
  for (const name of rule.measures) if (!cells.table.columns.has(name)) return `${name} is not known there`
  return undefined
}

/** Whether a rule is meant for these cells at all: its exhibit, its level and its grain. */
export function meantFor(rule: BoundRule, cells: Cells): boolean {
  if (rule.only !== undefined && cells.exhibit !== undefined && !rule.only.includes(cells.exhibit)) return false
  if (!rule.grain.every((key) => cells.keys.includes(key))) return false
  return rule.levels === 'all' || rule.levels === cells.level
}

/** Runs one rule over the cells it reaches. */
export function runRule(rule: BoundRule, cells: Cells, notes: Problem[]): RuleResult {
  const judged = judge(rule, cells, notes)
  let classes = rule.kind.run(rule.plan, judged)
  if (rule.readsPopulation) leaveSmall(rule, classes, judged, notes)
  if (rule.where !== undefined) {
    const holds = conditions(judged.run(rule.where.bound), judged.length)
    for (let i = 0; i < classes.length; i++) if (holds[i] !== 1) classes[i] = -1
  }
  let givens = rule.givens
  if (givens.some((given) => given.icon === 'direction') && judged.value.kind === 'number') {
    classes = withDirection(classes, numbers(judged.value, judged.length))
    givens = givens.flatMap((given) => [-1, 0, 1].map((sign) => directed(given, sign)))
  }
  return { rule, classes, givens, judged }
}

/** Each class becomes three, by the sign of the judged value. */
function withDirection(classes: Int16Array, values: Float64Array): Int16Array {
  return classes.map((c, i) => (c < 0 ? -1 : c * 3 + (Number.isNaN(values[i]) ? 1 : Math.sign(values[i]) + 1)))
}

function directed(given: Given, sign: number): Given {
  return given.icon === 'direction' ? { ...given, icon: directionIcon(sign) } : given
}

/** A population of fewer than two values has no places and no scale. */
function leaveSmall(rule: BoundRule, classes: Int16Array, judged: Judged, notes: Problem[]): void {
  const sizes = statistic('count', asNumbers(judged.value, judged.length), judged.population, judged.groupCount)
  let left = false
  for (let i = 0; i < classes.length; i++)
    if (classes[i] >= 0 && sizes[judged.groups[i]] < 2) {
      classes[i] = -1
      left = true
    }
  if (left) notes.push(problem('note-small-population', { rule: rule.name, measure: rule.measure }))
}

function asNumbers(value: Vector, length: number): Float64Array {
  if (value.kind === 'number') return numbers(value, length)
  const whole = value.kind === 'text' ? value.codes : value.values
  return Float64Array.from({ length }, (_, i) => {
    const code = whole[value.constant ? 0 : i]
    return code < 0 ? Number.NaN : code
  })
}

/** Works out the judged value, the groups and the population, and keeps statistics that are asked for twice. */
function judge(rule: BoundRule, cells: Cells, notes: Problem[]): Judged {
  const { table } = cells
  const { length } = table
  const kept = new Map<string, Vector>()
  const { groups, count: groupCount } = groupCells(table, rule.within)
  let value: Vector | undefined
  let population = groups
  const scope: Scope = {
    length,
    read(ref) {
      if (ref.kind === 'parameter') return constantNumber(cells.parameters.get(ref.name) ?? Number.NaN)
      if (ref.kind === 'value') return readValue(ref.name)
      const column = table.columns.get(ref.name)
      if (column === undefined) throw new Error(`no column ${ref.name}`)
      return columnVector(column.column)
    },
    aggregate(part) {
      let vector = kept.get(part.key)
      if (vector === undefined) {
        vector = aggregate(part)
        kept.set(part.key, vector)
      }
      return vector
    },
  }
  const readValue = (name: string): Vector => {
    if (value === undefined) throw new Error('the judged value cannot be read while it is worked out')
    if (name === 'value') return value
    const ends = statistic(name === 'lowest' ? 'lowest' : 'highest', numbers(value, length), population, groupCount)
    return perCell(ends, groups, groupCount)
  }
  const aggregate = (part: BoundAggregate): Vector => {
    const own = part.within === undefined ? { groups, count: groupCount } : groupCells(table, part.within)
    const holds = part.where === undefined ? undefined : conditions(evaluate(part.where, scope), length)
    const whole = rule.among === undefined && holds === undefined
    const counted = whole
      ? own.groups
      : own.groups.map((g, i) => (population[i] < 0 || (holds !== undefined && holds[i] !== 1) ? -1 : g))
    const values = part.of === undefined ? new Float64Array(length) : asNumbers(evaluate(part.of, scope), length)
    return perCell(statistic(part.statistic, values, counted, own.count, part.share), own.groups, own.count)
  }
  const painted: Bound = { op: 'name', ref: { kind: 'measure', name: rule.measure }, type: rule.judged }
  // The painted measure itself is what `value` means while the judge is worked out.
  value = evaluate(painted, scope)
  if (rule.judge !== undefined) value = rounded(evaluate(rule.judge.bound, scope))
  if (value.constant) value = spread(value, length)
  if (rule.among !== undefined) {
    const holds = conditions(evaluate(rule.among.bound, scope), length)
    population = groups.map((g, i) => (holds[i] === 1 ? g : -1))
    kept.clear()
  }
  const judgedValue = value
  return {
    length,
    value: judgedValue,
    groups,
    groupCount,
    population,
    run: (bound) => rounded(evaluate(bound, scope)),
    note: (said) => notes.push(said),
  }
}

function rounded(vector: Vector): Vector {
  return vector.kind === 'number' ? { ...vector, values: vector.values.map(round14) } : vector
}

function spread(value: Vector, length: number): Vector {
  if (value.kind === 'text') return { ...value, constant: false, codes: new Int32Array(length).fill(value.codes[0]) }
  if (value.kind === 'condition')
    return { ...value, constant: false, values: new Int8Array(length).fill(value.values[0]) }
  return { ...value, constant: false, values: new Float64Array(length).fill(value.values[0]) }
}

/** One number a group, as one number a cell; a single group makes a constant. */
function perCell(values: Float64Array, groups: Int32Array, count: number): Vector {
  if (count === 1) return constantNumber(values[0])
  const out = new Float64Array(groups.length)
  for (let i = 0; i < groups.length; i++) out[i] = groups[i] < 0 ? Number.NaN : values[groups[i]]
  return { kind: 'number', constant: false, values: out }
}
