import { createCoder } from '../column/column.js'
import { createMoments, type Moments } from '../column/moments.js'
import { round14 } from '../column/round.js'
import { merges, needsOf } from '../column/statistic.js'
import type { Bound, BoundAggregate } from '../expression/bound.js'
import { isTimeUnit, type TimeUnit } from '../time/period.js'
import type { Engine, EngineOptions, Grain, Keyed, Known, LookedUpColumn, Question } from './engine.js'
import { MIXED } from './engine.js'
import {
  type Dialect,
  dateLiteral,
  dayNumber,
  periodNumber,
  type SqlColumn,
  type SqlValue,
  SqlWriter,
} from './sql-text.js'

/** A value in an answer: texts, and numbers as doubles. */
export type SqlCell = string | number | null

/** A table in a database, or a query in brackets. */
export interface SqlTable {
  dialect: Dialect
  /** What stands behind FROM, quoted already; its rows are called t. */
  from: string
  columns: ReadonlyMap<string, SqlColumn>
  /** What the rows are spread over servers by, as it is written in the table's own definition; default: the year of the date. */
  spreadBy?: readonly string[]
  /** Runs a statement: columns of the answer, in the order asked. */
  run(text: string, values: readonly SqlValue[], columns: number): Promise<readonly (readonly SqlCell[])[]>
}

/** An engine that has a database summarise its own rows: only groups come back. */
export function createSqlEngine(
  table: SqlTable,
  fields: ReadonlyMap<string, Bound>,
  types: ReadonlyMap<string, Bound['type']>,
  options: EngineOptions,
  known: readonly Known[] = [],
): Engine {
  const { date, starts = 1 } = options
  const dated = date === undefined ? undefined : table.columns.get(date)
  const engine = {
    async ask(question: Question): Promise<Grain> {
      const query = new Query(table, fields, known)
      const keys = question.keys.map((name) => keyOf(name, query, types, dated, starts))
      const selected = [...keys.map((key) => key.sql), 'count(*)']
      const parts = question.parts.map((part) => (merges(part.statistic) ? partOf(part, query, dated) : undefined))
      for (const part of parts) selected.push(...(part?.selected ?? []))
      const agreed = question.fields.map((name) => keyOf(name, query, types, dated, starts))
      for (const { sql } of agreed) {
        selected.push(`min(${sql})`, `CASE WHEN min(${sql}) = max(${sql}) THEN count(${sql}) ELSE -1 END`)
      }
      // By the year as well, or by what the table is spread by: it is then summed up where its rows are.
      const spread = table.spreadBy ?? (dated === undefined ? [] : [periodNumber('year', dated.sql, 1)])
      const text = query.text(selected, question, keys.length, dated, spread)
      const rows = await table.run(text, query.writer.values, selected.length)
      let at = keys.length
      const count = numbersOf(rows[at++])
      const moments = parts.map((part): Moments | undefined => {
        if (part === undefined) return undefined
        const own = part.read(rows.slice(at, at + part.selected.length), count.length)
        at += part.selected.length
        return own
      })
      const agreement = agreed.map((key) => {
        const { codes, ...rest } = keyed(key, rows[at])
        const alike = numbersOf(rows[at + 1])
        at += 2
        // All missing agree, too; some missing and some not do not.
        return { ...rest, codes: codes.map((code, g) => (code < 0 || alike[g] === count[g] ? code : MIXED)) }
      })
      return {
        groups: count.length,
        keys: keys.map((key, k) => keyed(key, rows[k])),
        rows: count,
        parts: moments,
        fields: agreement,
      }
    },
    async askWhole(question: Question, part: BoundAggregate) {
      const query = new Query(table, fields, known)
      const keys = question.keys.map((name) => keyOf(name, query, types, dated, starts))
      const selected = [...keys.map((key) => key.sql), wholeOf(part, query)]
      const rows = await table.run(
        query.text(selected, question, keys.length, dated),
        query.writer.values,
        selected.length,
      )
      const values = numbersOf(rows[keys.length]).map(round14)
      return { keys: keys.map((key, k) => keyed(key, rows[k])), values }
    },
    async survey() {
      const query = new Query(table, fields, known)
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
    knowing: (more: readonly Known[]): Engine => {
      const kinds = new Map(types)
      for (const own of more) {
        const type = 'same' in own ? types.get(own.same) : own.type
        if (type !== undefined) kinds.set(own.name, type)
      }
      return createSqlEngine(table, fields, kinds, options, [...known, ...more])
    },
  }
  return engine
}

/** One statement while it is written: names resolved to columns, fields, or what is looked up beside the table. */
class Query {
  readonly writer: SqlWriter
  private readonly joins: string[] = []
  private readonly joined = new Map<string, string>()
  private readonly open = new Set<string>()

  constructor(
    private readonly table: SqlTable,
    private readonly fields: ReadonlyMap<string, Bound>,
    private readonly known: readonly Known[],
  ) {
    this.writer = new SqlWriter(table.dialect, (name) => this.resolve(name))
  }

  resolve(name: string): { sql: string; exact?: string } {
    const beside = this.known.find((own) => own.name === name)
    if (beside !== undefined) return 'same' in beside ? this.resolve(beside.same) : { sql: this.join(beside) }
    const field = this.fields.get(name)
    // A field named like the column it reads means that column.
    if (field !== undefined && !this.open.has(name)) {
      this.open.add(name)
      const sql = this.writer.write(field)
      this.open.delete(name)
      return { sql }
    }
    const column = this.table.columns.get(name)
    if (column === undefined) throw new Error(`no column ${name}`)
    return column
  }

  /** What was looked up elsewhere goes along as two lists. */
  private join(own: LookedUpColumn): string {
    const before = this.joined.get(own.name)
    if (before !== undefined) return before
    const alias = `l${this.joins.length}`
    const { list } = this.table.dialect
    const key = this.table.columns.get(own.by)
    const byNumber = key?.kind === 'number' || key?.kind === 'date'
    const keys = this.writer.value(byNumber ? own.words.map(Number) : own.words, byNumber ? list.number : list.text)
    const { column } = own
    const texts = column.kind === 'text' || column.kind === 'condition'
    const values = this.writer.value(listOf(column), texts ? list.text : list.number)
    const at = key === undefined ? 'NULL' : wordOf(key)
    this.joins.push(`LEFT JOIN (SELECT unnest(${keys}) AS k, unnest(${values}) AS v) AS ${alias} ON ${alias}.k = ${at}`)
    const sql =
      column.kind === 'condition'
        ? `(${alias}.v = 'true')`
        : column.kind === 'date'
          ? `(DATE '1970-01-01' + CAST(${alias}.v AS integer))`
          : `${alias}.v`
    this.joined.set(own.name, sql)
    return sql
  }

  /** The whole statement; what is joined is known once all else is written. */
  text(
    selected: readonly string[],
    { where, span }: Question,
    keys: number,
    dated: SqlColumn | undefined,
    groups: readonly string[] = [],
  ): string {
    const conditions = where.map((condition) => this.writer.write(condition))
    if (span !== undefined && dated !== undefined) {
      const to = `${dated.sql} <= ${dateLiteral(span.to)}`
      // A row without a date belongs to no period; it counts only where time does not matter.
      conditions.push(
        Number.isFinite(span.from)
          ? `${dated.sql} >= ${dateLiteral(span.from)} AND ${to}`
          : `(${to} OR ${dated.sql} IS NULL)`,
      )
    }
    const by = [...Array.from({ length: keys }, (_, k) => String(k + 1)), ...groups]
    const lines = [
      `SELECT ${selected.map((sql, i) => `${sql} AS c${i}`).join(', ')}`,
      `FROM ${this.table.from} AS t`,
      ...this.joins,
      ...(conditions.length === 0 ? [] : [`WHERE ${conditions.join(' AND ')}`]),
      ...(by.length === 0 ? [] : [`GROUP BY ${by.join(', ')}`]),
      'HAVING count(*) > 0',
    ]
    return lines.join('\n')
  }
}

/** A value as keys are matched: texts by themselves, all else as a number or a word. */
function wordOf({ kind, sql }: SqlColumn): string {
  if (kind === 'date') return `CAST(${dayNumber(sql)} AS float8)`
  return kind === 'condition' ? `(CASE WHEN ${sql} THEN 'true' WHEN NOT ${sql} THEN 'false' END)` : sql
}

function listOf(column: LookedUpColumn['column']): (string | number | null)[] {
  if (column.kind === 'text') return Array.from(column.codes, (code) => (code < 0 ? null : column.words[code]))
  if (column.kind === 'condition') return Array.from(column.values, (c) => (c < 0 ? null : String(c === 1)))
  return Array.from(column.values, (x) => (Number.isNaN(x) ? null : x))
}

/** A key as it is asked for, and how its answer is read. */
interface SqlKey {
  name: string
  sql: string
  unit?: TimeUnit
  starts: number
}

function keyOf(
  name: string,
  query: Query,
  types: ReadonlyMap<string, Bound['type']>,
  dated: SqlColumn | undefined,
  starts: number,
): SqlKey {
  const period = (unit: TimeUnit, date: string): SqlKey => ({
    name,
    sql: `CAST(${query.writer.dialect.period(unit, date, starts)} AS float8)`,
    unit,
    starts,
  })
  if (isTimeUnit(name) && dated !== undefined) return period(name, dated.sql)
  const { sql } = query.resolve(name)
  const type = types.get(name)
  if (type?.kind === 'date') return period(type.unit ?? 'day', sql)
  if (type?.kind === 'condition')
    return { name, sql: `(CASE WHEN ${sql} THEN 'true' WHEN NOT ${sql} THEN 'false' END)`, starts }
  return { name, sql, starts }
}

/** Codes in the order in which values first come up. */
function keyed({ name, unit, starts }: SqlKey, column: readonly SqlCell[]): Keyed {
  if (unit !== undefined) {
    const seen = new Map<number, number>()
    const periods: number[] = []
    const codes = Int32Array.from(column, (cell) => {
      if (cell === null) return -1
      const period = Number(cell)
      const known = seen.get(period)
      if (known !== undefined) return known
      seen.set(period, periods.length)
      return periods.push(period) - 1
    })
    return { name, codes, domain: { kind: 'time', unit, periods, ...(starts === 1 ? {} : { starts }) } }
  }
  const coder = createCoder()
  const codes = Int32Array.from(column, (cell) => (cell === null ? -1 : coder.code(String(cell))))
  return { name, codes, domain: { kind: 'text', words: coder.words } }
}

function numbersOf(column: readonly SqlCell[]): Float64Array {
  return Float64Array.from(column, (cell) => (cell === null ? Number.NaN : Number(cell)))
}

/** What is aggregated, and the rows it is narrowed to. */
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

/** A part that merges: its moments as the database gives them. */
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
        const own = numbersOf(columns[i + 1])
        for (let g = 0; g < groups; g++) if (m.count[g] > 0) m[name][g] = own[g]
      })
      return m
    }
  if (needs.dated !== undefined) {
    if (dated === undefined) return { selected: ['0'], read: fill([]) }
    const own = [...filter, `${value} IS NOT NULL`, `${dated.sql} IS NOT NULL`]
    const pair = `ARRAY[CAST(${dayNumber(dated.sql)} AS float8), ${value}]`
    const end = filtered(`${needs.dated === 'first' ? 'min' : 'max'}(${pair})`, own)
    return { selected: [filtered('count(*)', own), `(${end})[1]`, `(${end})[2]`], read: fill(['day', 'dated']) }
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
function wholeOf(part: BoundAggregate, query: Query): string {
  const { value, filter } = aggregated(part, query)
  if (part.statistic === 'distinct') return filtered(`count(DISTINCT ${value})`, filter)
  return filtered(`percentile_cont(${part.share}) WITHIN GROUP (ORDER BY ${value})`, filter)
}
