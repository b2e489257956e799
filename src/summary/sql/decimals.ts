import { type Bound, referencesOf, walk } from '../../expression/bound.js'
import { isWorkedOut } from '../../expression/decimals.js'
import type { Question } from '../contract.js'
import type { SqlTable } from './query.js'

/** The known decimals of a source's columns; undefined if a column has none. */
export type KnownDecimals = Map<string, number | undefined>

/** Above the most decimals of a column: marks unknown ones. */
const UNKNOWN_DECIMALS = 7

/**
 * Queries the decimals of the columns that a question adds, subtracts or multiplies and whose type
 * does not give them: one scan for all of them, once for each source.
 */
export async function readDecimals(
  table: SqlTable,
  fields: ReadonlyMap<string, Bound>,
  question: Question,
  columnDecimals: KnownDecimals,
): Promise<KnownDecimals> {
  const names = [...addedColumns(table, fields, question)].filter((name) => !columnDecimals.has(name))
  if (names.length === 0) return columnDecimals
  const selected = names.map((name, i) => `${mostDecimals(table.columns.get(name)?.sql ?? '0')} AS c${i}`)
  const answer = await table.run(`SELECT ${selected.join(', ')}\nFROM ${table.from} AS t`, [], names.length)
  names.forEach((name, i) => {
    const most = Number(answer[i]?.[0] ?? 0)
    columnDecimals.set(name, most === UNKNOWN_DECIMALS ? undefined : most)
  })
  return columnDecimals
}

/**
 * The columns whose decimals matter for the answer: of aggregates, of fields, and of computed
 * operands of comparisons.
 */
function addedColumns(table: SqlTable, fields: ReadonlyMap<string, Bound>, question: Question): Set<string> {
  const names = new Set<string>()
  const open = new Set<string>()
  const named = (name: string, added: boolean): void => {
    const field = open.has(name) ? undefined : fields.get(name)
    if (field !== undefined) {
      open.add(name)
      if (field.type.kind === 'number') all(field)
      else compared(field)
      open.delete(name)
      return
    }
    const column = table.columns.get(name)
    if (added && column?.kind === 'number' && column.decimals === undefined) names.add(name)
  }
  const all = (bound: Bound): void => {
    for (const { name } of referencesOf(bound)) named(name, true)
    compared(bound)
  }
  const compared = (bound: Bound): void => {
    walk(bound, (part) => {
      if (part.op === 'name') named(part.ref.name, false)
      const sides = part.op === 'compare' ? [part.left, part.right] : part.op === 'in' ? [part.of, ...part.list] : []
      for (const side of sides) if (isWorkedOut(side)) for (const { name } of referencesOf(side)) named(name, true)
    })
  }
  for (const { of, where } of question.parts) {
    if (of !== undefined) all(of)
    if (where !== undefined) compared(where)
  }
  for (const condition of question.where) compared(condition)
  for (const name of [...question.keys, ...question.fields]) named(name, false)
  return names
}

/**
 * The least d of at most 6 with x = round(x, d), the largest over all rows; `UNKNOWN` where there
 * is none.
 */
function mostDecimals(number: string): string {
  const scales = Array.from({ length: UNKNOWN_DECIMALS - 1 }, (_, d) => 10 ** (d + 1))
  const cases = scales.map((scale, d) => `WHEN round(${number} * ${scale}) / ${scale} = ${number} THEN ${d + 1}`)
  return `max(CASE WHEN ${number} IS NULL OR round(${number}) = ${number} THEN 0 ${cases.join(' ')} ELSE ${UNKNOWN_DECIMALS} END)`
}
