import type { Column } from '../column/column.js'
import { nearest } from '../problem/nearest.js'
import { ProblemError, problem } from '../problem/problem.js'
import type { RemoteTable } from '../summary/contract.js'
import { createSqlEngine } from '../summary/sql/engine.js'
import type { SqlTable } from '../summary/sql/query.js'
import type { SqlColumn } from '../summary/sql/text.js'
import { columnType, createTable, type TableColumn } from '../table/table.js'
import type { PeriodUnit } from '../time/period.js'

/**
 * Rows in a database. Give it to `openReport` under the name of its source, and close it
 * afterwards.
 */
export interface DatabaseTable extends RemoteTable {
  /** Closes the connection; closing twice does nothing. */
  close(): Promise<void>
}

/** Columns without rows, and an engine that answers for them. */
export function remoteTable(
  table: SqlTable,
  grains: ReadonlyMap<string, PeriodUnit>,
  close: () => Promise<void>,
): DatabaseTable {
  const columns = [...table.columns.values()].map(({ name, kind }): TableColumn => {
    const column = emptySqlColumn(kind)
    return { name, label: name, column, type: columnType(column) }
  })
  const shape = createTable(0, columns)
  const types = new Map(columns.map((column) => [column.name, column.type]))
  let open = true
  return {
    table: shape,
    nearly: new Map(),
    grains,
    notes: [],
    connect(fields, fieldTypes, options) {
      return createSqlEngine(table, fields, new Map([...types, ...fieldTypes]), options)
    },
    async close() {
      if (open) await close()
      open = false
    },
  }
}

function emptySqlColumn(kind: SqlColumn['kind']): Column {
  if (kind === 'text') return { kind, codes: new Int32Array(0), words: [] }
  return kind === 'condition' ? { kind, values: new Int8Array(0) } : { kind, values: new Float64Array(0) }
}

/**
 * A text that should be a date: `2025-06-30`; `2025-06` and `2025` are the first day of the month
 * or year.
 */
export function dateFromText(text: string, matches: (text: string, pattern: string) => string): string {
  const when = (pattern: string, more: string): string =>
    `WHEN ${matches(text, pattern)} THEN CAST(${text}${more} AS date)`
  return `(CASE ${when('^[0-9]{4}-[0-9]{2}-[0-9]{2}$', '')} ${when('^[0-9]{4}-[0-9]{2}$', " || '-01'")} ${when('^[0-9]{4}$', " || '-01-01'")} END)`
}

/** The period of a date text by its length. */
export function grainOfLength(length: number): PeriodUnit | undefined {
  return length === 7 ? 'month' : length === 4 ? 'year' : undefined
}

/** Statements of one connection run one after the other. */
export function inTurn(run: SqlTable['run']): SqlTable['run'] {
  let last: Promise<unknown> = Promise.resolve()
  return (text, values, columns) => {
    const answer = last.then(() => run(text, values, columns))
    last = answer.catch(() => undefined)
    return answer
  }
}

/**
 * The period of the date column: a text of ISO dates may hold months or years. The rows are
 * queried, as the type does not tell.
 *
 * @throws ProblemError where there is no such column, it holds no dates, or some of its texts are
 *   none.
 */
export async function grainsOf(table: SqlTable, date: string | undefined): Promise<Map<string, PeriodUnit>> {
  const grains = new Map<string, PeriodUnit>()
  if (date === undefined) return grains
  const column = table.columns.get(date)
  if (column === undefined) {
    const candidates = [...table.columns.keys()]
    throw new ProblemError([
      problem(
        'unknown-column',
        { name: date, nearest: nearest(date, candidates), known: candidates },
        { path: ['date'] },
      ),
    ])
  }
  if (column.kind !== 'date')
    throw new ProblemError([problem('remote-no-date', { column: date, kind: column.kind }, { path: ['date'] })])
  const { from: text, sql } = column
  if (text === undefined) return grains
  const [[shortest], [bad], [sample]] = await table.run(
    `SELECT min(length(${text})) AS a, count(${text}) - count(${sql}) AS b, min(${text}) FILTER (WHERE ${sql} IS NULL) AS c FROM ${table.from} AS t`,
    [],
    3,
  )
  if (Number(bad) > 0)
    throw new ProblemError([
      problem('remote-not-dates', { column: date, count: Number(bad), sample: String(sample) }, { path: ['date'] }),
    ])
  const grain = grainOfLength(Number(shortest))
  if (grain !== undefined) grains.set(date, grain)
  return grains
}
