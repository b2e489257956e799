import { type Column, createCoder } from '../../column/column.js'
import type { Bound } from '../../expression/bound.js'
import { ProblemError, problem } from '../../problem/problem.js'
import { createTable, type Table, type TableColumn } from '../../table/table.js'
import type { Question } from '../contract.js'
import { numbersOf, type Query, type SqlCell, type SqlTable } from './query.js'
import { dayNumber, quoteName, type SqlColumn } from './text.js'

/** More rows than this are too many to read, and would fill the memory. */
const MAX_RECORDS = 1_000_000

/**
 * The rows that meet the conditions, numbered from 1 in the order of the database. All of them, as
 * rules compare a row with all others.
 *
 * @throws ProblemError where there are more than a million.
 */
export async function readRecords(
  table: SqlTable,
  query: Query,
  types: ReadonlyMap<string, Bound['type']>,
  dated: SqlColumn | undefined,
  question: Pick<Question, 'where' | 'span'>,
): Promise<{ table: Table; numbers: Float64Array }> {
  const names = [...types.keys()]
  const number = numberName(table)
  const selected = [`t.${number}`, ...names.map((name) => asked(types.get(name)?.kind, query.resolve(name).sql))]
  const narrowed = query.narrowed(question, dated)
  const text = [
    `SELECT ${selected.map((sql, i) => `${sql} AS c${i}`).join(', ')}`,
    `FROM (SELECT s.*, row_number() OVER () AS ${number} FROM ${table.from} AS s) AS t`,
    ...narrowed,
    'ORDER BY 1',
    `LIMIT ${MAX_RECORDS + 1}`,
  ].join('\n')
  const [numbers, ...columns] = await table.run(text, query.writer.values, selected.length)
  const length = numbers?.length ?? 0
  if (length > MAX_RECORDS)
    throw new ProblemError([problem('records-many', { most: MAX_RECORDS.toLocaleString('en') })])
  const read = names.map((name, i): TableColumn => {
    const type = types.get(name) ?? { kind: 'text' }
    return { name, label: name, column: recordColumn(type.kind, columns[i] ?? []), type }
  })
  return { table: createTable(length, read), numbers: numbersOf(numbers ?? []) }
}

/** A name that no column of the table has. */
function numberName({ columns }: SqlTable): string {
  let name = 'row number'
  while (columns.has(name)) name += ' '
  return quoteName(name)
}

function asked(kind: Bound['type']['kind'] | undefined, sql: string): string {
  if (kind === 'date') return `CAST(${dayNumber(sql)} AS float8)`
  if (kind === 'number') return `CAST(${sql} AS float8)`
  return kind === 'condition' ? `(CASE WHEN ${sql} THEN 1 WHEN NOT ${sql} THEN 0 END)` : sql
}

function recordColumn(kind: Bound['type']['kind'], cells: readonly SqlCell[]): Column {
  if (kind === 'number' || kind === 'date') return { kind, values: numbersOf(cells) }
  if (kind === 'condition')
    return { kind, values: Int8Array.from(cells, (cell) => (cell === null ? -1 : Number(cell))) }
  const coder = createCoder()
  const codes = Int32Array.from(cells, (cell) => (cell === null ? -1 : coder.code(String(cell))))
  return { kind: 'text', codes, words: coder.words }
}
