import { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import { type Problem, ProblemError, problem } from '../../problem/problem.js'
import type { DerivedColumn, Engine, RemoteTable } from '../../summary/contract.js'
import { createMemoryEngine } from '../../summary/memory/engine.js'
import { withKnown } from '../../summary/memory/known.js'
import { addFields } from '../../table/fields.js'
import type { SourceTable } from '../../table/source-table.js'
import { createTable, type Table } from '../../table/table.js'
import { columnOf, typeOf, wireType } from './types.js'
import type { EngineRequest, WireColumns, WireDerived } from './wire.js'

/** A source with the fields and looked-up columns of a request, and the engine that answers it. */
export interface Prepared {
  /** Its columns; rows are in it only where it is in memory. */
  table: Table
  engine: Engine
  calendar: { yearStarts: number }
  date: string | undefined
}

/** Requests of one report have the same fields: as many of them as these stay prepared. */
const KEPT = 4
const MOST_FIELDS = 300
const MOST_DERIVED = 300
const MOST_LOOKED_UP = 200_000

/** The source as pages know it, and a way to prepare it for a request. */
export function createSources(
  source: SourceTable,
  columns: readonly string[] | undefined,
): { whole: SourceTable; prepare(request: EngineRequest): Prepared } {
  const whole = columns === undefined ? source : { ...source, table: narrowed(source.table, columns) }
  const kept = new Map<string, Prepared>()
  return {
    whole,
    prepare(request) {
      const { date, yearStarts = 1, fields = [], derived = [] } = request
      const key = JSON.stringify([date, yearStarts, fields, derived])
      const prepared = kept.get(key) ?? prepare(whole, request)
      kept.delete(key)
      kept.set(key, prepared)
      for (const old of kept.keys()) if (kept.size > KEPT) kept.delete(old)
      return prepared
    },
  }
}

function narrowed(table: Table, names: readonly string[]): Table {
  const problems: Problem[] = []
  const columns = names.flatMap((name, i) => {
    const column = table.columns.get(name)
    if (column !== undefined) return [column]
    const known = [...table.columns.keys()]
    problems.push(
      problem('unknown-column', { name, nearest: nearest(name, known), known }, { path: ['options', 'columns', i] }),
    )
    return []
  })
  if (problems.length > 0) throw new ProblemError(problems)
  return createTable(table.length, columns)
}

/** What a page is told of a source: its columns, without rows. */
export function describeSource({ table, grains, currencies }: SourceTable, records: boolean): WireColumns {
  return {
    columns: [...table.columns.values()].map(({ name, label, type, format, better }) => ({
      name,
      label,
      ...wireType(type),
      ...(format !== undefined && { format }),
      ...(better !== undefined && { better }),
    })),
    grains: [...grains].filter(([name]) => table.columns.has(name)),
    currencies: [...(currencies ?? [])].filter(([name]) => table.columns.has(name)),
    records,
  }
}

function prepare(source: SourceTable, { date, yearStarts = 1, fields = [], derived = [] }: EngineRequest): Prepared {
  const calendar = { yearStarts }
  const dated = date === undefined ? undefined : source.table.columns.get(date)
  bounded('fields', fields.length, MOST_FIELDS)
  bounded('derived', derived.length, MOST_DERIVED)
  if (date !== undefined && dated?.column.kind !== 'date') {
    const known = [...source.table.columns.keys()]
    throw new ProblemError([
      problem('unknown-column', { name: date, nearest: nearest(date, known), known }, { path: ['date'] }),
    ])
  }
  const looked = derived.map((column, i) => derivedOf(column, i))
  const days = dated?.column.kind === 'date' ? dated.column.values : undefined
  const problems: Problem[] = []
  const { table, bounds } = addFields(
    withKnown(source.table, looked, days),
    '',
    // As names of a map: what is called like something of every object is a name, too.
    Object.assign(Object.create(null), Object.fromEntries(fields.map(({ name, text }) => [name, text]))),
    new Diagnostics(problems, ['fields']),
    { calendar },
  )
  if (problems.length > 0) throw new ProblemError(problems)
  const options = { ...(date !== undefined && { date }), calendar }
  const { connect } = source as Partial<RemoteTable>
  const types = new Map([...table.columns].map(([name, { type }]) => [name, type]))
  const remote = connect?.call(source, bounds, types, options)
  const engine = remote === undefined ? createMemoryEngine(table, options) : remote.withColumns(looked)
  return { table, engine, calendar, date }
}

function derivedOf(
  { name, same, kind = 'text', unit, period, by = [], words = [], days, values = [], decimals }: WireDerived,
  index: number,
): DerivedColumn {
  if (same !== undefined) return { name, same }
  const { length } = values
  bounded('values', length, MOST_LOOKED_UP)
  const isWhole =
    by.length === words.length && by.length > 0 && [...words, ...(days ? [days] : [])].every((l) => l.length === length)
  if (!isWhole)
    throw new ProblemError([
      problem(
        'http-request',
        { detail: 'a looked-up column needs a list for each key, all as long as its values' },
        { path: ['derived', index] },
      ),
    ])
  return {
    name,
    by,
    rows: {
      length,
      words,
      ...(days && {
        days: { from: Float64Array.from(days, ([from]) => from), to: Float64Array.from(days, ([, to]) => to) },
      }),
    },
    column: columnOf(kind, values),
    type: typeOf({ kind, ...(unit && { unit }), ...(period && { period }) }),
    ...(decimals !== undefined && { decimals }),
  }
}

/** Refuses more than there can be in a report. */
export function bounded(what: string, count: number, most: number): void {
  if (count > most) throw new ProblemError([problem('http-many', { what, count, most })])
}
