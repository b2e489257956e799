import type { Column } from '../../../column/column.js'
import { compareMissingLast } from '../../../column/rank.js'
import { statistic } from '../../../column/statistic.js'
import { numberPrinter } from '../../../format/format.js'
import type { PageRecord, RecordsExhibit } from '../../../page/page.js'
import { problem } from '../../../problem/optional.js'
import { type Problem, ProblemError } from '../../../problem/problem.js'
import { printerFor } from '../../../rule/explain/print.js'
import { type Axis, childNode, ROOT_NODE } from '../../../summary/cells/axis.js'
import { type Level, measureColumn, type Summary } from '../../../summary/cells/summarise.js'
import type { Measure } from '../../../summary/plan/measures.js'
import { columnDecimals } from '../../../table/decimals.js'
import { createTable, type Table } from '../../../table/table.js'
import {
  answerExhibit,
  answeredOf,
  comparedSummary,
  exhibitSpans,
  neededMeasures,
  rulesFor,
  unfiltered,
} from '../../answer/exhibit.js'
import { parameterValues } from '../../answer/facts.js'
import type { Spans } from '../../answer/questions.js'
import { measureRows, ofOneRow } from '../../answer/record-measures.js'
import { missingKey } from '../../answer/value.js'
import type { AnsweredExhibit, QueryContext } from '../../model/answered.js'
import type { BoundExhibit } from '../../model/bound.js'
import { CellMaker } from '../cells.js'
import { headingText } from '../labels.js'
import type { ShownRows } from '../showing.js'
import type { Prepare } from './prepare.js'

/** The rows that meet the conditions. */
export interface FoundRecords {
  /** The number of each row in its source, from 1. */
  numbers: Float64Array
  table: Table
  /** Measures over all rows, for the totals. */
  whole: AnsweredExhibit | undefined
}

/** Fetches the rows of an exhibit and makes a summary in which each row is a cell. */
export async function answerRecords(
  asked: QueryContext,
  exhibit: BoundExhibit,
): Promise<{ answered: AnsweredExhibit; found: FoundRecords }> {
  const { report } = asked
  const rules = rulesFor(report, exhibit)
  const measures = neededMeasures(report, exhibit, rules)
  const spans = exhibitSpans(asked, exhibit, measures)
  const notes: Problem[] = []
  for (const measure of measures)
    if (!ofOneRow(measure, report.measures) && exhibit.show.includes(measure.name))
      notes.push(problem('note-records-time', { measure: measure.label }))
  const { rows, numbers } = await recordsOf(asked, exhibit, measures, spans)
  const before = unfiltered(asked, rules)
  const all = before && (await recordsOf(before, exhibit, measures, exhibitSpans(before, exhibit, measures)))
  const shown = exhibit.show.filter((name) => report.measures.has(name))
  const whole =
    shown.length === 0 || exhibit.records?.one !== true
      ? undefined
      : await answerExhibit(asked, { ...exhibit, kind: 'cards', rows: [], show: shown, sort: undefined }, [])
  const summary = summaryOf(rows, numbers)
  const everything = all && (await comparedSummary(summaryOf(all.rows, all.numbers)))
  return {
    answered: answeredOf(asked, exhibit, summary, rules, spans, notes, everything && { unfiltered: everything }),
    found: { table: rows, numbers, whole },
  }
}

/** The rows with the measures that a single row can answer. */
async function recordsOf(
  { report }: QueryContext,
  exhibit: BoundExhibit,
  measures: readonly Measure[],
  { span }: Spans,
): Promise<{ rows: Table; numbers: Float64Array }> {
  const [home] = report.sources
  if (home.engine.records === undefined) throw new ProblemError([problem('records-remote', { source: home.name })])
  const timed = home.date !== undefined && span !== undefined
  const where = [...report.where, ...exhibit.where]
  const { table, numbers } = await home.engine.records({ where, ...(timed && { span }) })
  const columns = new Map(table.columns)
  for (const measure of measures) {
    const values = ofOneRow(measure, report.measures)
      ? measureRows(table, measure, report.measures, parameterValues(report))
      : new Float64Array(table.length).fill(Number.NaN)
    columns.set(measure.name, measureColumn(values, measure))
  }
  return { rows: createTable(table.length, columns.values()), numbers }
}

function summaryOf(table: Table, numbers: Float64Array): Summary {
  const words = Array.from(numbers, String)
  const rows: Axis = {
    keys: [{ name: 'record', domain: { kind: 'text', words } }],
    depths: [[ROOT_NODE], words.map((_, i) => childNode(ROOT_NODE, i, 0))],
  }
  const columns: Axis = { keys: [], depths: [[ROOT_NODE]] }
  const none: Level = { rowDepth: 0, columnDepth: 0, table: createTable(0, []), mixed: new Set() }
  const details: Level = { rowDepth: 1, columnDepth: 0, table, mixed: new Set() }
  return {
    rows,
    columns,
    levels: [[none], [details]],
    rests: [],
    counted: table.length,
    repeats: new Set(),
  }
}

/** Lays out records: the first few in order, each with its cells. */
export function buildRecords(
  answered: AnsweredExhibit,
  { table, numbers, whole }: FoundRecords,
  shown?: ShownRows,
): RecordsExhibit {
  const { exhibit, report, summary } = answered
  const make = new CellMaker(answered)
  const level = summary.levels[1][0]
  const { first, one, ofGroup, group } = exhibit.records ?? { first: table.length, one: false }
  const all = sorted(answered, table).filter((i) => shown === undefined || shown.details[i] === 1)
  const groups = group === undefined ? undefined : groupTexts(answered, table, group, make)
  const sizes = new Map<string, number>()
  const order = all.filter((i, at) => {
    const own = groups?.(i) ?? ''
    const before = sizes.get(own) ?? 0
    sizes.set(own, before + 1)
    return (ofGroup === true ? before : at) < first
  })
  const said: Problem[] = shown === undefined ? [] : [shown.note]
  const print = numberPrinter({ kind: 'number', digits: 0, signed: false, compact: false }, report.locale)
  if (order.length < all.length)
    said.push(
      ofGroup === true
        ? problem('note-records-groups', { first: print(first), shown: print(order.length), all: print(all.length) })
        : problem('note-records-first', { shown: print(order.length), all: print(all.length) }),
    )
  const records = order.map((i, at): PageRecord => {
    const cells = exhibit.show.map((name) => make.record(level, i, name))
    const own = groups?.(i)
    const begins = own !== undefined && (at === 0 || own !== groups?.(order[at - 1]))
    return {
      record: numbers[i],
      ...(begins && { group: `${own} · ${print(sizes.get(own) ?? 0)}` }),
      cells,
      painted: cells.some(({ style: look }) => Object.keys(look.paintedBy).length > 0),
    }
  })
  const columns = exhibit.show.map((name) => ({
    name,
    label: report.measures.get(name)?.label ?? headingText([name], report.labels),
    numeric: table.columns.get(name)?.column.kind === 'number',
  }))
  const total = whole && new CellMaker(whole)
  const { legends, notes } = answered.legendsAndMessages(new Set(order))
  return {
    ...answered.head,
    kind: 'records',
    columns,
    records,
    count: table.length,
    oneAtATime: one,
    averages: columns.map(({ name }) => columnSummary(table, name, meanPrinter(answered, table, name), true)),
    totals: columns.map(({ name }) =>
      total !== undefined && whole !== undefined && report.measures.has(name)
        ? total.cell(whole.summary.levels[0][0], 0, 0, name).text
        : columnSummary(table, name, make.labels.printer(name), false),
    ),
    legends,
    messages: [...said.map(({ message }) => message), ...notes],
  }
}

/** A mean may need more digits than the values. */
function meanPrinter({ report }: AnsweredExhibit, table: Table, name: string): (value: number) => string {
  const type = table.columns.get(name)?.type
  const unit = type?.kind === 'number' ? type.unit : { is: 'none' as const }
  return printerFor(report.measures.get(name)?.format, unit, report.locale)
}

/** The mean or sum of a number column as text; percents have no sum. */
function columnSummary(table: Table, name: string, print: (value: number) => string, mean: boolean): string {
  const column = table.columns.get(name)
  if (column?.column.kind !== 'number' || column.type.kind !== 'number') return ''
  if (!mean && column.type.unit.is === 'percent') return ''
  const { values } = column.column
  const decimals = mean ? undefined : columnDecimals(column)
  return print(statistic(mean ? 'mean' : 'sum', values, new Int32Array(values.length), 1, 0, decimals)[0])
}

/** The value of the group of each row, for readers. */
function groupTexts({ report }: AnsweredExhibit, table: Table, name: string, make: CellMaker): (row: number) => string {
  const column = table.columns.get(name)
  return (row) => (column && make.labels.text(column, row)) || missingKey(name, report.labels)
}

/** The order of rows: by group, then by the sorts in turn, missing last; else as in the source. */
function sorted({ exhibit, report }: AnsweredExhibit, table: Table): number[] {
  const order = Array.from({ length: table.length }, (_, i) => i)
  const { sorts = [], group } = exhibit.records ?? {}
  const groups = group === undefined ? [] : [{ measure: group, falling: false }]
  const steps = [...groups, ...sorts].flatMap(({ measure, falling }) => {
    const column = table.columns.get(measure)?.column
    return column === undefined
      ? []
      : [{ places: placesOf(column, report.locale), sign: falling ? (-1 as const) : (1 as const) }]
  })
  return order.sort((a, b) => {
    for (const { places, sign } of steps) {
      const by = compareMissingLast(places[a], places[b], sign)
      if (by !== 0) return by
    }
    return a - b
  })
}

/** The value of each row as a number that orders it; NaN for a missing one. */
function placesOf(column: Column, locale: string): Float64Array {
  if (column.kind !== 'text')
    return Float64Array.from(column.values, (value) => (column.kind === 'condition' && value < 0 ? Number.NaN : value))
  const collator = new Intl.Collator(locale, { numeric: true })
  const words = column.words.map((_, code) => code).sort((a, b) => collator.compare(column.words[a], column.words[b]))
  const rank = new Float64Array(column.words.length)
  words.forEach((code, place) => {
    rank[code] = place
  })
  return Float64Array.from(column.codes, (code) => (code < 0 ? Number.NaN : rank[code]))
}

export const prepare: Prepare = async (context, exhibit) => {
  const { answered, found: records } = await answerRecords(context, exhibit)
  const hiding = exhibit.showing && (await import('../showing.js'))
  return { answered, build: (current) => buildRecords(current, records, hiding?.shownRows(current)) }
}
