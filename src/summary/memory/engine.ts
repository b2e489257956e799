import { type Grouping, groupRows } from '../../column/group.js'
import { addDated, pickMoments, placeAndSum } from '../../column/grouped-moments.js'
import { addRows, createMoments, type MomentNeeds, type Moments, mergeMoments } from '../../column/moments.js'
import { isCounting, pickCodes, pickNumbers } from '../../column/pick.js'
import { once, placeInOrder, placeRows, type Slots } from '../../column/slots.js'
import { merges, needsOf, statistic } from '../../column/statistic.js'
import type { BoundAggregate } from '../../expression/bound.js'
import { decimalsAfter } from '../../expression/decimals.js'
import { conditions, evaluate, numbers } from '../../expression/evaluate.js'
import { tableDecimals } from '../../table/decimals.js'
import { rowScope } from '../../table/fields.js'
import type { Table } from '../../table/table.js'
import { CIVIL_CALENDAR } from '../../time/calendar.js'
import type { Engine, EngineOptions, Keyed, Question, SourceStats } from '../contract.js'
import { withKnown } from './known.js'
import { agreed, type Key, keepRows, makeKey, numbered, recordsOf } from './rows.js'

/** An engine over a table in memory, for browsers and Node. */
export function createMemoryEngine(table: Table, options: EngineOptions = {}): Engine {
  const { date, calendar = CIVIL_CALENDAR } = options
  const keyCache = new Map<string, Key>()
  // Statistics over all rows, cached: control totals need no further scan.
  const wholes = new Map<string, Whole>()
  const days = (): Float64Array | undefined => {
    const column = date === undefined ? undefined : table.columns.get(date)?.column
    return column?.kind === 'date' ? column.values : undefined
  }
  const key = (name: string): Key => {
    let key = keyCache.get(name)
    if (key === undefined) {
      key = makeKey(table, name, days(), calendar)
      keyCache.set(name, key)
    }
    return key
  }
  const grouped = (question: Question): Grouping =>
    groupRows(question.keys.map(key), keepRows(table, question, days()), table.length)
  const keyed = (names: readonly string[], { first }: Grouping): Keyed[] =>
    names.map((name) => {
      const { codes, domain } = key(name)
      return { name, domain, codes: pickCodes(codes, first) }
    })
  return {
    async ask(question) {
      const keys = question.keys.map(key)
      const keep = keepRows(table, question, days())
      // Sums and means of the same numbers are computed once, the first of them while rows are
      // grouped.
      const cache = new Map<string, Moments>()
      const isWhole = keys.length === 0 && keep === undefined
      const id = (part: BoundAggregate): string => JSON.stringify([part.of, part.where, needsOf(part.statistic)])
      const first = question.parts.find((p) => needsOf(p.statistic).sum && p.of !== undefined && p.where === undefined)
      const single = keep === undefined && mayBeSingle(keys, table.length)
      const inOrder = single && keys.length === 1 && isCounting(keys[0].codes, keys[0].size)
      const both = first && keep === undefined && !single ? placeAndSum(keys, valuesOf(table, first)) : undefined
      const placed =
        both?.placed ??
        (inOrder ? placeInOrder(keys[0]) : undefined) ??
        placeRows(keys, keep, table.length) ??
        numbered(keys, keep, table.length)
      const { used, rows } = placed
      const rowOf = inOrder ? keys[0].codes : single ? singleRows(placed, table.length) : undefined
      const ones = once(() => new Float64Array(used.length).fill(1))
      const zeros = once(() => new Float64Array(used.length))
      if (both !== undefined && first !== undefined)
        cache.set(id(first), pickMoments({ ...createMoments(0, needsOf('sum')), ...both.sums }, used))
      const parts = question.parts.map((part) => {
        if (!merges(part.statistic)) return undefined
        const moments =
          cache.get(id(part)) ??
          (isWhole ? (wholeOf(wholes.get(id(part))) ?? wholeCount(table, part)) : undefined) ??
          (rowOf && momentsOfRows(table, part, rowOf, { inOrder, ones, zeros })) ??
          pickMoments(momentsOf(table, part, placed, days()), used)
        cache.set(id(part), moments)
        if (keep === undefined) wholes.set(id(part), { moments, needs: needsOf(part.statistic) })
        return moments
      })
      const fields = question.fields.map((name) => agreed(name, key(name), placed))
      return {
        groups: used.length,
        keys: question.keys.map((name, k) => ({ name, domain: keys[k].domain, codes: placed.codes(k) })),
        rows: inOrder ? ones() : rows.length === used.length ? rows : pickNumbers(rows, used),
        parts,
        decimals: question.parts.map((part) => partDecimals(table, part)),
        fields,
      }
    },
    async askWhole(question, part) {
      const grouping = grouped(question)
      const kept = narrowed(table, part, grouping.groups)
      const values = statistic(part.statistic, valuesOf(table, part), kept, grouping.count, part.share)
      return { keys: keyed(question.keys, grouping), values }
    },
    records: async (question) => recordsOf(table, question, days(), (row) => row + 1),
    stats: async () => surveyOf(table.length, days()),
    withColumns: (more) => createMemoryEngine(withKnown(table, more, days()), options),
  }
}

/** The moments of some groups, merged when the whole is asked for. */
interface Whole {
  moments: Moments
  needs: MomentNeeds
}

function wholeOf(whole: Whole | undefined): Moments | undefined {
  if (whole === undefined) return undefined
  const { moments, needs } = whole
  const { length } = moments.count
  // A merge of one group gives the group.
  whole.moments = mergeMoments(moments, new Int32Array(length), 1, needs)
  return whole.moments
}

/** The number of rows, of rows without a date, and the span. */
function surveyOf(rows: number, days: Float64Array | undefined): SourceStats {
  if (days === undefined) return { rows, undated: 0 }
  let from = Number.POSITIVE_INFINITY
  let to = Number.NEGATIVE_INFINITY
  let undated = 0
  // Comparing with a missing day is false either way.
  for (const day of days) {
    if (day < from) from = day
    if (day > to) to = day
    if (Number.isNaN(day)) undated++
  }
  return { rows, undated, ...(from <= to ? { span: { from, to } } : {}) }
}

/** The values of an aggregate as numbers. `count()` counts rows: any value will do. */
function valuesOf(table: Table, part: BoundAggregate): Float64Array {
  if (part.of === undefined) return new Float64Array(table.length)
  const vector = evaluate(part.of, rowScope(table))
  if (vector.kind === 'number') return numbers(vector, table.length)
  const whole = vector.kind === 'text' ? vector.codes : vector.values
  const code = (i: number): number => whole[vector.constant ? 0 : i]
  return Float64Array.from({ length: table.length }, (_, i) => (code(i) < 0 ? Number.NaN : code(i)))
}

/** The decimals of an aggregate of rows; columns are scanned once for that. */
function partDecimals(table: Table, { statistic, of }: BoundAggregate): number | undefined {
  const reads = decimalsAfter(statistic, 0) !== undefined && of !== undefined
  return decimalsAfter(statistic, reads ? tableDecimals(table)(of) : undefined)
}

/** The number of values of a column, which needs no groups. Undefined for any other aggregate. */
function wholeCount(table: Table, { statistic, of, where }: BoundAggregate): Moments | undefined {
  if (statistic !== 'count' || where !== undefined || of?.op !== 'name') return undefined
  const column = table.columns.get(of.ref.name)?.column
  if (column?.kind !== 'number' || column.values.length === 0) return undefined
  const moments = createMoments(1, needsOf(statistic))
  moments.count[0] = countNumbers(column.values)
  return moments
}

/** A scan of its own: compiled once for all columns. */
function countNumbers(values: Float64Array): number {
  let count = 0
  for (let i = 0; i < values.length; i++) if (!Number.isNaN(values[i])) count++
  return count
}

/**
 * Whether each row may be a group of its own: some key has about as many values as there are rows.
 */
function mayBeSingle(keys: readonly Key[], length: number): boolean {
  return keys.some(({ size }) => size >= 0.9 * length)
}

/** The row of each group where no two rows share one; else undefined. */
function singleRows({ slots, count, used }: Slots, length: number): Int32Array | undefined {
  if (used.length !== length) return undefined
  const rowOfSlot = new Int32Array(count)
  const of = slots()
  for (let i = 0; i < length; i++) rowOfSlot[of[i]] = i
  return pickCodes(rowOfSlot, used)
}

/** Groups of one row each; moments never change, so that equal lists are shared. */
interface SingleRows {
  /** Whether groups are in the order of the rows. */
  inOrder: boolean
  ones(): Float64Array
  zeros(): Float64Array
}

/** The sums of groups of one row each: its values. Undefined for other statistics. */
function momentsOfRows(
  table: Table,
  part: BoundAggregate,
  rowOf: Int32Array,
  { inOrder, ones, zeros }: SingleRows,
): Moments | undefined {
  const needs = needsOf(part.statistic)
  if (!needs.sum || part.of === undefined || part.where !== undefined) return undefined
  const values = valuesOf(table, part)
  const moments = { ...createMoments(0, needs), rest: zeros() }
  if (countNumbers(values) === values.length)
    return { ...moments, sum: inOrder ? values : pickNumbers(values, rowOf), count: ones() }
  const sum = pickNumbers(values, rowOf)
  return { ...moments, sum, count: countEach(sum) }
}

/** 1 for each number; a missing one counts 0 and adds 0. */
function countEach(values: Float64Array): Float64Array {
  const count = new Float64Array(values.length)
  for (let i = 0; i < values.length; i++)
    if (Number.isNaN(values[i])) values[i] = 0
    else count[i] = 1
  return count
}

/** The groups of the rows that meet an aggregate's own condition. */
function narrowed(table: Table, part: BoundAggregate, groups: Int32Array): Int32Array {
  if (part.where === undefined) return groups
  const holds = conditions(evaluate(part.where, rowScope(table)), table.length)
  return groups.map((group, i) => (holds[i] === 1 ? group : -1))
}

function momentsOf(
  table: Table,
  part: BoundAggregate,
  { slots, count, rows }: Slots,
  days: Float64Array | undefined,
): Moments {
  const needs = needsOf(part.statistic)
  const moments = createMoments(count, needs)
  // Rows were counted already.
  if (part.of === undefined && part.where === undefined) moments.count.set(rows)
  else {
    const groups = narrowed(table, part, slots())
    if (needs.dated !== undefined) addDated(moments, valuesOf(table, part), groups, needs.dated, days)
    else addRows(moments, valuesOf(table, part), groups, needs)
  }
  return moments
}
