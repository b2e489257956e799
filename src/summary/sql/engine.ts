import { createCoder } from '../../column/column.js'
import { createMoments, type Moments } from '../../column/moments.js'
import { round14 } from '../../column/round.js'
import { merges, needsOf } from '../../column/statistic.js'
import type { Bound, BoundAggregate } from '../../expression/bound.js'
import { decimalsAfter } from '../../expression/decimals.js'
import { type Calendar, CIVIL_CALENDAR } from '../../time/calendar.js'
import { isTimeUnit, type TimeUnit } from '../../time/period.js'
import type { DerivedColumn, Engine, EngineOptions, GroupedAnswer, Keyed, Question } from '../contract.js'
import { MIXED } from '../contract.js'
import { type KnownDecimals, readDecimals } from './decimals.js'
import { numbersOf, Query, type SqlCell, type SqlTable } from './query.js'
import { readRecords } from './records.js'
import { dayNumber, periodNumber, type SqlColumn } from './text.js'

/** An engine that lets a database aggregate its own rows: only groups are returned. */
export function createSqlEngine(
  table: SqlTable,
  fields: ReadonlyMap<string, Bound>,
  types: ReadonlyMap<string, Bound['type']>,
  options: EngineOptions,
  columns: readonly DerivedColumn[] = [],
  columnDecimals: KnownDecimals = new Map(),
): Engine {
  const { date, calendar = CIVIL_CALENDAR } = options
  const dated = date === undefined ? undefined : table.columns.get(date)
  return {
    ask: (question) => askGroups({ table, fields, types, known: columns, columnDecimals, dated, calendar }, question),
    async askWhole(question: Question, part: BoundAggregate) {
      const asked = { ...question, parts: [part] }
      const query = new Query(table, fields, columns, await readDecimals(table, fields, asked, columnDecimals), dated)
      const keys = question.keys.map((name) => sqlKey(name, query, types, dated, calendar))
      const selected = [...keys.map((key) => key.sql), unmergedSql(part, query)]
      const rows = await table.run(
        query.text(selected, question, keys.length, dated),
        query.writer.values,
        selected.length,
      )
      const values = numbersOf(rows[keys.length]).map(round14)
      return { keys: keys.map((key, k) => keyed(key, rows[k])), values }
    },
    async records(question) {
      // Records contain every field, so all columns that they add are queried.
      const all = { ...question, keys: [], parts: [], fields: [...fields.keys()] }
      const decimals = await readDecimals(table, fields, all, columnDecimals)
      return readRecords(table, new Query(table, fields, columns, decimals, dated), types, dated, question)
    },
    async stats() {
      const query = new Query(table, fields, columns, new Map(), dated)
      const selected = ['count(*)']
      if (dated !== undefined) {
        const day = dayNumber(dated.sql)
        selected.push(`count(${dated.sql})`, `min(${day})`, `max(${day})`)
      }
      const text = query.text(selected, { keys: [], parts: [], fields: [], where: [] }, 0, undefined)
      const [rows = [0], counted = rows, from = [], to = []] = await table.run(text, [], selected.length)
      const all = Number(rows[0] ?? 0)
      const survey = { rows: all, undated: dated === undefined ? 0 : all - Number(counted[0] ?? 0) }
      if (from[0] === null || from[0] === undefined || to[0] === null) return survey
      return { ...survey, span: { from: Number(from[0]), to: Number(to[0]) } }
    },
    withColumns: (more: readonly DerivedColumn[]): Engine => {
      const kinds = new Map(types)
      for (const column of more) {
        const type = 'same' in column ? types.get(column.same) : column.type
        if (type !== undefined) kinds.set(column.name, type)
      }
      return createSqlEngine(table, fields, kinds, options, [...columns, ...more], columnDecimals)
    },
  }
}

/** The context of writing a question as SQL. */
interface Asked {
  table: SqlTable
  fields: ReadonlyMap<string, Bound>
  types: ReadonlyMap<string, Bound['type']>
  known: readonly DerivedColumn[]
  columnDecimals: KnownDecimals
  dated: SqlColumn | undefined
  calendar: Calendar
}

/** One statement for all groups of a question. */
async function askGroups(
  { table, fields, types, known: columns, columnDecimals, dated, calendar }: Asked,
  question: Question,
): Promise<GroupedAnswer> {
  const query = new Query(table, fields, columns, await readDecimals(table, fields, question, columnDecimals), dated)
  const keys = question.keys.map((name) => sqlKey(name, query, types, dated, calendar))
  const selected = [...keys.map((key) => key.sql), 'count(*)']
  const parts = question.parts.map((part) => (merges(part.statistic) ? partOf(part, query, dated) : undefined))
  for (const part of parts) selected.push(...(part?.selected ?? []))
  const agreed = question.fields.map((name) => sqlKey(name, query, types, dated, calendar))
  for (const { sql } of agreed) {
    selected.push(`min(${sql})`, `CASE WHEN min(${sql}) = max(${sql}) THEN count(${sql}) ELSE -1 END`)
  }
  // Grouped by the year, too, or by the partition key of the table: then each server aggregates its
  // own rows.
  const spread = table.spreadBy ?? (dated === undefined ? [] : [periodNumber('year', dated.sql, CIVIL_CALENDAR)])
  const text = query.text(selected, question, keys.length, dated, spread)
  const rows = await table.run(text, query.writer.values, selected.length)
  let at = keys.length
  const count = numbersOf(rows[at++])
  const moments = parts.map((part): Moments | undefined => {
    if (part === undefined) return undefined
    const moments = part.read(rows.slice(at, at + part.selected.length), count.length)
    at += part.selected.length
    return moments
  })
  const agreement = agreed.map((key) => {
    const { codes, ...rest } = keyed(key, rows[at])
    const alike = numbersOf(rows[at + 1])
    at += 2
    // All missing is uniform, too; some missing and some not is mixed.
    return { ...rest, codes: codes.map((code, g) => (code < 0 || alike[g] === count[g] ? code : MIXED)) }
  })
  return {
    groups: count.length,
    keys: keys.map((key, k) => keyed(key, rows[k])),
    rows: count,
    parts: moments,
    decimals: question.parts.map(({ statistic, of }) => decimalsAfter(statistic, of && query.decimals(of))),
    fields: agreement,
  }
}

/** A key as SQL, and how its result is read. */
interface SqlKey {
  name: string
  sql: string
  unit?: TimeUnit
  calendar: Calendar
}

function sqlKey(
  name: string,
  query: Query,
  types: ReadonlyMap<string, Bound['type']>,
  dated: SqlColumn | undefined,
  calendar: Calendar,
): SqlKey {
  const period = (unit: TimeUnit, date: string): SqlKey => ({
    name,
    sql: `CAST(${query.writer.dialect.period(unit, date, calendar)} AS float8)`,
    unit,
    calendar,
  })
  if (isTimeUnit(name) && dated !== undefined) return period(name, dated.sql)
  const { sql } = query.resolve(name)
  const type = types.get(name)
  if (type?.kind === 'date') return period(type.unit ?? 'day', sql)
  if (type?.kind === 'condition')
    return { name, sql: `(CASE WHEN ${sql} THEN 'true' WHEN NOT ${sql} THEN 'false' END)`, calendar }
  return { name, sql, calendar }
}

/** Codes in the order of first occurrence. */
function keyed({ name, unit, calendar }: SqlKey, column: readonly SqlCell[]): Keyed {
  if (unit !== undefined) {
    const seen = new Map<number, number>()
    const periods: number[] = []
    const codes = Int32Array.from(column, (cell) => {
      if (cell === null) return -1
      const period = Number(cell)
      const index = seen.get(period)
      if (index !== undefined) return index
      seen.set(period, periods.length)
      return periods.push(period) - 1
    })
    return { name, codes, domain: { kind: 'time', unit, periods, ...(calendar.yearStarts === 1 ? {} : { calendar }) } }
  }
  const coder = createCoder()
  const codes = Int32Array.from(column, (cell) => (cell === null ? -1 : coder.code(String(cell))))
  return { name, codes, domain: { kind: 'text', words: coder.words } }
}

/** The values of an aggregate, and its condition. */
function aggregated(part: BoundAggregate, query: Query): { value: string; exact?: string; filter: string[] } {
  const filter = part.where === undefined ? [] : [query.writer.write(part.where)]
  if (part.of === undefined) return { value: '*', filter }
  if (part.of.op === 'name') {
    const { sql, exact } = query.resolve(part.of.ref.name)
    return { value: sql, filter, ...(exact === undefined ? {} : { exact }) }
  }
  return { value: query.writer.write(part.of), filter }
}

function filtered(aggregate: string, filter: readonly string[]): string {
  return filter.length === 0 ? aggregate : `${aggregate} FILTER (WHERE ${filter.join(' AND ')})`
}

interface SqlPart {
  selected: string[]
  read(columns: readonly (readonly SqlCell[])[], groups: number): Moments
}

/** A mergeable part: its moments from the database. */
function partOf(part: BoundAggregate, query: Query, dated: SqlColumn | undefined): SqlPart {
  const { dialect } = query.writer
  const { value, exact, filter } = aggregated(part, query)
  const needs = needsOf(part.statistic)
  const count = filtered(`count(${value})`, filter)
  const double = (aggregate: string): string => `CAST(${filtered(aggregate, filter)} AS float8)`
  const fill =
    (names: readonly (keyof Moments)[]): SqlPart['read'] =>
    (columns, groups) => {
      const m = createMoments(groups, needs)
      m.count = numbersOf(columns[0])
      names.forEach((name, i) => {
        const numbers = numbersOf(columns[i + 1])
        for (let g = 0; g < groups; g++) if (m.count[g] > 0) m[name][g] = numbers[g]
      })
      return m
    }
  if (needs.dated !== undefined) {
    if (dated === undefined) return { selected: ['0'], read: fill([]) }
    const conditions = [...filter, `${value} IS NOT NULL`, `${dated.sql} IS NOT NULL`]
    const pair = `ARRAY[CAST(${dayNumber(dated.sql)} AS float8), ${value}]`
    const end = filtered(`${needs.dated === 'first' ? 'min' : 'max'}(${pair})`, conditions)
    return { selected: [filtered('count(*)', conditions), `(${end})[1]`, `(${end})[2]`], read: fill(['day', 'dated']) }
  }
  if (needs.sum)
    return { selected: [count, double(dialect.sum(exact ?? value, exact !== undefined))], read: fill(['sum']) }
  if (needs.ends)
    return { selected: [count, double(`min(${value})`), double(`max(${value})`)], read: fill(['lowest', 'highest']) }
  if (!needs.spread) return { selected: [count], read: fill([]) }
  const squares = `CAST(${filtered(`var_pop(${value})`, filter)} * ${count} AS float8)`
  return { selected: [count, double(`avg(${value})`), squares], read: fill(['mean', 'squares']) }
}

/** A part that does not merge. */
function unmergedSql(part: BoundAggregate, query: Query): string {
  const { value, filter } = aggregated(part, query)
  if (part.statistic === 'countDistinct') return filtered(`count(DISTINCT ${value})`, filter)
  return filtered(`percentile_cont(${part.share}) WITHIN GROUP (ORDER BY ${value})`, filter)
}
