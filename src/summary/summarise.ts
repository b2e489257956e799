import type { Column } from '../column/column.js'
import { mergeMoments } from '../column/moments.js'
import { round14 } from '../column/round.js'
import { fromMoments, merges, needsOf } from '../column/statistic.js'
import { aggregatesOf, type Bound, type BoundAggregate } from '../expression/bound.js'
import { constantNumber, evaluate, numbers, type Scope, type Vector } from '../expression/evaluate.js'
import { createTable, type Table, type TableColumn } from '../table/table.js'
import { isPeriodUnit, type Span, spanOf } from '../time/period.js'
import { type Axis, type AxisKey, buildAxis, type Collate, type Placed } from './axis.js'
import { type Agreed, type Engine, type Grain, type Keyed, MIXED, type Question } from './engine.js'
import type { Measure } from './measure.js'

export interface SummaryRequest {
  rows: readonly string[]
  columns: readonly string[]
  /** Those wanted, with those they are made of. */
  measures: readonly Measure[]
  parameters: ReadonlyMap<string, number>
  /** Row columns that rules ask for where they agree inside a cell. */
  fields: readonly string[]
  where: readonly Bound[]
  /** What counts; left out where the source has no dates. */
  span?: Span
  /** What calendar axes cover; left out where the source has no dates. */
  axisSpan?: Span
  collate: Collate
  /** The rows' own columns, for the types of keys and fields. */
  source: Table
}

/** All cells of one pair of depths: row r and column c stand at `r * columns + c`. */
export interface Level {
  rowDepth: number
  columnDepth: number
  /** Keys, agreed fields and measures, a cell a row. */
  table: Table
  /** Fields that differ inside some cell, and so cannot be read here. */
  mixed: ReadonlySet<string>
}

export interface Summary {
  rows: Axis
  columns: Axis
  /** `levels[rowDepth][columnDepth]` */
  levels: readonly (readonly Level[])[]
  /** How many rows counted. */
  counted: number
}

/** Asks the finest grain once and makes every level of totals from it; what does not merge is asked for at each level. */
export async function summarise(engine: Engine, request: SummaryRequest): Promise<Summary> {
  const parts = distinctParts(request.measures)
  const base = { where: request.where, ...(request.span === undefined ? {} : { span: request.span }) }
  const keys = [...new Set([...request.rows, ...request.columns])]
  const question: Question = { keys, parts, fields: request.fields, ...base }
  const grain = await engine.ask(question)
  const rows = buildAxis(request.rows, grain, request.axisSpan, request.collate)
  const columns = buildAxis(request.columns, grain, request.axisSpan, request.collate)
  const levels: Level[][] = []
  for (let i = 0; i <= request.rows.length; i++) {
    levels.push([])
    for (let j = 0; j <= request.columns.length; j++) {
      const cells = placeCells(rows, columns, i, j)
      const whole = new Map<string, Float64Array>()
      for (const part of parts) {
        if (merges(part.statistic)) continue
        const own = {
          ...base,
          keys: [...request.rows.slice(0, i), ...request.columns.slice(0, j)],
          parts: [],
          fields: [],
        }
        whole.set(part.key, spread(await engine.askWhole(own, part), rows.axis, columns.axis, i, j))
      }
      levels[i].push(makeLevel(request, grain, parts, cells, whole))
    }
  }
  return { rows: rows.axis, columns: columns.axis, levels, counted: grain.rows.reduce((a, b) => a + b, 0) }
}

function distinctParts(measures: readonly Measure[]): BoundAggregate[] {
  const parts = new Map<string, BoundAggregate>()
  for (const measure of measures) for (const part of aggregatesOf(measure.bound)) parts.set(part.key, part)
  return [...parts.values()]
}

interface Cells {
  rowDepth: number
  columnDepth: number
  rows: Axis
  columns: Axis
  count: number
  /** The cell of each group of the grain. */
  of: Int32Array
}

function placeCells(rows: Placed, columns: Placed, rowDepth: number, columnDepth: number): Cells {
  const width = columns.axis.depths[columnDepth].length
  const r = rows.at[rowDepth]
  const c = columns.at[columnDepth]
  const of = Int32Array.from(r, (row, g) => (row < 0 || c[g] < 0 ? -1 : row * width + c[g]))
  const count = rows.axis.depths[rowDepth].length * width
  return { rowDepth, columnDepth, rows: rows.axis, columns: columns.axis, count, of }
}

function makeLevel(
  request: SummaryRequest,
  grain: Grain,
  parts: readonly BoundAggregate[],
  cells: Cells,
  whole: ReadonlyMap<string, Float64Array>,
): Level {
  const { count, of } = cells
  const hasRows = new Uint8Array(count)
  for (let g = 0; g < of.length; g++) if (of[g] >= 0) hasRows[of[g]] = 1
  const values = new Map(whole)
  parts.forEach((part, k) => {
    const fine = grain.parts[k]
    if (fine === undefined) return
    const needs = needsOf(part.statistic)
    values.set(part.key, fromMoments(part.statistic, mergeMoments(fine, of, count, needs)))
  })
  // A cell without rows is missing for every measure, count too; 0 is for rows of which none fits.
  for (const column of values.values()) for (let i = 0; i < count; i++) if (hasRows[i] === 0) column[i] = Number.NaN
  const made = [...keyColumns(request, cells)]
  const mixed = new Set<string>()
  for (const field of grain.fields) {
    const column = fieldColumn(request.source, field, cells)
    if (column === undefined) mixed.add(field.name)
    else if (!made.some((m) => m.name === field.name)) made.push(column)
  }
  made.push(...measureColumns(request, values, count))
  const { rowDepth, columnDepth } = cells
  return { rowDepth, columnDepth, table: createTable(count, made), mixed }
}

/** Measures are worked out after summarising, so that a ratio is a ratio of sums at every level. */
function measureColumns(
  request: SummaryRequest,
  parts: ReadonlyMap<string, Float64Array>,
  length: number,
): TableColumn[] {
  const done = new Map<string, Float64Array>()
  const byName = new Map(request.measures.map((m) => [m.name, m]))
  const scope: Scope = {
    length,
    read(ref): Vector {
      if (ref.kind === 'parameter') return constantNumber(request.parameters.get(ref.name) ?? Number.NaN)
      return { kind: 'number', constant: false, values: work(ref.name) }
    },
    aggregate: (part) => ({ kind: 'number', constant: false, values: parts.get(part.key) ?? new Float64Array(length) }),
  }
  const work = (name: string): Float64Array => {
    const known = done.get(name)
    if (known !== undefined) return known
    const measure = byName.get(name)
    if (measure === undefined) throw new Error(`no measure ${name}`)
    const values = numbers(evaluate(measure.bound, scope), length).map(round14)
    done.set(name, values)
    return values
  }
  return request.measures.map((measure) => {
    const column: TableColumn = {
      name: measure.name,
      label: measure.label,
      column: { kind: 'number', values: work(measure.name) },
      type: { kind: 'number', unit: measure.unit },
    }
    if (measure.format !== undefined) column.format = measure.format
    if (measure.better !== undefined) column.better = measure.better
    return column
  })
}

function* keyColumns(request: SummaryRequest, cells: Cells): Generator<TableColumn> {
  const { rows, columns, rowDepth, columnDepth, count } = cells
  const width = columns.depths[columnDepth].length
  for (let k = 0; k < rowDepth; k++) {
    const nodes = rows.depths[rowDepth]
    const code = (i: number): number => nodes[Math.floor(i / width)].codes[k]
    yield keyColumn(
      request.source,
      rows.keys[k],
      Int32Array.from({ length: count }, (_, i) => code(i)),
    )
  }
  for (let k = 0; k < columnDepth; k++) {
    const nodes = columns.depths[columnDepth]
    const code = (i: number): number => nodes[i % width].codes[k]
    yield keyColumn(
      request.source,
      columns.keys[k],
      Int32Array.from({ length: count }, (_, i) => code(i)),
    )
  }
}

function keyColumn(source: Table, { name, domain }: AxisKey, codes: Int32Array): TableColumn {
  if (domain.kind === 'text') return typed(source, name, codes, domain.words)
  const { unit, periods } = domain
  // A period stands at its first day, to be compared with written periods; a cycle is its number, from 1.
  const value = (code: number): number => (isPeriodUnit(unit) ? spanOf(unit, periods[code]).from : periods[code] + 1)
  const values = Float64Array.from(codes, (code) => (code < 0 ? Number.NaN : value(code)))
  return isPeriodUnit(unit)
    ? { name, label: name, column: { kind: 'date', values }, type: { kind: 'date' } }
    : { name, label: name, column: { kind: 'number', values }, type: { kind: 'number', unit: { is: 'none' } } }
}

/** Undefined where the rows of some cell differ. */
function fieldColumn(source: Table, field: Agreed, cells: Cells): TableColumn | undefined {
  const NOTHING = -3
  const codes = new Int32Array(cells.count).fill(NOTHING)
  for (let g = 0; g < cells.of.length; g++) {
    const cell = cells.of[g]
    if (cell < 0) continue
    const code = field.codes[g]
    if (code === MIXED || (codes[cell] !== NOTHING && codes[cell] !== code)) return undefined
    codes[cell] = code
  }
  return keyColumn(
    source,
    field,
    codes.map((code) => Math.max(code, -1)),
  )
}

/** Words back to the kind that the source's column has. */
function typed(source: Table, name: string, codes: Int32Array, words: readonly string[]): TableColumn {
  const own = source.columns.get(name)
  const label = own?.label ?? name
  const kind = own?.column.kind ?? 'text'
  if (kind === 'text') return { name, label, column: { kind, codes, words }, type: { kind: 'text' } }
  const meant = words.map((word) => (kind === 'condition' ? Number(word === 'true') : Number(word)))
  const values = (missing: number): number[] => Array.from(codes, (code) => (code < 0 ? missing : meant[code]))
  const column: Column =
    kind === 'condition'
      ? { kind, values: Int8Array.from(values(-1)) }
      : { kind: 'number', values: Float64Array.from(values(Number.NaN)) }
  return { name, label, column, type: own?.type ?? { kind: 'text' } }
}

/** Values told per combination of keys, put at the cells of a level. */
function spread(
  answer: { keys: readonly Keyed[]; values: Float64Array },
  rows: Axis,
  columns: Axis,
  rowDepth: number,
  columnDepth: number,
): Float64Array {
  const rowNodes = rows.depths[rowDepth]
  const columnNodes = columns.depths[columnDepth]
  const word = (key: AxisKey | Keyed, code: number): string => {
    const { domain } = key
    if (code < 0) return 'missing'
    return domain.kind === 'time' ? `period ${domain.periods[code]}` : `word ${domain.words[code]}`
  }
  const found = new Map<string, number>()
  for (let g = 0; g < answer.values.length; g++)
    found.set(JSON.stringify(answer.keys.map((key) => word(key, key.codes[g]))), answer.values[g])
  const out = new Float64Array(rowNodes.length * columnNodes.length)
  let i = 0
  for (const row of rowNodes)
    for (const column of columnNodes) {
      const own = row.codes.map((code, k) => word(rows.keys[k], code))
      own.push(...column.codes.map((code, k) => word(columns.keys[k], code)))
      out[i++] = found.get(JSON.stringify(own)) ?? Number.NaN
    }
  return out
}
