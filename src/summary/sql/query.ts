import { decimalsOfValues } from '../../column/decimals.js'
import type { Bound } from '../../expression/bound.js'
import { decimalsOf } from '../../expression/decimals.js'
import type { DerivedColumn, LookedUpColumn, Question } from '../contract.js'
import { type Dialect, dateLiteral, dayNumber, type SqlColumn, type SqlValue, SqlWriter } from './text.js'

/** A value of a result: texts, and numbers as doubles. */
export type SqlCell = string | number | null

/** A table in a database, or a query in brackets. */
export interface SqlTable {
  dialect: Dialect
  /** The text after FROM, quoted already; its rows are named t. */
  from: string
  columns: ReadonlyMap<string, SqlColumn>
  /**
   * The partition key of the rows, as written in the table's definition; default: the year of the
   * date.
   */
  spreadBy?: readonly string[]
  /** Runs a statement; returns the columns of the result in order. */
  run(text: string, values: readonly SqlValue[], columns: number): Promise<readonly (readonly SqlCell[])[]>
}

/** A statement that is being written: resolves names to columns, fields and looked-up columns. */
export class Query {
  readonly writer: SqlWriter
  private readonly joins: string[] = []
  private readonly joined = new Map<string, string>()
  private readonly open = new Set<string>()

  constructor(
    private readonly table: SqlTable,
    private readonly fields: ReadonlyMap<string, Bound>,
    private readonly derived: readonly DerivedColumn[],
    /** The decimals of columns that only their values give, if they were queried. */
    private readonly decimalsOfColumns: ReadonlyMap<string, number | undefined>,
    /** The date of the rows. */
    private readonly dated: SqlColumn | undefined,
  ) {
    this.writer = new SqlWriter(
      table.dialect,
      (name) => this.resolve(name),
      (bound) => this.decimals(bound),
    )
  }

  /** The decimals of an expression over rows; undefined if unknown. */
  decimals(bound: Bound): number | undefined {
    return decimalsOf(bound, { name: (ref) => this.decimalsOfName(ref.name), aggregate: () => undefined })
  }

  private decimalsOfName(name: string): number | undefined {
    const beside = this.derived.find((column) => column.name === name)
    if (beside !== undefined) {
      if ('same' in beside) return this.decimalsOfName(beside.same)
      if (beside.decimals !== undefined) return beside.decimals ?? undefined
      return beside.column.kind === 'number' ? decimalsOfValues(beside.column.values) : undefined
    }
    const field = this.fields.get(name)
    if (field === undefined || this.open.has(name))
      return this.table.columns.get(name)?.decimals ?? this.decimalsOfColumns.get(name)
    this.open.add(name)
    const decimals = this.decimals(field)
    this.open.delete(name)
    return decimals
  }

  resolve(name: string): { sql: string; exact?: string } {
    const beside = this.derived.find((column) => column.name === name)
    if (beside !== undefined) return 'same' in beside ? this.resolve(beside.same) : { sql: this.join(beside) }
    const field = this.fields.get(name)
    // A field with the name of the column that it reads means that column.
    if (field !== undefined && !this.open.has(name)) {
      this.open.add(name)
      const sql = this.writer.write(field)
      this.open.delete(name)
      return field.type.kind === 'number' ? { sql: this.table.dialect.settle(sql, this.decimalsOfName(name)) } : { sql }
    }
    const column = this.table.columns.get(name)
    if (column === undefined) throw new Error(`no column ${name}`)
    return column
  }

  /** Looked-up columns are passed as lists: of each key, of days, and of values. */
  private join(lookedUp: LookedUpColumn): string {
    const before = this.joined.get(lookedUp.name)
    if (before !== undefined) return before
    const keys = lookedUp.by.map((name) => this.keyOf(name))
    const { rows, column } = lookedUp
    const met = Array.from({ length: rows.length }, (_, row) => row).filter((row) =>
      rows.words.every((words) => words[row] !== null),
    )
    const few = this.amongFew(lookedUp, keys, met)
    if (few !== undefined) {
      this.joined.set(lookedUp.name, few)
      return few
    }
    // The joins of its keys stand before it.
    const alias = `l${this.joins.length}`
    const { list } = this.table.dialect
    const lists: string[] = []
    const on: string[] = []
    keys.forEach((key, k) => {
      const byNumber = key?.kind === 'number' || key?.kind === 'date'
      const words = met.map((row) => String(rows.words[k][row]))
      const values = this.writer.value(byNumber ? words.map(Number) : words, byNumber ? list.number : list.text)
      lists.push(`unnest(${values}) AS k${k}`)
      on.push(`${alias}.k${k} = ${key === undefined ? 'NULL' : wordOf(key)}`)
    })
    if (rows.days !== undefined) {
      const { from, to } = rows.days
      const day = this.dated === undefined ? 'NULL' : `CAST(${dayNumber(this.dated.sql)} AS float8)`
      for (const [name, days] of [
        ['f', from],
        ['e', to],
      ] as const) {
        const values = this.writer.value(
          met.map((row) => days[row]),
          list.number,
        )
        lists.push(`unnest(${values}) AS ${name}`)
      }
      on.push(`${alias}.f <= ${day} AND ${alias}.e >= ${day}`)
    }
    lists.push(`unnest(${this.valuesOf(column, met)}) AS v`)
    this.joins.push(`LEFT JOIN (SELECT ${lists.join(', ')}) AS ${alias} ON ${on.join(' AND ') || 'TRUE'}`)
    const sql = ofKind(column, `${alias}.v`)
    this.joined.set(lookedUp.name, sql)
    return sql
  }

  /** A column of few keys, always in force, as a value of its one key; undefined for others. */
  private amongFew(
    { rows, column }: LookedUpColumn,
    [key, ...more]: readonly (SqlColumn | undefined)[],
    met: readonly number[],
  ): string | undefined {
    const { amongFew, list } = this.table.dialect
    if (amongFew === undefined || key?.kind !== 'text' || more.length > 0 || rows.days !== undefined) return undefined
    const words = met.map((row) => String(rows.words[0][row]))
    if (words.length === 0 || words.length > MOST_FEW || new Set(words).size < words.length) return undefined
    return ofKind(column, amongFew(this.writer.value(words, list.text), this.valuesOf(column, met), key.sql))
  }

  /** The values of a looked-up column in some rows, as a list. */
  private valuesOf(column: LookedUpColumn['column'], met: readonly number[]): string {
    const { list } = this.table.dialect
    const all = lookupValues(column)
    const isText = column.kind === 'text' || column.kind === 'condition'
    return this.writer.value(
      met.map((row) => all[row]),
      isText ? list.text : list.number,
    )
  }

  /** A key of the rows: a column, or one that is looked up itself. */
  private keyOf(name: string): SqlColumn | undefined {
    const derived = this.derived.find((column) => column.name === name)
    if (derived === undefined) return this.table.columns.get(name)
    if ('same' in derived) return this.keyOf(derived.same)
    const sql = this.join(derived)
    return { name, kind: derived.column.kind, sql }
  }

  /** The joins, known after all else is written, and the conditions of rows. */
  narrowed({ where, span }: Pick<Question, 'where' | 'span'>, dated: SqlColumn | undefined): string[] {
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
    return [...this.joins, ...(conditions.length === 0 ? [] : [`WHERE ${conditions.join(' AND ')}`])]
  }

  /** A statement with groups. */
  text(
    selected: readonly string[],
    question: Question,
    keys: number,
    dated: SqlColumn | undefined,
    groups: readonly string[] = [],
  ): string {
    const narrowed = this.narrowed(question, dated)
    const by = [...Array.from({ length: keys }, (_, k) => String(k + 1)), ...groups]
    const lines = [
      `SELECT ${selected.map((sql, i) => `${sql} AS c${i}`).join(', ')}`,
      `FROM ${this.table.from} AS t`,
      ...narrowed,
      ...(by.length === 0 ? [] : [`GROUP BY ${by.join(', ')}`]),
      'HAVING count(*) > 0',
    ]
    return lines.join('\n')
  }
}

/** More keys than these are found sooner by a join. */
const MOST_FEW = 200

/** A looked-up value as what its column holds. */
function ofKind({ kind }: LookedUpColumn['column'], sql: string): string {
  if (kind === 'condition') return `(${sql} = 'true')`
  return kind === 'date' ? `(DATE '1970-01-01' + CAST(${sql} AS integer))` : sql
}

/** A key value for matching: texts as they are, all else as a number or word. */
function wordOf({ kind, sql }: SqlColumn): string {
  if (kind === 'date') return `CAST(${dayNumber(sql)} AS float8)`
  return kind === 'condition' ? `(CASE WHEN ${sql} THEN 'true' WHEN NOT ${sql} THEN 'false' END)` : sql
}

function lookupValues(column: LookedUpColumn['column']): (string | number | null)[] {
  if (column.kind === 'text') return Array.from(column.codes, (code) => (code < 0 ? null : column.words[code]))
  if (column.kind === 'condition') return Array.from(column.values, (c) => (c < 0 ? null : String(c === 1)))
  return Array.from(column.values, (x) => (Number.isNaN(x) ? null : x))
}

export function numbersOf(column: readonly SqlCell[]): Float64Array {
  return Float64Array.from(column, (cell) => (cell === null ? Number.NaN : Number(cell)))
}
