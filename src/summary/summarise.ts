import type { Column } from '../column/column.js'
import { mergeMoments } from '../column/moments.js'
import { round14 } from '../column/round.js'
import { fromMoments, needsOf } from '../column/statistic.js'
import type { Bound, BoundAggregate } from '../expression/bound.js'
import { constantNumber, evaluate, numbers, type Scope, type Vector } from '../expression/evaluate.js'
import { createTable, type Table, type TableColumn } from '../table/table.js'
import { isPeriodUnit, type Span, spanOf } from '../time/period.js'
import { addShifts, NO_SHIFT, type Shift, shiftKey } from '../time/shift.js'
import { type Axis, type AxisKey, buildAxis, type Collate, type Placed } from './axis.js'
import { type Agreed, type Engine, type Grain, type Keyed, MIXED, type Question } from './engine.js'
import type { Measure } from './measure.js'
import { cellsInside, movedGrain, movedKeys } from './moved.js'
import { shareKeys } from './share.js'

/** One question to one source. */
export interface Asking {
  engine: Engine
  /** The parts that this source is asked for. */
  parts: readonly BoundAggregate[]
  /** Keys it can be split by; cells split by another have no values from it, totals over that key do. */
  answers(key: string): boolean
  /** Conditions on rows; all must hold. */
  where: readonly Bound[]
  /** What counts, already moved back; left out where time does not matter. */
  span?: Span
  /** How far back it is asked about; the answer is put in terms of the present. */
  shift: Shift
  /** What a total spans now, and the data in whole months: cells whose span, moved back, leaves the data are missing. */
  past?: { whole: Span; data: Span }
}

export interface SummaryRequest {
  rows: readonly string[]
  columns: readonly string[]
  /** Those wanted, with those they are made of. */
  measures: readonly Measure[]
  parameters: ReadonlyMap<string, number>
  /** Row columns of the first asking that rules ask for where they agree inside a cell. */
  fields: readonly string[]
  /** The first is home: its rows are counted, and its fields can be asked for. */
  askings: readonly Asking[]
  /** What calendar axes cover; left out where the source has no dates. */
  axisSpan?: Span
  collate: Collate
  /** Home's own columns, for the types of keys and fields. */
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

/** Asks each source for the finest grain once and makes every level of totals from it; what does not merge is asked for at each level. */
export async function summarise(request: SummaryRequest): Promise<Summary> {
  const { askings } = request
  const keys = [...new Set([...request.rows, ...request.columns])]
  const grains = await Promise.all(
    askings.map(async (asking, a) => {
      const { parts } = asking
      const fields = a === 0 ? request.fields : []
      const grain = await asking.engine.ask({ ...questionOf(asking, keys.filter(asking.answers)), parts, fields })
      return shiftKey(asking.shift) === '' ? grain : movedGrain(grain, parts, asking.shift)
    }),
  )
  const groups = grains.map((grain) => grain.groups)
  const axis = (names: readonly string[]): Placed =>
    buildAxis(shareKeys(names, grains), groups, request.axisSpan, request.collate)
  const rows = axis(request.rows)
  const columns = axis(request.columns)
  const levels: Level[][] = []
  for (let i = 0; i <= request.rows.length; i++) {
    levels.push([])
    for (let j = 0; j <= request.columns.length; j++) {
      const cells = placeCells(rows, columns, i, j)
      const values = new Map<string, Float64Array>()
      for (const [a, asking] of askings.entries())
        for (const [key, own] of await valuesOf(asking, grains[a], cells, a, request))
          values.set(partKey(asking.shift, key), own)
      levels[i].push(makeLevel(request, grains[0], cells, values))
    }
  }
  return { rows: rows.axis, columns: columns.axis, levels, counted: grains[0].rows.reduce((a, b) => a + b, 0) }
}

/** A part at one time: values of the present have the part's key alone. */
function partKey(shift: Shift, key: string): string {
  return `${shiftKey(shift)} ${key}`
}

/** Values told per combination of keys, in terms of the present; those without a present are left out. */
function presently(
  answer: { keys: readonly Keyed[]; values: Float64Array },
  shift: Shift,
): { keys: readonly Keyed[]; values: Float64Array } {
  if (shiftKey(shift) === '') return answer
  const { keys, keep } = movedKeys(answer.keys, answer.values.length, shift)
  return {
    keys: keys.map((key) => ({ ...key, codes: key.codes.filter((_, g) => keep[g] === 1) })),
    values: answer.values.filter((_, g) => keep[g] === 1),
  }
}

function questionOf({ where, span }: Asking, keys: readonly string[]): Question {
  return { keys, parts: [], fields: [], where, ...(span === undefined ? {} : { span }) }
}

/** The parts of one asking at each cell of a level. */
async function valuesOf(
  asking: Asking,
  grain: Grain,
  cells: Cells,
  answer: number,
  request: SummaryRequest,
): Promise<Map<string, Float64Array>> {
  const { count, rowDepth, columnDepth } = cells
  const of = cells.of[answer]
  const keys = [...request.rows.slice(0, rowDepth), ...request.columns.slice(0, columnDepth)]
  const values = new Map<string, Float64Array>()
  for (const [k, part] of asking.parts.entries()) {
    const fine = grain.parts[k]
    const needs = needsOf(part.statistic)
    if (fine !== undefined) values.set(part.key, fromMoments(part.statistic, mergeMoments(fine, of, count, needs)))
    else if (keys.every(asking.answers)) {
      const whole = presently(await asking.engine.askWhole(questionOf(asking, keys), part), asking.shift)
      values.set(part.key, spread(whole, cells.rows, cells.columns, rowDepth, columnDepth))
    } else values.set(part.key, new Float64Array(count).fill(Number.NaN))
  }
  const hasRows = new Uint8Array(count)
  for (let g = 0; g < of.length; g++) if (of[g] >= 0) hasRows[of[g]] = 1
  // A cell without rows is missing for every measure, count too; 0 is for rows of which none fits.
  const { past, shift } = asking
  const inside = past && cellsInside(cells.rows, cells.columns, rowDepth, columnDepth, { ...past, shift })
  for (const column of values.values())
    for (let i = 0; i < count; i++) if (hasRows[i] === 0 || inside?.[i] === 0) column[i] = Number.NaN
  return values
}

interface Cells {
  rowDepth: number
  columnDepth: number
  rows: Axis
  columns: Axis
  count: number
  /** The cell of each group of each answer. */
  of: readonly Int32Array[]
}

function placeCells(rows: Placed, columns: Placed, rowDepth: number, columnDepth: number): Cells {
  const width = columns.axis.depths[columnDepth].length
  const of = rows.at.map((own, answer) => {
    const c = columns.at[answer][columnDepth]
    return own[rowDepth].map((row, g) => (row < 0 || c[g] < 0 ? -1 : row * width + c[g]))
  })
  const count = rows.axis.depths[rowDepth].length * width
  return { rowDepth, columnDepth, rows: rows.axis, columns: columns.axis, count, of }
}

function makeLevel(
  request: SummaryRequest,
  home: Grain,
  cells: Cells,
  values: ReadonlyMap<string, Float64Array>,
): Level {
  const { count } = cells
  const made = [...keyColumns(request, cells)]
  const mixed = new Set<string>()
  for (const field of home.fields) {
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
  const scopeAt = (shift: Shift): Scope => ({
    length,
    read(ref): Vector {
      if (ref.kind === 'parameter') return constantNumber(request.parameters.get(ref.name) ?? Number.NaN)
      return { kind: 'number', constant: false, values: work(ref.name, shift) }
    },
    aggregate(part) {
      const values = parts.get(partKey(shift, part.key))
      if (values === undefined) throw new Error(`not asked for: ${part.key}`)
      return { kind: 'number', constant: false, values }
    },
    moved: (by) => scopeAt(addShifts(shift, by)),
  })
  const work = (name: string, shift: Shift): Float64Array => {
    const key = partKey(shift, name)
    const known = done.get(key)
    if (known !== undefined) return known
    const measure = byName.get(name)
    if (measure === undefined) throw new Error(`no measure ${name}`)
    const values = numbers(evaluate(measure.bound, scopeAt(shift)), length).map(round14)
    done.set(key, values)
    return values
  }
  return request.measures.map((measure) => {
    const column: TableColumn = {
      name: measure.name,
      label: measure.label,
      column: { kind: 'number', values: work(measure.name, NO_SHIFT) },
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
  const [home] = cells.of
  for (let g = 0; g < home.length; g++) {
    const cell = home[g]
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
