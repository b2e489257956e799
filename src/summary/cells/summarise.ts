import { createTable, type Table, type TableColumn } from '../../table/table.js'
import type { Calendar } from '../../time/calendar.js'
import { isPeriodUnit, type Span, spanOf } from '../../time/period.js'
import { shiftKey } from '../../time/shift.js'
import { plainShift, stepsKey } from '../../time/step.js'
import { MIXED, type UniformField } from '../contract.js'
import { columnOfKey } from '../memory/key-column.js'
import type { Measure } from '../plan/measures.js'
import { type Axis, type AxisKey, buildAxis, type Collate } from './axis.js'
import { type CellSet, cellsOfGroups } from './cell-set.js'
import type { StreakAnswer } from './evaluate-measures.js'
import { type Parts, partsAt, worker } from './evaluate-measures.js'
import { askAll, axisKeys } from './merge.js'
import { partKey, type SourceAnswers, type SourceQuery } from './question.js'
import type { StreakQuery } from './streak.js'
import type { Others, TopN } from './top-n.js'

export interface SummaryRequest {
  rows: readonly string[]
  columns: readonly string[]
  /** The measures with those that they are made of. */
  measures: readonly Measure[]
  parameters: ReadonlyMap<string, number>
  /** Columns of home that rules read if they are uniform within a cell. */
  fields: readonly string[]
  /** The first is home: its rows are counted, and its fields can be read. */
  askings: readonly SourceQuery[]
  streaks: readonly StreakQuery[]
  /** The span of calendar axes; left out if the source has no dates. */
  axisSpan?: Span
  /** The span of totals: the axis up to the report's date. */
  whole?: Span
  /** The date of the report. */
  asOf?: number
  /** Keys whose values are compared at two times. */
  sameBy?: readonly string[]
  /** How years and quarters are cut. */
  calendar: Calendar
  collate: Collate
  /** Written orders by key. */
  orders: ReadonlyMap<string, readonly string[]>
  keeps: readonly TopN[]
  /** The measure that top n is by. */
  by?: { measure: string; falling: boolean }
  /** The columns of home, for the types of keys and fields. */
  source: Table
}

/** All cells of one level: row r and column c are at `r * columns + c`. */
export interface Level {
  rowDepth: number
  columnDepth: number
  /** Keys, uniform fields and measures, with a row for each cell. */
  table: Table
  /** Fields that are not uniform in some cell, and so cannot be read. */
  mixed: ReadonlySet<string>
  /** Set if these are the others of a key with top n. */
  rest?: Others
}

export interface Summary {
  rows: Axis
  columns: Axis
  /** `levels[rowDepth][columnDepth]` */
  levels: readonly (readonly Level[])[]
  /** The others of each row key with top n: a level for each depth of columns. */
  rests: readonly { rest: Others; levels: readonly Level[] }[]
  /** The number of rows that were counted. */
  counted: number
  /** The values of keys that `sameKeys` leaves out of the whole. */
  leftOut?: readonly { by: string; words: readonly string[] }[]
  /** Shifts, by `stepsKey`, whose values equal the present ones in every cell. */
  repeats: ReadonlySet<string>
}

/**
 * Asks each source once for the finest grain and merges it to every level of totals; statistics
 * that do not merge are asked for at each level.
 */
export async function summarise(request: SummaryRequest): Promise<Summary> {
  const more = request.sameBy ?? []
  const keys = [...new Set([...request.rows, ...request.columns, ...more])]
  const answers = await askAll(request.askings, keys, request.fields, request.calendar)
  if (request.whole !== undefined && request.axisSpan !== undefined)
    answers.time = {
      whole: request.whole,
      axis: request.axisSpan,
      asOf: request.asOf ?? request.whole.to,
      calendar: request.calendar,
    }
  const groups = answers.list.map((answer) => answer.groups.groups)
  const shared = axisKeys(answers)
  const axis = (names: readonly string[]): Axis =>
    buildAxis(
      names.flatMap((name) => shared.find((key) => key.name === name) ?? []),
      groups,
      request.axisSpan,
      request.collate,
      request.orders,
    )
  let rows = axis(request.rows)
  const columns = axis(request.columns)
  if (request.askings.some(({ addsNoRows }) => addsNoRows))
    (await import('./lookup-cells.js')).meetHeadings(
      answers,
      frameOf(rows, columns, request.rows.length, request.columns.length),
    )
  const streaks: StreakAnswer[] = []
  for (const streak of request.streaks)
    streaks.push(
      await (await import('./streak.js')).askStreak(streak, keys, { ...request, answers, whole: request.whole }),
    )
  const work = worker(request.measures, request.parameters)
  const rests: Others[] = []
  for (const keep of request.keeps) {
    const { keptRows, shownChildren, topChildren } = await import('./top-n.js')
    const depth = request.rows.indexOf(keep.key) + 1
    const frame = frameOf(rows, columns, depth, 0)
    const measure = request.measures.find((m) => m.name === request.by?.measure)
    const values = measure && work(await partsAt(answers, frame, request.measures, streaks), measure)
    const kept =
      keep.shown === undefined
        ? topChildren(rows, depth, keep, values ?? new Float64Array(frame.count), request.by?.falling ?? true)
        : shownChildren(rows, depth, keep.shown)
    const shown = keptRows(rows, depth, kept, keep)
    rests.push(...shown.rests)
    rows = shown.rows
  }
  const { levels, repeats } = await levelsOf(request, answers, { rows, columns }, streaks, work)
  const others = await Promise.all(
    rests.map(async (rest) => ({
      rest,
      levels: await Promise.all(
        columns.depths.map(async (across, columnDepth) => {
          const { keys } = frameOf(rows, columns, 0, columnDepth)
          const { restFrame } = await import('./top-n.js')
          const frame = restFrame(rows, rest, keys, across.length)
          const parts = await partsAt(answers, frame, request.measures, [])
          const { table, mixed } = makeLevel(request, answers, frame, parts, work)
          return { rowDepth: rest.depth, columnDepth, table, mixed, rest }
        }),
      ),
    })),
  )
  const [home] = answers.list
  const leftOut =
    more[0] && (await import('./same-keys.js')).leftOutOf(answers, frameOf(rows, columns, 0, 0), request.measures)
  return {
    rows,
    columns,
    levels,
    rests: others,
    repeats,
    ...(leftOut && { leftOut }),
    counted: sumOf(home.groups.rows),
  }
}

function sumOf(counts: Float64Array): number {
  let sum = 0
  for (let g = 0; g < counts.length; g++) sum += counts[g]
  return sum
}

/** Every level of totals, the deepest included, and the shifts that change nothing there. */
async function levelsOf(
  request: SummaryRequest,
  answers: SourceAnswers,
  { rows, columns }: Pick<Summary, 'rows' | 'columns'>,
  streaks: readonly StreakAnswer[],
  work: ReturnType<typeof worker>,
): Promise<Pick<Summary, 'repeats'> & { levels: Level[][] }> {
  const levels: Level[][] = []
  let repeats: ReadonlySet<string> = new Set()
  for (let rowDepth = 0; rowDepth <= request.rows.length; rowDepth++) {
    levels.push([])
    for (let columnDepth = 0; columnDepth <= request.columns.length; columnDepth++) {
      const frame = frameOf(rows, columns, rowDepth, columnDepth)
      const parts = await partsAt(answers, frame, request.measures, streaks)
      if (rowDepth === request.rows.length && columnDepth === request.columns.length)
        repeats = repeatsOf(answers, parts)
      levels[rowDepth].push({ rowDepth, columnDepth, ...makeLevel(request, answers, frame, parts, work) })
    }
  }
  return { levels, repeats }
}

/** Shifts with the values of the present, in at least two cells. */
function repeatsOf({ list }: SourceAnswers, { values }: Parts): Set<string> {
  const same = new Set<string>()
  for (const { query: asking } of list) {
    const shift = plainShift(asking.steps)
    if (asking.holdsAlways || shift === undefined || shiftKey(shift) === '') continue
    let alike = 0
    let other = false
    for (const part of asking.parts) {
      const now = values.get(partKey([], part.key))
      const then = values.get(partKey(asking.steps, part.key))
      for (let i = 0; now !== undefined && then !== undefined && i < now.length; i++) {
        if (now[i] === then[i] && now[i] !== 0) alike++
        else if (!Number.isNaN(then[i]) && now[i] !== then[i]) other = true
      }
    }
    if (alike > 1 && !other) same.add(stepsKey(asking.steps))
  }
  return same
}

/** The cells of one level. */
function frameOf(rows: Axis, columns: Axis, rowDepth: number, columnDepth: number): CellSet {
  const down = rows.depths[rowDepth]
  const across = columns.depths[columnDepth]
  const width = across.length
  const count = down.length * width
  return {
    count,
    keys: [
      ...rows.keys.slice(0, rowDepth).map((key, k) => ({ ...key, codes: cellCodes(down, k, count, width) })),
      ...columns.keys.slice(0, columnDepth).map((key, k) => ({ ...key, codes: cellCodes(across, k, count, 1) })),
    ],
  }
}

/** The code of a key in each cell: every heading stands for so many cells in a row. */
function cellCodes(nodes: Axis['depths'][number], key: number, count: number, cells: number): Int32Array {
  const codes = new Int32Array(count)
  for (let i = 0; i < count; i++) codes[i] = nodes[Math.floor(i / cells) % nodes.length].code(key)
  return codes
}

function makeLevel(
  request: SummaryRequest,
  answers: SourceAnswers,
  frame: CellSet,
  parts: Parts,
  work: (parts: Parts, measure: Measure) => Float64Array,
): { table: Table; mixed: Set<string> } {
  const columns = frame.keys.map((key) => keyColumn(request.source, key, key.codes))
  const mixed = new Set<string>()
  const [home] = answers.list
  if (home.groups.fields.length > 0) {
    const taken = frame.keys.map(({ name }) => answers.shared.find((key) => key.name === name)?.codes[0])
    const present = taken.filter((codes) => codes !== undefined)
    const of =
      present.length === taken.length ? cellsOfGroups(frame, frame.keys, present, home.groups.groups) : undefined
    for (const field of home.groups.fields) {
      const column = of && fieldColumn(request.source, field, of, frame.count)
      if (column === undefined) mixed.add(field.name)
      else if (!columns.some((m) => m.name === field.name)) columns.push(column)
    }
  }
  columns.push(...request.measures.map((measure) => measureColumn(work(parts, measure), measure)))
  return { table: createTable(frame.count, columns), mixed }
}

/** The values of a measure as a column, with its unit. */
export function measureColumn(values: Float64Array, measure: Measure): TableColumn {
  const column: TableColumn = {
    name: measure.name,
    label: measure.label,
    column: { kind: 'number', values },
    type: { kind: 'number', unit: measure.unit },
  }
  if (measure.format !== undefined) column.format = measure.format
  if (measure.better !== undefined) column.better = measure.better
  return column
}

function keyColumn(source: Table, { name, domain }: AxisKey, codes: Int32Array): TableColumn {
  if (domain.kind === 'text') {
    const tableColumn = source.columns.get(name)
    const { label = name, type = { kind: 'text' } as const } = tableColumn ?? {}
    const column =
      tableColumn === undefined
        ? { kind: 'text' as const, codes, words: domain.words }
        : columnOfKey(tableColumn, { name, codes, domain })
    return { name, label, column, type }
  }
  const { unit, periods, calendar } = domain
  // A period as its first day, to be compared with written periods; a cycle as its number, from 1.
  const value = (code: number): number =>
    isPeriodUnit(unit) ? spanOf(unit, periods[code], calendar).from : periods[code] + 1
  const values = Float64Array.from(codes, (code) => (code < 0 ? Number.NaN : value(code)))
  return isPeriodUnit(unit)
    ? { name, label: name, column: { kind: 'date', values }, type: { kind: 'date' } }
    : { name, label: name, column: { kind: 'number', values }, type: { kind: 'number', unit: { is: 'none' } } }
}

/** Undefined if the rows of some cell differ. */
function fieldColumn(source: Table, field: UniformField, of: Int32Array, count: number): TableColumn | undefined {
  const NOTHING = -3
  const codes = new Int32Array(count).fill(NOTHING)
  for (let g = 0; g < of.length; g++) {
    const cell = of[g]
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
