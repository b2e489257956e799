import { ProblemError, problem } from '../problem/problem.js'
import { fromRows } from './rows.js'
import type { SourceTable } from './source-table.js'
import type { Table } from './table.js'

/**
 * The table of an argument: a table, or a list of rows.
 *
 * @param name where it was given, for the problem.
 * @throws ProblemError for anything else.
 */
export function asTable(given: unknown, name: string): Table {
  if (Array.isArray(given)) return fromRows(given)
  if (isTable(given)) return given
  throw new ProblemError([problem('no-table', { found: given === null ? 'nothing' : typeof given }, { path: [name] })])
}

/**
 * The rows of a source from an argument: a read source, a table, a list of rows, or a remote table.
 */
export function asSourceTable(given: unknown, name: string): SourceTable {
  const source = given as SourceTable | null | undefined
  if (typeof source === 'object' && source !== null && isTable(source.table) && source.nearly instanceof Map)
    return source
  return { table: asTable(given, name), nearly: new Map(), grains: new Map(), notes: [] }
}

function isTable(given: unknown): given is Table {
  const table = given as Table | null | undefined
  return (
    typeof table === 'object' && table !== null && table.columns instanceof Map && Number.isSafeInteger(table.length)
  )
}
