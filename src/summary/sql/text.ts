import type { Bound } from '../../expression/bound.js'
import { isWorkedOut } from '../../expression/decimals.js'
import { FUNCTIONS, type SqlWords } from '../../expression/functions.js'
import type { Arithmetic, Comparison } from '../../expression/tree.js'
import { ProblemError, problem } from '../../problem/problem.js'
import type { Calendar } from '../../time/calendar.js'
import { dayText } from '../../time/day.js'
import { isPeriodUnit, type TimeUnit } from '../../time/period.js'

/** The differences between databases in our SQL. */
export interface Dialect extends SqlWords {
  name: string
  /** Lower or upper case of a text, whatever the language of the database. */
  wording(name: 'lowercase' | 'uppercase', text: string): string
  /** Rounds a result to its decimals if they are known, else to 14 significant digits. */
  settle(number: string, decimals: number | undefined): string
  /**
   * A sum without rounding errors. `exact`: these numbers are decimals or whole numbers already.
   */
  sum(number: string, exact: boolean): string
  /** `periodNumber` in SQL that this database can push down to other servers. */
  period(unit: TimeUnit, date: string, calendar: Calendar): string
  /** The array type of texts or numbers. */
  list: { text: string; number: string }
  /**
   * The value of a key among few, from a list of keys and one of values; null where it is none of
   * them. Left out: looked-up columns are joined, however few keys they have.
   */
  amongFew?(keys: string, values: string, key: string): string
}

/** A column of a database, converted to our kinds. */
export interface SqlColumn {
  name: string
  kind: 'number' | 'text' | 'date' | 'condition'
  /** The value: float8, text, date or boolean; NULL where missing. */
  sql: string
  /** The column itself if it is a decimal or whole number, which sums without rounding. */
  exact?: string
  /** The decimals of its type; left out if the values must be queried. */
  decimals?: number
  /** The text of a date that the table stores as text. */
  from?: string
}

/** A parameter of a statement. */
export type SqlValue = string | number | null | readonly (string | number | null)[]

/** Resolves a name to the SQL of its value. */
export type Resolve = (name: string, writer: SqlWriter) => { sql: string; exact?: string }

export function quoteName(name: string): string {
  return `"${name.replaceAll('"', '""')}"`
}

/** A value, missing if it is `wrong`. Servers push CASE down to others, but not NULLIF. */
export function unless(value: string, wrong: string): string {
  return value.length > 300 ? `NULLIF(${value}, ${wrong})` : `(CASE WHEN ${value} <> ${wrong} THEN ${value} END)`
}

export function dateLiteral(day: number): string {
  return `DATE '${dayText(day)}'`
}

/** Days since 1970-01-01. */
export function dayNumber(date: string): string {
  return `(${date} - DATE '1970-01-01')`
}

/** The number of the period that holds a date, as `periodOf` numbers them. */
export function periodNumber(unit: TimeUnit, date: string, { yearStarts }: Calendar): string {
  const year = `EXTRACT(year FROM ${date})`
  const month = `EXTRACT(month FROM ${date})`
  if (unit === 'day') return dayNumber(date)
  if (unit === 'week') return `floor((${dayNumber(date)} + 3) / 7.0)`
  if (unit === 'weekday') return `(EXTRACT(isodow FROM ${date}) - 1)`
  if (unit === 'monthOfYear') return `(${month} - 1)`
  if (unit === 'month') return `(${year} * 12 + ${month} - 1)`
  if (unit === 'year' && yearStarts === 1) return year
  return `floor((${year} * 12 + ${month} - ${yearStarts}) / ${unit === 'quarter' ? '3.0' : '12.0'})`
}

/**
 * The same with integer arithmetic alone, which a server can push down to another, unlike EXTRACT.
 * Months are counted from 1 March of the year 0, after H. Hinnant, chrono-compatible low-level date
 * algorithms (2013).
 */
export function periodByArithmetic(unit: TimeUnit, date: string, { yearStarts }: Calendar): string {
  const days = dayNumber(date)
  if (unit === 'day') return days
  if (unit === 'week') return `floor((${days} + 3) / 7.0)`
  if (unit === 'weekday') return `((${days} + 3) % 7)`
  const since = `(${days} + 719468)`
  const era = `(${since} / 146097)`
  const day = `(${since} % 146097)`
  const year = `((${day} - ${day} / 1460 + ${day} / 36524 - ${day} / 146096) / 365)`
  const ofYear = `(${day} - (365 * ${year} + ${year} / 4 - ${year} / 100))`
  const month = `((${era} * 400 + ${year}) * 12 + (5 * ${ofYear} + 2) / 153 + 2)`
  if (unit === 'month') return month
  if (unit === 'monthOfYear') return `(${month} % 12)`
  return `((${month} - ${yearStarts - 1}) / ${unit === 'quarter' ? 3 : 12})`
}

/** Longer statements come from a formula that grows without bounds. */
const MAX_STATEMENT_LENGTH = 300_000

const SIGNS: Readonly<Record<Exclude<Arithmetic, '/'>, string>> = { '+': '+', '-': '-', '*': '*', of: '*' }
const COMPARISONS: Readonly<Record<Comparison, string>> = {
  '=': '=',
  '!=': '<>',
  '<': '<',
  '<=': '<=',
  '>': '>',
  '>=': '>=',
}

/**
 * Writes bound expressions as SQL. Texts are passed as parameters; the statement contains only our
 * own numbers and words.
 */
export class SqlWriter {
  readonly values: SqlValue[] = []

  constructor(
    readonly dialect: Dialect,
    private readonly resolve: Resolve,
    private readonly decimals: (bound: Bound) => number | undefined = () => undefined,
  ) {}

  value(value: SqlValue, type: string): string {
    this.values.push(value)
    return `CAST($${this.values.length} AS ${type})`
  }

  write(bound: Bound): string {
    const text = this.written(bound)
    if (text.length > MAX_STATEMENT_LENGTH)
      throw new ProblemError([problem('sql-too-long', { engine: this.dialect.name })])
    return text
  }

  private written(bound: Bound): string {
    switch (bound.op) {
      case 'number':
        return numberLiteral(bound.value)
      case 'text':
        return this.value(bound.value, 'text')
      case 'truth':
        return bound.value ? 'TRUE' : 'FALSE'
      case 'name':
        return this.resolve(bound.ref.name, this).sql
      case 'call':
        return this.call(bound.name, bound.args)
      case 'wording':
        return this.worded(bound)
      case 'dated':
        return this.dated(bound)
      case 'negate':
        return `(-${this.write(bound.of)})`
      case 'not':
        return `(NOT ${this.write(bound.of)})`
      case 'arithmetic': {
        const left = this.write(bound.left)
        const right = this.write(bound.right)
        // Division by zero is missing, never an error or infinity.
        return bound.sign === '/' ? `(${left} / ${unless(right, '0')})` : `(${left} ${SIGNS[bound.sign]} ${right})`
      }
      case 'compare':
        return `(${this.compared(bound.left)} ${COMPARISONS[bound.sign]} ${this.compared(bound.right)})`
      case 'during':
        return this.during(bound)
      case 'contains':
        return `(strpos(${this.write(bound.of)}, ${this.value(bound.text, 'text')}) > 0)`
      case 'and':
      case 'or':
        return `(${this.write(bound.left)} ${bound.op === 'and' ? 'AND' : 'OR'} ${this.write(bound.right)})`
      case 'in': {
        const list = bound.list.map((item) => this.compared(item)).join(', ')
        return `(${this.compared(bound.of)} ${bound.not ? 'NOT IN' : 'IN'} (${list}))`
      }
      case 'missing':
        return `(${this.write(bound.of)} IS ${bound.not ? 'NOT NULL' : 'NULL'})`
      case 'if': {
        const test = this.write(bound.test)
        return `(CASE WHEN ${test} THEN ${this.write(bound.yes)} WHEN NOT ${test} THEN ${this.write(bound.no)} END)`
      }
      default:
        throw new Error(`${bound.op} is not worked out for rows`)
    }
  }

  /**
   * A sum or difference of amounts is rounded to their decimals before a comparison, as in memory.
   */
  private compared(bound: Bound): string {
    const text = this.write(bound)
    const decimals = bound.type.kind === 'number' && isWorkedOut(bound) ? this.decimals(bound) : undefined
    return decimals === undefined ? text : this.dialect.settle(text, decimals)
  }

  private call(name: string, args: readonly Bound[]): string {
    const written = args.map((arg) =>
      arg.op === 'number' ? { sql: this.write(arg), constant: arg.value } : { sql: this.write(arg) },
    )
    const text = FUNCTIONS[name].sql(written, this.dialect)
    if (text === undefined) throw new ProblemError([problem('sql-digits', { engine: this.dialect.name })])
    return text
  }

  private worded(bound: Bound & { op: 'wording' }): string {
    const of = this.write(bound.of)
    if (bound.name === 'length') return `CAST(length(${of}) AS float8)`
    return this.dialect.wording(bound.name, of)
  }

  private dated({ unit, calendar, of }: Bound & { op: 'dated' }): string {
    const date = this.write(of)
    if (!isPeriodUnit(unit)) return `CAST(${this.dialect.period(unit, date, calendar)} + 1 AS float8)`
    if (unit === 'day') return date
    const months = unit === 'year' ? calendar.yearStarts - 1 : unit === 'quarter' ? (calendar.yearStarts - 1) % 3 : 0
    const moment = `CAST(${date} AS timestamp)`
    if (months === 0) return `CAST(date_trunc('${unit}', ${moment}) AS date)`
    const by = `INTERVAL '${months} months'`
    return `CAST(date_trunc('${unit}', ${moment} - ${by}) + ${by} AS date)`
  }

  private during({ sign, of, span }: Bound & { op: 'during' }): string {
    const date = this.write(of)
    const from = dateLiteral(span.from)
    const to = dateLiteral(span.to)
    if (sign === '=') return `(${date} BETWEEN ${from} AND ${to})`
    if (sign === '!=') return `(${date} NOT BETWEEN ${from} AND ${to})`
    return `(${date} ${sign} ${sign === '<' || sign === '>=' ? from : to})`
  }
}

/**
 * Numbers are doubles, as everywhere: `1 / 3` is not an integer division, and `0.1` not a decimal.
 */
export function numberLiteral(value: number): string {
  return Number.isFinite(value) ? `CAST(${value < 0 ? `(${value})` : value} AS float8)` : 'CAST(NULL AS float8)'
}
