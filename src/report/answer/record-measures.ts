import { decimalsOfNumber, settleAll } from '../../column/decimals.js'
import { type Bound, type BoundAggregate, walk } from '../../expression/bound.js'
import { decimalsAfter, decimalsOf, type KnownDecimals } from '../../expression/decimals.js'
import { conditions, constantNumber, evaluate, numbers, type Scope, type Vector } from '../../expression/evaluate.js'
import type { Measure } from '../../summary/plan/measures.js'
import { tableDecimals } from '../../table/decimals.js'
import { rowScope } from '../../table/fields.js'
import type { Table } from '../../table/table.js'

/**
 * Whether a single row can answer a measure: it reads no other time, no other cell and no other
 * source.
 */
export function ofOneRow(measure: Measure, measures: ReadonlyMap<string, Measure>): boolean {
  let can = true
  const look = (bound: Bound): void => {
    if (bound.op === 'moved' || bound.op === 'beside' || bound.op === 'streak' || bound.op === 'sameKeys') can = false
    if (bound.op === 'aggregate' && bound.source !== undefined) can = false
    if (bound.op === 'name' && bound.ref.kind === 'measure') {
      const part = measures.get(bound.ref.name)
      if (part !== undefined) walk(part.bound, look)
    }
  }
  walk(measure.bound, look)
  return can
}

/** A measure of each row, as if the row were the only one. */
export function measureRows(
  table: Table,
  measure: Measure,
  measures: ReadonlyMap<string, Measure>,
  parameters: ReadonlyMap<string, number>,
): Float64Array {
  const { length } = table
  const rows = tableDecimals(table)
  const done = new Map<Measure, Float64Array>()
  const written: KnownDecimals = {
    name(ref) {
      if (ref.kind === 'parameter') return decimalsOfNumber(parameters.get(ref.name) ?? Number.NaN)
      const part = measures.get(ref.name)
      return part && decimalsOf(part.bound, written)
    },
    aggregate: ({ statistic, of }) => decimalsAfter(statistic, of && rows(of)),
  }
  const work = (valuesOf: Measure): Float64Array => {
    const values =
      done.get(valuesOf) ??
      settleAll(numbers(evaluate(valuesOf.bound, scope), length), decimalsOf(valuesOf.bound, written))
    done.set(valuesOf, values)
    return values
  }
  const scope: Scope = {
    length,
    decimals: (bound) => decimalsOf(bound, written),
    read(ref) {
      if (ref.kind === 'parameter') return constantNumber(parameters.get(ref.name) ?? Number.NaN)
      const part = measures.get(ref.name)
      if (part === undefined) throw new Error(`no measure ${ref.name}`)
      return { kind: 'number', constant: false, values: work(part) }
    },
    aggregate: (aggregate) => aggregateRows(table, aggregate),
  }
  return work(measure)
}

/** An aggregate over one row: the value itself, or whether there is one. */
function aggregateRows(table: Table, { statistic, of, where }: BoundAggregate): Vector {
  const { length } = table
  const rows = rowScope(table)
  const holds = where === undefined ? undefined : conditions(evaluate(where, rows), length)
  const values = new Float64Array(length).fill(Number.NaN)
  const counts = statistic === 'count' || statistic === 'countDistinct'
  const vector = of === undefined ? undefined : evaluate(of, rows)
  const given = vector === undefined ? undefined : present(vector, length)
  const ofVector = vector?.kind === 'number' ? numbers(vector, length) : undefined
  for (let i = 0; i < length; i++) {
    const counted = holds === undefined || holds[i] === 1
    if (counts) values[i] = counted && (given === undefined || given[i] === 1) ? 1 : 0
    // The standard deviation of one value divides by zero: it is missing.
    else if (counted && ofVector !== undefined && statistic !== 'stdev') values[i] = ofVector[i]
  }
  return { kind: 'number', constant: false, values }
}

/** 1 if there is a value. */
function present(vector: Vector, length: number): Uint8Array {
  const out = new Uint8Array(length)
  for (let i = 0; i < length; i++) {
    const at = vector.constant ? 0 : i
    out[i] = Number(
      vector.kind === 'text'
        ? vector.codes[at] >= 0
        : vector.kind === 'condition'
          ? vector.values[at] >= 0
          : !Number.isNaN(vector.values[at]),
    )
  }
  return out
}
