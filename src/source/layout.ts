import { type Column, createCoder } from '../column/column.js'
import { type Coded, groupRows } from '../column/group.js'
import { nearest } from '../problem/nearest.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { rowPlaces } from '../table/join.js'
import type { SourceTable } from '../table/source-table.js'
import { createTable, type TableColumn } from '../table/table.js'
import { coarsest } from './infer.js'
import { isoDay } from './parse-values.js'

/** Columns to be stacked to pairs of a name and a value. */
export interface Stack {
  /** The columns; left out if the data are such pairs already. */
  columns?: readonly string[] | undefined
  name: string
  value: string
  /**
   * Whether the values measure different things, and so are never added; default: true if `columns`
   * is left out.
   */
  unlike?: boolean | undefined
}

/** Pairs of a name and a value to be unstacked to columns. */
export interface Unstack {
  name: string
  value: string
}

/** Stacks or unstacks a source. Throws with every problem. */
export function laidOut(
  source: SourceTable,
  { stack, unstack }: { stack?: Stack | undefined; unstack?: Unstack | undefined },
  file?: string,
): SourceTable {
  const place = file === undefined ? {} : { file }
  if (stack !== undefined && unstack !== undefined)
    throw new ProblemError([problem('one-layout', {}, { ...place, path: ['unstack'] })])
  if (unstack !== undefined) return unstacked(source, unstack, place)
  return stack === undefined ? source : stacked(source, stack, place)
}

function need(source: SourceTable, names: readonly string[], place: object, path: string): void {
  const candidates = [...source.table.columns.keys()]
  const problems = names
    .filter((name) => !candidates.includes(name))
    .map((name) =>
      problem(
        'unknown-column',
        { name, nearest: nearest(name, candidates), known: candidates },
        { ...place, path: [path] },
      ),
    )
  if (problems.length > 0) throw new ProblemError(problems)
}

function stacked(source: SourceTable, { columns, name, value }: Stack, place: object): SourceTable {
  const { table } = source
  if (columns === undefined) {
    need(source, [name, value], place, 'stack')
    return source
  }
  need(source, columns, place, 'stack')
  const stackedColumns = columns.map((column) => table.columns.get(column) as TableColumn)
  const problems: Problem[] = stackedColumns
    .filter(({ column, type }) => column.kind !== 'number' && type.kind !== 'blank')
    .map((column) => problem('stack-numbers', { column: column.name }, { ...place, path: ['stack', 'columns'] }))
  const others = [...table.columns.values()].filter((column) => !columns.includes(column.name))
  for (const taken of [name, value])
    if (others.some((column) => column.name === taken))
      problems.push(problem('stack-taken', { name: taken }, { ...place, path: ['stack'] }))
  if (problems.length > 0) throw new ProblemError(problems)
  const width = columns.length
  const rows = table.length * width
  const from = Array.from({ length: rows }, (_, i) => Math.floor(i / width))
  const values = new Float64Array(rows)
  stackedColumns.forEach(({ column }, c) => {
    const numbers = column.kind === 'number' ? column.values : undefined
    for (let i = 0; i < table.length; i++) values[i * width + c] = numbers?.[i] ?? Number.NaN
  })
  // All have one unit, or none.
  const valued = stackedColumns.filter((column) => column.type.kind !== 'blank')
  const units = new Set(valued.map((column) => JSON.stringify(column.type)))
  const type = units.size === 1 ? valued[0].type : ({ kind: 'number', unit: { is: 'none' } } as const)
  const names = namesColumn(columns, rows)
  const grains = new Map(source.grains)
  const grain = names.kind === 'date' ? coarsest(columns) : undefined
  if (grain !== undefined) grains.set(name, grain)
  const tableColumns: TableColumn[] = [
    ...others.map((column) => ({ ...column, column: rowPlaces(column.column, from) })),
    { name, label: name, column: names, type: { kind: names.kind === 'date' ? 'date' : 'text' } },
    { name: value, label: value, column: { kind: 'number', values }, type },
  ]
  return { ...source, table: createTable(rows, tableColumns), grains }
}

/** The column names as values: dates if all are, so that a column for each month becomes time. */
function namesColumn(columns: readonly string[], rows: number): Column {
  const days = columns.map((column) => isoDay(column))
  if (days.every((day) => !Number.isNaN(day)))
    return { kind: 'date', values: Float64Array.from({ length: rows }, (_, i) => days[i % columns.length]) }
  return { kind: 'text', codes: Int32Array.from({ length: rows }, (_, i) => i % columns.length), words: [...columns] }
}

function unstacked(source: SourceTable, { name, value }: Unstack, place: object): SourceTable {
  need(source, [name, value], place, 'unstack')
  const { table } = source
  const names = table.columns.get(name)?.column
  const values = table.columns.get(value)
  const problems: Problem[] = []
  if (names?.kind !== 'text') problems.push(problem('unstack-names', { name }, { ...place, path: ['unstack', 'name'] }))
  if (values?.column.kind !== 'number' && values?.type.kind !== 'blank')
    problems.push(problem('stack-numbers', { column: value }, { ...place, path: ['unstack', 'value'] }))
  const others = [...table.columns.values()].filter((column) => column.name !== name && column.name !== value)
  for (const word of names?.kind === 'text' ? names.words : [])
    if (others.some((column) => column.name === word))
      problems.push(problem('stack-taken', { name: word }, { ...place, path: ['unstack'] }))
  if (problems.length > 0 || names?.kind !== 'text' || values === undefined) throw new ProblemError(problems)
  const { groups } = groupRows(
    others.map(({ column }) => codesOf(column)),
    undefined,
    table.length,
  )
  // A second value of a name for the same keys begins a new row: nothing is added.
  const rowOf = new Map<string, number>()
  const seen = new Map<string, number>()
  const first: number[] = []
  const into = Int32Array.from(groups, (group, i) => {
    const pair = `${group} ${names.codes[i]}`
    const nth = seen.get(pair) ?? 0
    seen.set(pair, nth + 1)
    const id = `${group} ${nth}`
    let row = rowOf.get(id)
    if (row === undefined) {
      row = first.length
      rowOf.set(id, row)
      first.push(i)
    }
    return row
  })
  const columns = names.words.map((word, code): TableColumn => {
    const sums = new Float64Array(first.length).fill(Number.NaN)
    const numbers = values.column.kind === 'number' ? values.column.values : undefined
    for (let i = 0; i < into.length; i++) if (names.codes[i] === code) sums[into[i]] = numbers?.[i] ?? Number.NaN
    return {
      name: word,
      label: word,
      column: { kind: 'number', values: sums },
      type: { kind: 'number', unit: { is: 'none' } },
    }
  })
  const kept = others.map((column) => ({ ...column, column: rowPlaces(column.column, first) }))
  return { ...source, table: createTable(first.length, [...kept, ...columns]) }
}

function codesOf(column: Column): Coded {
  if (column.kind === 'text') return { codes: column.codes, size: column.words.length }
  const coder = createCoder()
  const codes = Int32Array.from(column.values, (x) =>
    Number.isNaN(x) || (column.kind === 'condition' && x < 0) ? -1 : coder.code(String(x)),
  )
  return { codes, size: coder.words.length }
}
