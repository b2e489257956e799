import { createCoder } from '../column/column.js'
import { type Coded, type Grouping, groupRows } from '../column/group.js'
import { addRows, createMoments, type Moments } from '../column/moments.js'
import { merges, needsOf, statistic } from '../column/statistic.js'
import type { Bound, BoundAggregate } from '../expression/bound.js'
import { conditions, evaluate, numbers } from '../expression/evaluate.js'
import { rowScope } from '../table/fields.js'
import { rowPlaces, wordAt } from '../table/join.js'
import { type Table, withColumn } from '../table/table.js'
import { isTimeUnit, periodOf, type Span, type TimeUnit } from '../time/period.js'
import {
  type Agreed,
  type Domain,
  type Engine,
  type EngineOptions,
  type Keyed,
  type Known,
  MIXED,
  type Question,
} from './engine.js'

type Key = Coded & { domain: Domain }

/** An engine over a table in memory, for browser and Node. */
export function createMemoryEngine(table: Table, options: EngineOptions = {}): Engine {
  const { date, starts = 1 } = options
  const known = new Map<string, Key>()
  const days = (): Float64Array | undefined => {
    const column = date === undefined ? undefined : table.columns.get(date)?.column
    return column?.kind === 'date' ? column.values : undefined
  }
  const key = (name: string): Key => {
    let found = known.get(name)
    if (found === undefined) {
      found = makeKey(table, name, days(), starts)
      known.set(name, found)
    }
    return found
  }
  const grouped = (question: Question): Grouping =>
    groupRows(question.keys.map(key), keepRows(table, question, days()), table.length)
  const keyed = (names: readonly string[], { first }: Grouping): Keyed[] =>
    names.map((name) => {
      const { codes, domain } = key(name)
      return { name, domain, codes: Int32Array.from(first, (row) => codes[row]) }
    })
  return {
    async ask(question) {
      const grouping = grouped(question)
      const { groups, count } = grouping
      const rows = new Float64Array(count)
      for (let i = 0; i < groups.length; i++) if (groups[i] >= 0) rows[groups[i]]++
      const parts = question.parts.map((part) =>
        merges(part.statistic) ? gather(table, part, grouping, days()) : undefined,
      )
      const fields = question.fields.map((name) => agreed(name, key(name), grouping))
      return { groups: count, keys: keyed(question.keys, grouping), rows, parts, fields }
    },
    async askWhole(question, part) {
      const grouping = grouped(question)
      const own = narrowed(table, part, grouping.groups)
      const values = statistic(part.statistic, valuesOf(table, part), own, grouping.count, part.share)
      return { keys: keyed(question.keys, grouping), values }
    },
    async survey() {
      const own = days()
      if (own === undefined) return { rows: table.length, undated: 0 }
      let from = Number.POSITIVE_INFINITY
      let to = Number.NEGATIVE_INFINITY
      let undated = 0
      // A missing day is smaller and larger than none.
      for (const day of own) {
        if (day < from) from = day
        if (day > to) to = day
        if (Number.isNaN(day)) undated++
      }
      return { rows: table.length, undated, ...(from <= to ? { span: { from, to } } : {}) }
    },
    knowing: (more) => createMemoryEngine(withKnown(table, more), options),
  }
}

/** Adds what is known beside the table's own columns: looked up row by row, by a key that is a column. */
function withKnown(table: Table, more: readonly Known[]): Table {
  return more.reduce((known, own) => {
    const { name } = own
    if ('same' in own) {
      const found = known.columns.get(own.same)
      return found === undefined ? known : withColumn(known, { ...found, name })
    }
    const places = new Map(own.words.map((word, i) => [word, i]))
    const key = known.columns.get(own.by)?.column
    const from = Array.from({ length: table.length }, (_, i) => {
      const word = key === undefined ? null : wordAt(key, i)
      return word === null ? -1 : (places.get(word) ?? -1)
    })
    return withColumn(known, { name, label: name, column: rowPlaces(own.column, from), type: own.type })
  }, table)
}

/** Dictionary codes of a dimension: the column's own, or made once from its values. */
function makeKey(table: Table, name: string, days: Float64Array | undefined, starts: number): Key {
  if (isTimeUnit(name) && days !== undefined) return timeKey(name, days, starts)
  const { column, type } = table.columns.get(name) ?? {}
  if (column === undefined) throw new Error(`no column ${name}`)
  if (column.kind === 'text')
    return { codes: column.codes, size: column.words.length, domain: { kind: 'text', words: column.words } }
  if (column.kind === 'date')
    return timeKey((type?.kind === 'date' ? type.unit : undefined) ?? 'day', column.values, starts)
  const coder = createCoder()
  const codes = new Int32Array(table.length)
  if (column.kind === 'condition')
    for (let i = 0; i < codes.length; i++)
      codes[i] = column.values[i] < 0 ? -1 : coder.code(column.values[i] === 1 ? 'true' : 'false')
  else
    for (let i = 0; i < codes.length; i++)
      codes[i] = Number.isNaN(column.values[i]) ? -1 : coder.code(String(column.values[i]))
  return { codes, size: coder.words.length, domain: { kind: 'text', words: coder.words } }
}

function timeKey(unit: TimeUnit, days: Float64Array, starts: number): Key {
  const seen = new Map<number, number>()
  const periods: number[] = []
  const codes = new Int32Array(days.length)
  // Few days are distinct among many rows, so the calendar is asked once a day.
  const byDay = new Map<number, number>()
  for (let i = 0; i < days.length; i++) {
    const day = days[i]
    if (Number.isNaN(day)) {
      codes[i] = -1
      continue
    }
    let code = byDay.get(day)
    if (code === undefined) {
      const period = periodOf(unit, day, starts)
      code = seen.get(period)
      if (code === undefined) {
        code = periods.length
        periods.push(period)
        seen.set(period, code)
      }
      byDay.set(day, code)
    }
    codes[i] = code
  }
  const domain: Domain = { kind: 'time', unit, periods, ...(starts === 1 ? {} : { starts }) }
  return { codes, size: periods.length, domain }
}

function keepRows(
  table: Table,
  question: { where: readonly Bound[]; span?: Span },
  days: Float64Array | undefined,
): Int8Array | undefined {
  const { span } = question
  if (question.where.length === 0 && (span === undefined || days === undefined)) return undefined
  const keep = new Int8Array(table.length).fill(1)
  const scope = rowScope(table)
  for (const condition of question.where) {
    const holds = conditions(evaluate(condition, scope), table.length)
    for (let i = 0; i < keep.length; i++) if (holds[i] !== 1) keep[i] = 0
  }
  if (span !== undefined && days !== undefined) {
    // A row without a date belongs to no period; it counts only where time does not matter.
    const open = span.from === Number.NEGATIVE_INFINITY
    for (let i = 0; i < keep.length; i++)
      if (Number.isNaN(days[i]) ? !open : days[i] < span.from || days[i] > span.to) keep[i] = 0
  }
  return keep
}

/** What is aggregated, as numbers. `count()` counts rows: any value will do. */
function valuesOf(table: Table, part: BoundAggregate): Float64Array {
  if (part.of === undefined) return new Float64Array(table.length)
  const vector = evaluate(part.of, rowScope(table))
  if (vector.kind === 'number') return numbers(vector, table.length)
  const whole = vector.kind === 'text' ? vector.codes : vector.values
  const code = (i: number): number => whole[vector.constant ? 0 : i]
  return Float64Array.from({ length: table.length }, (_, i) => (code(i) < 0 ? Number.NaN : code(i)))
}

/** The groups of the rows that an aggregate's own condition leaves. */
function narrowed(table: Table, part: BoundAggregate, groups: Int32Array): Int32Array {
  if (part.where === undefined) return groups
  const holds = conditions(evaluate(part.where, rowScope(table)), table.length)
  return groups.map((group, i) => (holds[i] === 1 ? group : -1))
}

function gather(
  table: Table,
  part: BoundAggregate,
  { groups, count }: Grouping,
  days: Float64Array | undefined,
): Moments {
  const needs = needsOf(part.statistic)
  const moments = createMoments(count, needs)
  addRows(moments, valuesOf(table, part), narrowed(table, part, groups), needs, days)
  return moments
}

function agreed(name: string, key: Key, { groups, count, first }: Grouping): Agreed {
  const codes = Int32Array.from(first, (row) => key.codes[row])
  for (let i = 0; i < groups.length; i++) {
    const g = groups[i]
    if (g >= 0 && codes[g] !== key.codes[i]) codes[g] = MIXED
  }
  return { name, codes: codes.subarray(0, count), domain: key.domain }
}
