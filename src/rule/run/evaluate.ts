import { decimalsOfNumber, settleAll } from '../../column/decimals.js'
import { type Order, perOrder, quantileOf, sortedOrder } from '../../column/order.js'
import { competitionRanks } from '../../column/rank.js'
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
import { tableDecimals, valuesDecimals } from '../../table/decimals.js'
import { columnVector } from '../../table/scope.js'
import type { Table } from '../../table/table.js'
import type { BoundRule, Judged, JudgedCells, RunCache } from '../model.js'
import { groupCells } from './population.js'
import { createRunCache } from './run-cache.js'

/** The part of a rule that determines its comparisons. */
type Comparing = Pick<BoundRule, 'within' | 'among' | 'judge'>

/** Cells with the current values of parameters. */
interface CellTable {
  table: Table
  parameters: ReadonlyMap<string, number>
  runCache?: RunCache
}

/**
 * Computes the judged value, the groups and the population of a rule over cells; statistics are
 * cached. `painted` is the column of the painted value; undefined for whole rows.
 */
export function evaluateRule(
  rule: Comparing,
  cells: CellTable,
  painted: string | undefined,
  notes: Problem[],
): JudgedCells {
  return new Evaluation(rule, cells, painted, notes)
}

/** The scope of a rule's expressions over its cells, with their values. */
class Evaluation implements JudgedCells, Scope {
  readonly length: number
  readonly groups: Int32Array
  readonly groupCount: number
  readonly decimals: (bound: Bound) => number | undefined
  value: Vector
  population: Int32Array
  readonly #rule: Comparing
  readonly #cells: CellTable
  readonly #notes: Problem[]
  readonly #memory: RunCache
  /** Statistics by their text after `#compared`, which names the population. */
  readonly #kept: Map<string, Vector>
  readonly #compared: string
  #ordered: readonly Order[] | undefined

  constructor(rule: Comparing, cells: CellTable, painted: string | undefined, notes: Problem[]) {
    const { table, parameters } = cells
    this.length = table.length
    this.#rule = rule
    this.#cells = cells
    this.#notes = notes
    this.#memory = cells.runCache ?? createRunCache()
    // The painted column and its groups name the population, if there is no condition or `judge`.
    const isPlain = rule.judge === undefined && rule.among === undefined
    this.#kept = isPlain ? this.#memory.statistics : new Map<string, Vector>()
    this.#compared = isPlain ? JSON.stringify([painted, rule.within, ...parameters]) : ''
    const whole = { groups: this.#memory.zeros(this.length), count: 1 }
    const { groups, count } = rule.within.length === 0 ? whole : groupCells(table, rule.within)
    this.groups = groups
    this.groupCount = count
    this.population = groups
    this.decimals = tableDecimals(table, (ref) => {
      if (ref.kind === 'parameter') return decimalsOfNumber(parameters.get(ref.name) ?? Number.NaN)
      return this.value.kind === 'number' ? valuesDecimals(this.value.values) : undefined
    })
    // In `judge`, `value` is the painted value.
    this.value = painted === undefined ? constantNumber(Number.NaN) : readColumn(table, painted)
    if (rule.judge !== undefined) this.value = this.run(rule.judge.bound)
    if (this.value.constant) this.value = repeatConstant(this.value, this.length)
    if (rule.among !== undefined) {
      const holds = conditions(evaluate(rule.among.bound, this), this.length)
      this.population = groups.map((g, i) => (holds[i] === 1 ? g : -1))
      this.#kept.clear()
      this.#ordered = undefined
    }
  }

  read(ref: Parameters<Scope['read']>[0]): Vector {
    if (ref.kind === 'parameter') return constantNumber(this.#cells.parameters.get(ref.name) ?? Number.NaN)
    if (ref.kind !== 'value') return readColumn(this.#cells.table, ref.name)
    if (ref.name === 'value') return this.value
    const ends = perOrder(this.orders(), (order) => (ref.name === 'lowest' ? order.lowest : order.highest))
    return groupsToCells(ends.map(round14), this.groups, this.groupCount)
  }

  aggregate(part: BoundAggregate): Vector {
    const key = this.#compared + part.key
    const vector = this.#kept.get(key) ?? this.#aggregated(part)
    this.#kept.set(key, vector)
    return vector
  }

  beside(bound: Bound): Vector {
    return bound.op === 'beside' ? this.#placed(bound) : constantNumber(Number.NaN)
  }

  /** One group needs no sorting by group. */
  orders(): readonly Order[] {
    if (this.#ordered === undefined) {
      const values = asNumbers(this.value, this.length)
      this.#ordered =
        this.population === this.groups && this.#rule.within.length === 0
          ? [this.#memory.order(values)]
          : sortedByGroup(values, this.population, this.groupCount).map(sortedOrder)
    }
    return this.#ordered
  }

  run(bound: Bound): Vector {
    return this.#rounded(bound, evaluate(bound, this))
  }

  note(said: Problem): void {
    this.#notes.push(said)
  }

  tried(cell: number, values: Vector, count: number): Judged {
    const at = (vector: Vector): Vector => oneOf(vector, cell)
    const trial: Scope = {
      length: count,
      decimals: this.decimals,
      read: (ref) => (ref.kind === 'value' && ref.name === 'value' ? values : at(this.read(ref))),
      aggregate: (part) => at(this.aggregate(part)),
      beside: (bound) => at(evaluate(bound, this)),
    }
    return {
      length: count,
      value: values,
      groups: new Int32Array(count).fill(this.groups[cell]),
      groupCount: this.groupCount,
      population: new Int32Array(count).fill(this.population[cell]),
      orders: () => this.orders(),
      run: (bound) => this.#rounded(bound, evaluate(bound, trial)),
      note: () => {},
    }
  }

  #groupsOf(within: readonly string[] | undefined): { groups: Int32Array; count: number } {
    return within === undefined
      ? { groups: this.groups, count: this.groupCount }
      : groupCells(this.#cells.table, within)
  }

  /** The groups, with -1 for cells outside the population or the condition. */
  #counted(all: Int32Array, where?: Bound): Int32Array {
    if (this.#rule.among === undefined && where === undefined) return all
    const holds = where === undefined ? undefined : conditions(evaluate(where, this), this.length)
    return all.map((g, i) => (this.population[i] < 0 || (holds !== undefined && holds[i] !== 1) ? -1 : g))
  }

  #aggregated(part: BoundAggregate): Vector {
    const { groups: all, count } = this.#groupsOf(part.within)
    const { length } = this
    const values = part.of === undefined ? new Float64Array(length) : asNumbers(evaluate(part.of, this), length)
    const places = PLACES[part.statistic]
    if (places !== undefined && count === 1 && this.#rule.among === undefined && part.where === undefined)
      return constantNumber(round14(places(this.#memory.order(values), part.share)))
    const decimals = decimalsAfter(part.statistic, part.of && this.decimals(part.of))
    const counted = this.#counted(all, part.where)
    return groupsToCells(statistic(part.statistic, values, counted, count, part.share, decimals), all, count)
  }

  /**
   * A share of the population's sum, or a rank in it from 1, the highest first; ties share the
   * better rank.
   */
  #placed({ how, of, within }: Bound & { op: 'beside' }): Vector {
    const { groups: all, count } = this.#groupsOf(within)
    const values = numbers(this.run(of), this.length)
    const among = this.#counted(all)
    if (how !== 'share') return { kind: 'number', constant: false, values: competitionRanks(values, among, count) }
    const sums = statistic('sum', values, among, count)
    const shares = values.map((v, i) => (sums[all[i]] === 0 ? Number.NaN : v / sums[all[i]]))
    return { kind: 'number', constant: false, values: shares }
  }

  /**
   * Rounded to its decimals if it was computed, to 14 digits if it is a column; statistics are
   * rounded already.
   */
  #rounded(bound: Bound, vector: Vector): Vector {
    if (vector.kind !== 'number') return vector
    const { values } = vector
    if (isWorkedOut(bound)) return { ...vector, values: settleAll(values, this.decimals(bound)) }
    return bound.op === 'aggregate' ? vector : { ...vector, values: values.map(round14) }
  }
}

/** Statistics that an order gives without another scan. */
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

/** The value of one cell as a constant. */
function oneOf(vector: Vector, cell: number): Vector {
  if (vector.constant) return vector
  if (vector.kind === 'text') return { ...vector, constant: true, codes: vector.codes.slice(cell, cell + 1) }
  if (vector.kind === 'condition') return { ...vector, constant: true, values: vector.values.slice(cell, cell + 1) }
  return { ...vector, constant: true, values: vector.values.slice(cell, cell + 1) }
}

/** The values as numbers: texts and conditions as their codes, so that they can be counted. */
function asNumbers(value: Vector, length: number): Float64Array {
  if (value.kind === 'number') return numbers(value, length)
  const whole = value.kind === 'text' ? codes(value, length) : conditions(value, length)
  return Float64Array.from(whole, (code) => (code < 0 ? Number.NaN : code))
}

function repeatConstant(value: Vector, length: number): Vector {
  if (value.kind === 'text') return { ...value, constant: false, codes: new Int32Array(length).fill(value.codes[0]) }
  if (value.kind === 'condition')
    return { ...value, constant: false, values: new Int8Array(length).fill(value.values[0]) }
  return { ...value, constant: false, values: new Float64Array(length).fill(value.values[0]) }
}

/** A number for each group as a number for each cell; a single group gives a constant. */
function groupsToCells(values: Float64Array, groups: Int32Array, count: number): Vector {
  if (count === 1) return constantNumber(values[0])
  const out = new Float64Array(groups.length)
  for (let i = 0; i < groups.length; i++) out[i] = groups[i] < 0 ? Number.NaN : values[groups[i]]
  return { kind: 'number', constant: false, values: out }
}
