import { createCoder } from '../../column/column.js'
import { merges } from '../../column/statistic.js'
import { type Bound, type BoundAggregate, referencesOf } from '../../expression/bound.js'
import { compareWords } from '../../summary/cells/axis.js'
import type { DerivedColumn, Engine, Keyed, Question } from '../../summary/contract.js'
import {
  packColumn,
  packNumbers,
  type StoredColumn,
  type StoredRows,
  type StoredSource,
} from '../../summary/memory/stored.js'
import type { Table, TableColumn } from '../../table/table.js'
import { CIVIL_CALENDAR } from '../../time/calendar.js'
import { isPeriodUnit, isTimeUnit, periodOf, type Span, spanOf } from '../../time/period.js'
import { coverageOf } from '../answer/coverage.js'
import { readsParameter } from '../answer/facts.js'
import { joinSources } from '../answer/join-sources.js'
import { decideReport } from '../layout/decide.js'
import type { DecidedReport } from '../model/answered.js'
import type { BoundReport, BoundSource } from '../model/bound.js'

/** The questions to a source while a report was answered. */
interface Heard {
  keys: Set<string>
  parts: Map<string, BoundAggregate>
  /** Conditions of listed rows. */
  listed: (readonly Bound[])[]
  spans: Span[]
}

/** What a page carries of a source, so that its sender knows. */
export interface CarriedColumns {
  source: string
  /** How many rows the source has. */
  rows: number
  /** The number of groups; undefined if rows are carried. */
  groups?: number
  /** The columns of these rows. */
  columns: readonly string[]
  /**
   * The aggregates that need rows, as they do not merge. Empty if groups would have been nearly as
   * many as rows.
   */
  unmerged: readonly string[]
  /** The number of listed rows, which are carried with all their columns. */
  listed: number
}

/**
 * Answers a report and collects what a page needs to answer it again with other parameters and
 * filters: the groups of everything that was asked and may be filtered, with mergeable statistics.
 * If an aggregate does not merge, or there are nearly as many groups as rows: the coded columns.
 * Rows themselves if they are listed.
 */
export async function takeSnapshot(
  bound: BoundReport,
): Promise<{ decided: DecidedReport; stored: Record<string, StoredSource>; carried: CarriedColumns[] }> {
  const filters = bound.filters.filter((name) => name !== 'period')
  const heard = bound.sources.map((): Heard => ({ keys: new Set(), parts: new Map(), listed: [], spans: [] }))
  // Without recording: the page carries the result, not its data.
  const coverage = bound.coverage ?? (await coverageOf(bound))
  const report: BoundReport = {
    ...bound,
    coverage,
    wanted: new Set([...bound.wanted, ...filters]),
    sources: bound.sources.map((source, s) => ({ ...source, engine: hearing(source.engine, heard[s], new Map()) })),
  }
  const decided = await decideReport(report)
  // Rows that another value of a parameter would list are carried, too.
  for (const { records, where } of bound.exhibits)
    if (records !== undefined && where.some(readsParameter))
      heard[0].listed.push([...bound.where, ...where.filter((condition) => !readsParameter(condition))])
  for (const source of (await joinSources(report)).sources)
    for (const key of filters)
      if (source.known === undefined || source.known.has(key))
        await source.engine.ask({ keys: [key], parts: [], fields: [], where: [] })
  const stored: Record<string, StoredSource> = {}
  for (const [s, source] of bound.sources.entries()) stored[source.name] = await storeSource(source, heard[s], bound)
  const carried = bound.sources.map(({ name }, s): CarriedColumns => {
    const { survey, counts, rows, records } = stored[name]
    return {
      source: name,
      rows: survey.rows,
      ...(counts && { groups: rows.length }),
      columns: rows.columns.map((column) => column.name),
      unmerged: counts === undefined ? unmerged([...heard[s].parts.values()]).map(({ key }) => key) : [],
      listed: records?.length ?? 0,
    }
  })
  return { decided, stored, carried }
}

/** A recording engine: a looked-up column stands for the keys it was looked up by. */
function hearing(engine: Engine, heard: Heard, by: ReadonlyMap<string, readonly string[]>): Engine {
  const add = (name: string): void => {
    for (const key of by.get(name) ?? [name]) heard.keys.add(key)
  }
  const note = (question: Question): void => {
    for (const name of [...question.keys, ...question.fields]) add(name)
    for (const condition of question.where) for (const ref of referencesOf(condition)) add(ref.name)
    if (question.span !== undefined) heard.spans.push(question.span)
  }
  const { records } = engine
  return {
    async ask(question) {
      note(question)
      for (const part of question.parts) heard.parts.set(part.key, part)
      return engine.ask(question)
    },
    async askWhole(question, part) {
      note(question)
      heard.parts.set(part.key, part)
      return engine.askWhole(question, part)
    },
    stats: () => engine.stats(),
    ...(records && {
      records: async (question) => {
        heard.listed.push(question.where)
        return records(question)
      },
    }),
    withColumns(more: readonly DerivedColumn[]) {
      const next = new Map(by)
      for (const column of more)
        next.set(column.name, 'same' in column ? (by.get(column.same) ?? [column.same]) : column.by)
      return hearing(engine.withColumns(more), heard, next)
    },
  }
}

function unmerged(parts: readonly BoundAggregate[]): BoundAggregate[] {
  return parts.filter((part) => !merges(part.statistic))
}

/** With more groups than this share of the rows a summary saves nothing. */
const MAX_GROUP_SHARE = 0.6

async function storeSource(
  source: BoundSource,
  heard: Heard,
  { calendar, locale }: BoundReport,
): Promise<StoredSource> {
  const { compare } = new Intl.Collator(locale, { numeric: true })
  const { engine, table, date } = source
  const survey = await engine.stats()
  const parts = [...heard.parts.values()]
  const plain = [...heard.keys].filter((name) => !(date !== undefined && isTimeUnit(name)) && name !== date)
  const keys = plain.filter((name) => table.columns.has(name))
  const common = {
    survey,
    shape: [...table.columns.values()].map(({ name, type }) => ({ name, type })),
    ...(heard.listed.length === 0 ? {} : { records: await listedRows(source, heard.listed) }),
  }
  if (unmerged(parts).length === 0) {
    const unit = date === undefined ? undefined : heard.keys.has(date) ? 'day' : finestOf(heard, survey.span)
    const asked = unit === undefined ? keys : [...keys, unit]
    const answer = await engine.ask({ keys: asked, parts, fields: [], where: [] })
    if (answer.groups <= Math.max(200, survey.rows * MAX_GROUP_SHARE)) {
      const columns = keys.map((name, k) => inOrder(keyColumn(answer.keys[k], table.columns.get(name)), compare))
      if (date !== undefined && unit !== undefined) {
        const { codes, domain } = answer.keys[keys.length]
        const days =
          domain.kind === 'time' ? domain.periods.map((p) => spanOf(domain.unit as 'day', p, calendar).from) : []
        columns.push({ name: date, type: { kind: 'date' }, values: Array.from(codes, (code) => days[code] ?? null) })
      }
      return {
        ...common,
        rows: { length: answer.groups, columns },
        counts: [...answer.rows],
        ...(unit === 'month' && { months: true }),
        decimals: Object.fromEntries(
          parts.flatMap(({ key }, p) => (answer.decimals[p] === undefined ? [] : [[key, answer.decimals[p]]])),
        ),
        parts: Object.fromEntries(
          parts.map((part, p) => [
            part.key,
            Object.fromEntries(
              Object.entries(answer.parts[p] ?? {}).flatMap(([name, values]: [string, Float64Array]) =>
                values.length === 0 || (name === 'rest' && values.every((x) => x === 0))
                  ? []
                  : [[name, packNumbers(values)]],
              ),
            ),
          ]),
        ),
      }
    }
  }
  const names = new Set([...keys, ...(date === undefined ? [] : [date])])
  for (const part of parts) for (const ref of referencesOf(part)) names.add(ref.name)
  const all = await engine.records?.({ where: [] })
  if (all === undefined) throw new Error(`the rows of ${source.name} cannot be had`)
  const columns = [...all.table.columns.values()].filter(({ name }) => names.has(name))
  return {
    ...common,
    rows: { length: all.table.length, columns: columns.map((column) => inOrder(packColumn(column), compare)) },
  }
}

/** The words in the order of the report, so that a page does not sort them. */
function inOrder(column: StoredColumn, compare: (a: string, b: string) => number): StoredColumn {
  const { words, values } = column
  if (words === undefined) return column
  const order = words.map((_, code) => code).sort((a, b) => compareWords(words[a], words[b], compare))
  const places = new Int32Array(words.length)
  order.forEach((code, place) => {
    places[code] = place
  })
  return {
    ...column,
    words: order.map((code) => words[code]),
    values: Array.from(values as Iterable<number>, (code) => (code < 0 ? -1 : places[code])),
  }
}

/** Groups by month if no question cuts or splits one, else by day. */
function finestOf({ keys, spans }: Heard, data: Span | undefined): 'day' | 'month' {
  const time = [...keys].filter(isTimeUnit)
  if (time.some((unit) => unit === 'day' || unit === 'week' || unit === 'weekday')) return 'day'
  const whole = spans.every(({ from, to }) => {
    const [first, last] = [from, to].map((day) =>
      Number.isFinite(day) ? spanOf('month', periodOf('month', day)) : undefined,
    )
    const ends = last === undefined || last.to === to || (data !== undefined && to >= data.to && spanEnds(data.to))
    return (first === undefined || first.from === from) && ends
  })
  return whole ? 'month' : 'day'
}

/** Whether a day is the last of its month: else the data may be cut there. */
function spanEnds(day: number): boolean {
  return spanOf('month', periodOf('month', day)).to === day
}

/** The codes of a key as a column of its former type. */
function keyColumn({ name, codes, domain }: Keyed, column: TableColumn | undefined): StoredColumn {
  const type = column?.type ?? { kind: 'text' as const }
  if (domain.kind === 'time') {
    const days = domain.periods.map((p) =>
      isPeriodUnit(domain.unit) ? spanOf(domain.unit, p, domain.calendar ?? CIVIL_CALENDAR).from : p,
    )
    return { name, type, values: Array.from(codes, (code) => days[code] ?? null) }
  }
  if (type.kind === 'number')
    return { name, type, values: Array.from(codes, (c) => (c < 0 ? null : Number(domain.words[c]))) }
  if (type.kind === 'condition')
    return { name, type, values: Array.from(codes, (c) => (c < 0 ? -1 : Number(domain.words[c] === 'true'))) }
  return { name, type, words: domain.words, values: [...codes] }
}

/** The rows of all lists, each once. */
async function listedRows(
  { engine }: BoundSource,
  listed: Heard['listed'],
): Promise<StoredRows & { numbers: number[] }> {
  const records = await Promise.all(listed.map((where) => engine.records?.({ where })))
  const seen = new Set<number>()
  const numbers: number[] = []
  const columns = new Map<
    string,
    { own: TableColumn; coder: ReturnType<typeof createCoder>; values: (number | null)[] }
  >()
  for (const rows of records) {
    if (rows === undefined) continue
    rows.numbers.forEach((number, i) => {
      if (seen.has(number)) return
      seen.add(number)
      numbers.push(number)
      addRow(rows.table, i, columns)
    })
  }
  return {
    length: numbers.length,
    numbers,
    columns: [...columns.values()].map(({ own: column, coder, values }) => ({
      name: column.name,
      type: column.type,
      ...(column.column.kind === 'text' ? { words: coder.words } : {}),
      values,
    })),
  }
}

function addRow(
  table: Table,
  i: number,
  columns: Map<string, { own: TableColumn; coder: ReturnType<typeof createCoder>; values: (number | null)[] }>,
): void {
  for (const tableColumn of table.columns.values()) {
    let entry = columns.get(tableColumn.name)
    if (entry === undefined) {
      entry = { own: tableColumn, coder: createCoder(), values: [] }
      columns.set(tableColumn.name, entry)
    }
    const { column } = tableColumn
    if (column.kind === 'text')
      entry.values.push(column.codes[i] < 0 ? -1 : entry.coder.code(column.words[column.codes[i]]))
    else entry.values.push(Number.isNaN(column.values[i]) ? null : column.values[i])
  }
}
