import { type Column, createCoder } from '../../column/column.js'
import { createMoments, type Moments, mergeMoments } from '../../column/moments.js'
import { placeRows, type Slots } from '../../column/slots.js'
import { merges, needsOf } from '../../column/statistic.js'
import type { BoundAggregate, Type } from '../../expression/bound.js'
import { problem } from '../../problem/answering.js'
import { ProblemError } from '../../problem/problem.js'
import { createTable, type Table, type TableColumn } from '../../table/table.js'
import { CIVIL_CALENDAR } from '../../time/calendar.js'
import { periodOf, type Span, spanOf } from '../../time/period.js'
import type { DerivedColumn, Engine, EngineOptions, GroupedAnswer, SourceStats } from '../contract.js'
import type { createMemoryEngine } from './engine.js'
import type { withKnown } from './known.js'
import { agreed, keepRows, makeKey, numbered, recordsOf } from './rows.js'

/**
 * A column as data: numbers, days since 1970-01-01, words by their codes (-1 is missing), or 1, 0
 * and -1 for conditions.
 */
export interface StoredColumn {
  name: string
  type: Type
  words?: readonly string[]
  /** The decimals of its values if they are more than the values show; null if unknown. */
  decimals?: number | null
  /** Null is missing, and NaN where a page carries them as bytes. */
  values: StoredNumbers
}

/** Numbers of stored data. */
export type StoredNumbers = readonly (number | null)[] | Float64Array

/** Rows as data. */
export interface StoredRows {
  length: number
  columns: readonly StoredColumn[]
}

/**
 * The data of a source in a page: groups with mergeable statistics, or coded columns if some
 * statistic does not merge.
 */
export interface StoredSource {
  survey: SourceStats
  /** Every column that the report may name, without its rows. */
  shape: readonly { name: string; type: Type }[]
  /** One row for each group, or the rows themselves. */
  rows: StoredRows
  /** The number of rows of each group; left out for rows. */
  counts?: readonly number[] | Float64Array
  /** Whether each day stands for its month: a span that cuts a month cannot be answered. */
  months?: boolean
  /** The moments of each part, by its canonical text. */
  parts?: Readonly<Record<string, Partial<Record<keyof Moments, StoredNumbers>>>>
  /** The decimals of each part, if they are known. */
  decimals?: Readonly<Record<string, number>>
  /** The listed rows, with their numbers in the source. */
  records?: StoredRows & { numbers: readonly number[] }
}

export function packColumn({ name, type, column, decimals }: TableColumn): StoredColumn {
  if (column.kind === 'text') return { name, type, words: column.words, values: [...column.codes] }
  if (column.kind === 'condition') return { name, type, values: [...column.values] }
  return { name, type, ...(decimals !== undefined && { decimals }), values: packNumbers(column.values) }
}

/** Numbers as JSON: NaN and infinities, which only empty groups have, are null. */
export function packNumbers(values: Float64Array): (number | null)[] {
  return Array.from(values, (x) => (Number.isFinite(x) ? x : null))
}

function numbersFrom(values: StoredNumbers): Float64Array {
  if (values instanceof Float64Array) return values
  const out = new Float64Array(values.length)
  for (let i = 0; i < out.length; i++) out[i] = values[i] ?? Number.NaN
  return out
}

function codesFrom(values: StoredNumbers): Int32Array {
  const codes = new Int32Array(values.length)
  for (let i = 0; i < codes.length; i++) codes[i] = values[i] ?? -1
  return codes
}

/** @param sorted whether its words are in the order of the report's locale */
function tableFrom({ length, columns }: StoredRows, sorted = false): Table {
  const tableColumns = columns.map(({ name, type, words, values, decimals }): TableColumn => {
    const column: Column =
      type.kind === 'number' || type.kind === 'date'
        ? { kind: type.kind, values: numbersFrom(values) }
        : type.kind === 'condition'
          ? { kind: 'condition', values: Int8Array.from(values as Iterable<number | null>, (x) => x ?? -1) }
          : {
              kind: 'text',
              words: words ?? [],
              codes: codesFrom(values),
              ...(sorted && { sorted }),
            }
    return { name, label: name, type, column, ...(decimals !== undefined && { decimals }) }
  })
  return createTable(length, tableColumns)
}

/**
 * A source that answers from its stored data.
 *
 * @param code what answers from rows, needed where rows were stored, not groups of them; and what
 * adds columns, needed where there are several sources
 */
export function openStored(
  stored: StoredSource,
  options: EngineOptions,
  code: StoredCode = {},
): { table: Table; engine: Engine } {
  const rows = tableFrom(stored.rows, true)
  return {
    table: createTable(
      0,
      stored.shape.map(({ name, type }) => ({ name, label: name, type, column: emptyStoredColumn(type) })),
    ),
    engine: createStoredEngine(stored, rows, options, code),
  }
}

/** Parts of the engine that only some pages need. */
export interface StoredCode {
  memory?: typeof createMemoryEngine
  known?: typeof withKnown
}

function emptyStoredColumn({ kind }: Type): Column {
  if (kind === 'number' || kind === 'date') return { kind, values: new Float64Array(0) }
  return kind === 'condition'
    ? { kind, values: new Int8Array(0) }
    : { kind: 'text', words: createCoder().words, codes: new Int32Array(0) }
}

/** The group of each stored row, among those that have rows; -1 where it is left out. */
function groupsOfRows({ slots, count, used }: Slots): Int32Array {
  const groups = new Int32Array(count)
  for (let g = 0; g < used.length; g++) groups[used[g]] = g
  const of = slots()
  const into = new Int32Array(of.length)
  for (let i = 0; i < of.length; i++) into[i] = of[i] < 0 ? -1 : groups[of[i]]
  return into
}

/** How many rows of the source each group has. */
function rowsOfGroups(into: Int32Array, groups: number, counts: StoredSource['counts']): Float64Array {
  const rows = new Float64Array(groups)
  if (counts !== undefined) for (let i = 0; i < into.length; i++) if (into[i] >= 0) rows[into[i]] += counts[i]
  return rows
}

/** An empty group keeps what it begins with. */
function fill(list: Float64Array, values: StoredNumbers): void {
  for (let i = 0; i < values.length; i++) {
    const x = values[i]
    if (x !== null && !Number.isNaN(x)) list[i] = x
  }
}

/** The number of cached questions: more than a report asks in a few states. */
const MAX_ANSWERS = 400

function createStoredEngine(
  stored: StoredSource,
  rowTable: Table,
  options: EngineOptions,
  { memory, known }: StoredCode,
): Engine {
  const engine = stored.counts === undefined ? memory?.(rowTable, options) : undefined
  const { counts, parts: packed = {}, decimals = {} } = stored
  const listed = stored.records && { table: tableFrom(stored.records), numbers: stored.records.numbers }
  const moments = new Map<string, Moments>()
  const momentsOf = (part: BoundAggregate): Moments => {
    const moment = moments.get(part.key)
    if (moment !== undefined) return moment
    const lists = Object.hasOwn(packed, part.key) ? packed[part.key] : undefined
    if (lists === undefined) throw new ProblemError([problem('not-stored', { what: part.key })])
    const partMoments = createMoments(rowTable.length, needsOf(part.statistic))
    for (const [name, values] of Object.entries(lists)) fill(partMoments[name as keyof Moments], values)
    moments.set(part.key, partMoments)
    return partMoments
  }
  const over = (table: Table): Engine => {
    const days = (rows: Table): Float64Array | undefined => {
      const column = options.date === undefined ? undefined : rows.columns.get(options.date)?.column
      return column?.kind === 'date' ? column.values : undefined
    }
    return {
      async ask(question) {
        if (engine !== undefined) return engine.ask(question)
        if (stored.months === true) wholeMonthsAlone(question.span, stored.survey)
        const calendar = options.calendar ?? CIVIL_CALENDAR
        const keys = question.keys.map((name) =>
          ofStored(table, name, () => makeKey(table, name, days(table), calendar)),
        )
        const keep = keepRows(table, question, days(table))
        const placed = placeRows(keys, keep, table.length) ?? numbered(keys, keep, table.length)
        const groups = placed.used.length
        const into = groupsOfRows(placed)
        return {
          groups,
          keys: question.keys.map((name, k) => ({ name, domain: keys[k].domain, codes: placed.codes(k) })),
          rows: rowsOfGroups(into, groups, counts),
          parts: question.parts.map((part) =>
            merges(part.statistic) ? mergeMoments(momentsOf(part), into, groups, needsOf(part.statistic)) : undefined,
          ),
          decimals: question.parts.map(({ key }) => (Object.hasOwn(decimals, key) ? decimals[key] : undefined)),
          fields: question.fields.map((name) =>
            agreed(
              name,
              ofStored(table, name, () => makeKey(table, name, days(table), calendar)),
              placed,
            ),
          ),
        }
      },
      async askWhole(question, part) {
        if (engine === undefined) throw new ProblemError([problem('not-stored', { what: part.key })])
        return engine.askWhole(question, part)
      },
      stats: async () => stored.survey,
      ...(listed && {
        records: async (question) =>
          recordsOf(listed.table, question, days(listed.table), (row) => listed.numbers[row]),
      }),
      withColumns: (more: readonly DerivedColumn[]) =>
        engine === undefined
          ? over(known?.(table, more, days(table)) ?? table)
          : knowingRows(engine.withColumns(more), stored.survey),
    }
  }
  return remembering(over(rowTable), new Map(), '')
}

/**
 * Caches answers: a moved slider asks the same again. Answers are never changed, so they may be
 * shared.
 */
function remembering(engine: Engine, answers: Map<string, Promise<GroupedAnswer>>, prefix: string): Engine {
  return {
    ...engine,
    ask(question) {
      const { keys, parts, fields, where, span } = question
      const asked = `${prefix} ${JSON.stringify([keys, parts.map((part) => part.key), fields, where, span])}`
      let answer = answers.get(asked)
      if (answer === undefined) {
        if (answers.size >= MAX_ANSWERS) answers.clear()
        answer = engine.ask(question)
        answers.set(asked, answer)
      }
      return answer
    },
    withColumns: (more) => remembering(engine.withColumns(more), answers, `${prefix} ${JSON.stringify(more)}`),
  }
}

/** Rows with more columns; statistics stay those of the whole source. */
function knowingRows(engine: Engine, survey: SourceStats): Engine {
  return { ...engine, stats: async () => survey, withColumns: (more) => knowingRows(engine.withColumns(more), survey) }
}

/** A period that cuts a month would count all of it, or none. */
function wholeMonthsAlone(span: Span | undefined, { span: data }: SourceStats): void {
  if (span === undefined) return
  const month = (day: number): Span => spanOf('month', periodOf('month', day))
  const begins = !Number.isFinite(span.from) || month(span.from).from === span.from
  if (begins && (month(span.to).to === span.to || (data !== undefined && span.to >= data.to))) return
  throw new ProblemError([problem('not-stored', { what: 'a period with partial months' })])
}

/** Reports a question about what was not stored. */
function ofStored<T>(table: Table, name: string, make: () => T): T {
  try {
    return make()
  } catch (error) {
    if (table.columns.has(name)) throw error
    throw new ProblemError([problem('not-stored', { what: name })])
  }
}
