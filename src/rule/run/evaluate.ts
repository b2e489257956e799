import { decimalsOfNumber, settleAll } from '../../column/decimals.js'
import { type Order, ofEach, quantileOf, sortedOrder } from '../../column/order.js'
import { round14 } from '../../column/round.js'
import { sortedByGroup, statistic } from '../../column/statistic.js'
import type { Bound, BoundAggregate } from '../../expression/bound.js'
import { decimalsAfter, isWorkedOut } from '../../expression/decimals.js'
import {
  codes,
  conditions,
  constantNumber,
  evaluate,
  numbers,
  type Scope,
  type Vector,
} from '../../expression/evaluate.js'
import type { Problem } from '../../problem/problem.js'
import { tableDecimals, valuesFacts } from '../../table/decimals.js'
import { columnVector } from '../../table/scope.js'
import type { Table } from '../../table/table.js'
import type { BoundRule, JudgedCells, Kept } from '../model.js'
import { groupCells } from './population.js'
import { createKept } from './run-cache.js'

/**
 * Works out the judged value, the groups and the population of a rule over cells; statistics that are asked for twice are kept.
 * `painted` is the column that holds the painted value; undefined for whole rows.
 */
export function judge(
  rule: Pick<BoundRule, 'within' | 'among' | 'judge'>,
  cells: { table: Table; parameters: ReadonlyMap<string, number>; kept?: Kept },
  painted: string | undefined,
  notes: Problem[],
): JudgedCells {
  const { table } = cells
  const { length } = table
  const memory = cells.kept ?? createKept()
  // What is compared with is told by the painted column and its groups alone where nothing else narrows or
  // replaces it.
  const isPlain = rule.judge === undefined && rule.among === undefined
  const kept = isPlain ? memory.statistics : new Map<string, Vector>()
  const compared = isPlain ? JSON.stringify([painted, rule.within, ...cells.parameters]) : ''
  const whole = rule.within.length === 0
  const { groups, count: groupCount } = whole
    ? { groups: memory.zeros(length), count: 1 }
    : groupCells(table, rule.within)
  let ordered: readonly Order[] | undefined
  let value: Vector | undefined
  let population = groups
  const decimals = tableDecimals(table, (ref) => {
    if (ref.kind === 'parameter') return decimalsOfNumber(cells.parameters.get(ref.name) ?? Number.NaN)
    return value?.kind === 'number' ? valuesFacts(value.values).decimals : undefined
  })
  const scope: Scope = {
    length,
    decimals,
    read(ref) {
      if (ref.kind === 'parameter') return constantNumber(cells.parameters.get(ref.name) ?? Number.NaN)
      if (ref.kind === 'value') return readValue(ref.name)
      return readColumn(table, ref.name)
    },
    aggregate(part) {
      const key = compared + part.key
      const vector = kept.get(key) ?? aggregate(part)
      kept.set(key, vector)
      return vector
    },
    beside: (bound) => (bound.op === 'beside' ? placed(bound) : constantNumber(Number.NaN)),
  }
  const readValue = (name: string): Vector => {
    if (value === undefined) throw new Error('the judged value cannot be read while it is worked out')
    if (name === 'value') return value
    const ends = ofEach(orders(), (order) => (name === 'lowest' ? order.lowest : order.highest))
    return perCell(ends.map(round14), groups, groupCount)
  }
  /** One group over all cells needs no sorting; more are sorted group by group. */
  const orders = (): readonly Order[] => {
    if (ordered === undefined) {
      const values = asNumbers(value ?? constantNumber(0), length)
      ordered =
        population === groups && whole
          ? [memory.order(values)]
          : sortedByGroup(values, population, groupCount).map(sortedOrder)
    }
    return ordered
  }
  const own = (within: readonly string[] | undefined): { groups: Int32Array; count: number } =>
    within === undefined ? { groups, count: groupCount } : groupCells(table, within)
  /** Groups with -1 for cells outside the population, or where a condition does not hold. */
  const counted = (all: Int32Array, where?: Bound): Int32Array => {
    if (rule.among === undefined && where === undefined) return all
    const holds = where === undefined ? undefined : conditions(evaluate(where, scope), length)
    return all.map((g, i) => (population[i] < 0 || (holds !== undefined && holds[i] !== 1) ? -1 : g))
  }
  const aggregate = (part: BoundAggregate): Vector => {
    const { groups: all, count } = own(part.within)
    const values = part.of === undefined ? new Float64Array(length) : asNumbers(evaluate(part.of, scope), length)
    const places = PLACES[part.statistic]
    if (places !== undefined && count === 1 && rule.among === undefined && part.where === undefined)
      return constantNumber(round14(places(memory.order(values), part.share)))
    const made = decimalsAfter(part.statistic, part.of && decimals(part.of))
    return perCell(statistic(part.statistic, values, counted(all, part.where), count, part.share, made), all, count)
  }
  /** A share of the population's sum, or a place in it from 1, the highest first; ties share the better place. */
  const placed = ({ how, of, within }: Bound & { op: 'beside' }): Vector => {
    const { groups: all, count } = own(within)
    const values = numbers(rounded(of, evaluate(of, scope)), length)
    const among = counted(all)
    if (how === 'share') {
      const sums = statistic('sum', values, among, count)
      return {
        kind: 'number',
        constant: false,
        values: values.map((v, i) => (sums[all[i]] === 0 ? Number.NaN : v / sums[all[i]])),
      }
    }
    return { kind: 'number', constant: false, values: places(values, among, count) }
  }
  /**
   * As it is made: to its decimals where it is worked out, to 14 digits where it stands in a column; a
   * statistic is rounded already.
   */
  const rounded = (bound: Bound, vector: Vector): Vector => {
    if (vector.kind !== 'number') return vector
    const { values } = vector
    if (isWorkedOut(bound)) return { ...vector, values: settleAll(values, decimals(bound)) }
    return bound.op === 'aggregate' ? vector : { ...vector, values: values.map(round14) }
  }
  // The painted value itself is what `value` means while the judge is worked out.
  value = painted === undefined ? constantNumber(Number.NaN) : readColumn(table, painted)
  if (rule.judge !== undefined) value = rounded(rule.judge.bound, evaluate(rule.judge.bound, scope))
  if (value.constant) value = spread(value, length)
  if (rule.among !== undefined) {
    const holds = conditions(evaluate(rule.among.bound, scope), length)
    population = groups.map((g, i) => (holds[i] === 1 ? g : -1))
    kept.clear()
    ordered = undefined
  }
  const judgedValue = value
  return {
    length,
    value: judgedValue,
    groups,
    groupCount,
    population,
    orders,
    run: (bound) => rounded(bound, evaluate(bound, scope)),
    note: (said) => notes.push(said),
    tried(cell, values, count) {
      const at = (vector: Vector): Vector => oneOf(vector, cell)
      const trial: Scope = {
        length: count,
        decimals,
        read: (ref) => (ref.kind === 'value' && ref.name === 'value' ? values : at(scope.read(ref))),
        aggregate: (part) => at(scope.aggregate(part)),
        beside: (bound) => at(evaluate(bound, scope)),
      }
      return {
        length: count,
        value: values,
        groups: new Int32Array(count).fill(groups[cell]),
        groupCount,
        population: new Int32Array(count).fill(population[cell]),
        orders,
        run: (bound) => rounded(bound, evaluate(bound, trial)),
        note: () => {},
      }
    },
  }
}

/** Statistics that an order tells at once. */
const PLACES: Readonly<Partial<Record<BoundAggregate['statistic'], (order: Order, share: number) => number>>> = {
  lowest: (order) => order.lowest,
  highest: (order) => order.highest,
  median: (order) => quantileOf(order, 0.5),
  percentile: quantileOf,
}

function readColumn(table: Table, name: string): Vector {
  const column = table.columns.get(name)
  if (column === undefined) throw new Error(`no column ${name}`)
  return columnVector(column.column)
}

/** The value of one cell, as one that holds for all. */
function oneOf(vector: Vector, cell: number): Vector {
  if (vector.constant) return vector
  if (vector.kind === 'text') return { ...vector, constant: true, codes: vector.codes.slice(cell, cell + 1) }
  if (vector.kind === 'condition') return { ...vector, constant: true, values: vector.values.slice(cell, cell + 1) }
  return { ...vector, constant: true, values: vector.values.slice(cell, cell + 1) }
}

/** Places from 1, the highest value first; ties share the better one, and what is missing has none. */
function places(values: Float64Array, groups: Int32Array, count: number): Float64Array {
  const own: number[][] = Array.from({ length: count }, () => [])
  for (let i = 0; i < values.length; i++) if (groups[i] >= 0 && !Number.isNaN(values[i])) own[groups[i]].push(i)
  const out = new Float64Array(values.length).fill(Number.NaN)
  for (const cells of own) {
    cells.sort((a, b) => values[b] - values[a])
    cells.forEach((cell, k) => {
      out[cell] = k > 0 && values[cells[k - 1]] === values[cell] ? out[cells[k - 1]] : k + 1
    })
  }
  return out
}

/** The values as numbers: codes of texts and conditions stand for themselves, so that they can be counted. */
function asNumbers(value: Vector, length: number): Float64Array {
  if (value.kind === 'number') return numbers(value, length)
  const whole = value.kind === 'text' ? codes(value, length) : conditions(value, length)
  return Float64Array.from(whole, (code) => (code < 0 ? Number.NaN : code))
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
