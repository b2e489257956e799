import { type Bound, type BoundAggregate, referencesOf } from '../../expression/bound.js'
import { spanText } from '../../format/span.js'
import type { RecordsExhibit } from '../../page/page.js'
import { type CellSetKey, spansOf, tellsTime } from '../../summary/cells/cell-set.js'
import type { SourceQuery } from '../../summary/cells/question.js'
import { openingDay, reachOf } from '../../summary/cells/windows.js'
import { streaksOf } from '../../summary/plan/streaks.js'
import { type Calendar, CIVIL_CALENDAR } from '../../time/calendar.js'
import { moveSpan, moveWeeks } from '../../time/move-span.js'
import { CYCLES, isTimeUnit, periodOf, spanOf as periodSpan, type Span } from '../../time/period.js'
import { plainShift, stepsKey } from '../../time/step.js'
import { exhibitSpans, neededMeasures } from '../answer/exhibit.js'
import { sourceQueries } from '../answer/questions.js'
import { DEFAULT_PARTS } from '../bind/exhibit-defaults.js'
import { answerRecords, buildRecords } from '../layout/kinds/records.js'
import { OTHERS_CODE } from '../layout/labels.js'
import type { AnsweredExhibit, DecidedReport, QueryContext } from '../model/answered.js'
import type { BoundExhibit, BoundSource } from '../model/bound.js'
import type { Place } from './cells.js'
import { conditionsOf, inPeriod, reference } from './row-conditions.js'

/** The rows of one source behind a cell, at one of the times that its measure reads. */
export interface RowsBehind {
  source: string
  /** The span of the rows for readers; empty where time does not matter. */
  when: string
  rows: RecordsExhibit
}

const CONDITION = { kind: 'condition' } as const

/**
 * The rows behind a cell, for each source and time that its measure reads: those that meet the
 * conditions of the report, the exhibit, the cell's keys and the aggregates. Row numbers are those
 * of the source.
 */
export async function rowsBehind(
  { context: asked }: DecidedReport,
  answered: AnsweredExhibit,
  place: Place,
  measure: string,
  first: number,
): Promise<RowsBehind[]> {
  const { report } = asked
  const { exhibit } = answered
  const reportMeasure = report.measures.get(measure)
  if (reportMeasure === undefined) return []
  // A streak is shown by the rows of the cell itself: what lies before is the same measures at
  // earlier periods.
  const all = neededMeasures(report, { ...exhibit, show: [measure], chart: undefined }, [])
  const read = [
    reportMeasure,
    ...streaksOf(all).map((streak) => ({ ...reportMeasure, name: streak.key, bound: streak.of })),
  ]
  const spans = exhibitSpans(asked, exhibit, read)
  const askings = sourceQueries(report, exhibit, read, spans, [])
  const groups: (RowsBehind & { partial: boolean })[] = []
  for (const asking of askings) {
    const source = report.sources.find((source) => source.engine === asking.engine)
    if (source === undefined || asking.parts.length === 0) continue
    const keys = [
      ...answered.summary.rows.keys.slice(0, place.row.codes.length),
      ...answered.summary.columns.keys.slice(0, place.column.codes.length),
    ]
    const lasts = (name: string): boolean => asking.holdsAlways === true && isTimeUnit(name)
    const answers = keys.every(({ name }) => asking.answers(name) || lasts(name))
    // An open start has no condition: rows without a date count.
    const days = (answers ? await daysOf(answered, place, asking, report.calendar) : undefined) ?? asking.span
    const dated = days !== undefined && Number.isFinite(days.from)
    const conditions = answers
      ? [
          ...asking.where,
          ...keyConditions(answered, place, asking),
          ...(dated ? inDays(answered, source, days) : []),
          ...partConditions(asking.parts),
        ]
      : [NEVER]
    const read = new Set([...conditions, ...asking.parts].flatMap(referencesOf).map((ref) => ref.name))
    const rows = await listRows(asked, source, conditions, place.name, { first, read })
    const shown = stepsKey(asking.steps) === '' ? cellSpan(answered, place, asking) : days
    const when = shown === undefined || shown.from > shown.to ? '' : spanText(shown, report.locale)
    // Of the finished and the begun periods of a prorated measure a cell may have one alone.
    const partial = asking.steps.some(({ kind }) => kind === 'finished' || kind === 'begun')
    groups.push({ source: source.name, when, rows, partial: partial && rows.records.length === 0 })
  }
  const some = groups.filter(({ partial }) => !partial)
  return (some.length > 0 ? some : groups.slice(0, 1)).map(({ source, when, rows }) => ({ source, when, rows }))
}

const NEVER: Bound = { op: 'truth', value: false, type: CONDITION }

/** The conditions of the keys of a cell; those of time only for the cell's own time. */
function keyConditions(answered: AnsweredExhibit, place: Place, asking: SourceQuery): Bound[] {
  const { rows, columns } = answered.summary
  const present = asking.holdsAlways !== true && stepsKey(asking.steps) === ''
  const conditions = [
    ...conditionsOf(answered, rows, place.row, present),
    ...conditionsOf(answered, columns, place.column, present),
  ]
  return present || asking.holdsAlways ? conditions : [...conditions, ...cycleConditions(answered, place, asking)]
}

/** Weekdays and months of the year are conditions at every time; a shift by days changes them. */
function cycleConditions(answered: AnsweredExhibit, place: Place, { steps }: SourceQuery): Bound[] {
  const home = answered.report.sources[0].date
  const shift = plainShift(steps) ?? { months: 0, days: 0 }
  const keys = keysOf(answered, place)
  const names = keys.map((key) => key.name)
  return keys.flatMap(({ name, domain, codes }): Bound[] => {
    const cycle = CYCLES.find((unit) => unit === name)
    if (cycle === undefined || tellsTime(name, names) || domain.kind !== 'time' || codes[0] < 0 || home === undefined)
      return []
    const [length, back] = cycle === 'weekday' ? [7, shift.days] : [12, shift.months]
    const past = (((domain.periods[codes[0]] - back) % length) + length) % length
    return [inPeriod(reference(answered, home), cycle, past, CIVIL_CALENDAR)]
  })
}

function keysOf(answered: AnsweredExhibit, place: Place): CellSetKey[] {
  const { rows, columns } = answered.summary
  return [
    ...place.row.codes.map((code, k) => ({ ...rows.keys[k], codes: Int32Array.of(code) })),
    ...place.column.codes.map((code, k) => ({ ...columns.keys[k], codes: Int32Array.of(code) })),
  ]
}

/** The span of a cell at one time; undefined if it is that of the question. */
async function daysOf(
  answered: AnsweredExhibit,
  place: Place,
  asking: SourceQuery,
  calendar: Calendar,
): Promise<Span | undefined> {
  const { steps, time, weeks, fit = (span: Span) => span } = asking
  if (time === undefined || stepsKey(steps) === '') return undefined
  const span = cellSpan(answered, place, asking) ?? time.whole
  if (span.from > span.to) return { from: 1, to: 0 }
  const shift = plainShift(steps)
  if (shift !== undefined) {
    const past = fit(weeks ? moveWeeks(span, shift) : moveSpan(span, shift))
    return past.from >= time.data.from && past.to <= time.data.to ? past : { from: 1, to: 0 }
  }
  const reach = reachOf(asking, span, calendar)
  const opening = steps.find((step) => step.kind === 'opening')
  if (opening === undefined) return { from: Math.max(reach.from, time.data.from), to: reach.to }
  const conditions = [...asking.where, ...keyConditions(answered, place, asking), ...partConditions(asking.parts)]
  const { keys: dayKeys, groups } = await asking.engine.ask({ keys: ['day'], parts: [], fields: [], where: conditions })
  const { codes, domain } = dayKeys[0]
  const days = Array.from({ length: groups }, (_, g): Span => {
    const day = domain.kind === 'time' && codes[g] >= 0 ? domain.periods[codes[g]] : Number.POSITIVE_INFINITY
    return { from: day, to: day }
  })
  const start = periodSpan(opening.unit, periodOf(opening.unit, reach.to, calendar), calendar).from
  const day = openingDay(
    days.map((_, g) => g),
    days,
    start,
    reach.to,
  )
  return day === undefined ? { from: 1, to: 0 } : { from: day, to: day }
}

/**
 * The span of a cell, in whole periods of a coarse source; undefined where time does not matter.
 */
function cellSpan(answered: AnsweredExhibit, place: Place, { time, fit, steps }: SourceQuery): Span | undefined {
  if (time === undefined) return undefined
  const keys = keysOf(answered, place).filter((key) => key.codes[0] !== OTHERS_CODE)
  const [span] = spansOf({ count: 1, keys }, time.whole)
  return stepsKey(steps) === '' && fit !== undefined && span.from <= span.to ? fit(span) : span
}

function inDays(answered: AnsweredExhibit, source: BoundSource, span: Span): Bound[] {
  const date = source.date
  if (date === undefined) return []
  const name = source.known === undefined || source.known.has(date) ? date : (answered.report.sources[0].date ?? date)
  const of: Bound = { op: 'name', ref: { kind: 'field', name }, type: { kind: 'date' } }
  return span.from > span.to ? [NEVER] : [{ op: 'during', sign: '=', of, span, type: CONDITION }]
}

/**
 * The condition of rows that some aggregate reads: a value in its column, and its own condition.
 * None if one reads every row.
 */
function partConditions(parts: readonly BoundAggregate[]): Bound[] {
  let any: Bound | undefined
  for (const { of, where } of parts) {
    const conditions: Bound[] = []
    if (of !== undefined) conditions.push({ op: 'missing', of, not: true, type: CONDITION })
    if (where !== undefined) conditions.push(where)
    if (conditions.length === 0) return []
    const all = conditions.reduce((left, right): Bound => ({ op: 'and', left, right, type: CONDITION }))
    any = any === undefined ? all : { op: 'or', left: any, right: all, type: CONDITION }
  }
  return any === undefined ? [] : [any]
}

async function listRows(
  asked: QueryContext,
  source: BoundSource,
  where: readonly Bound[],
  title: string,
  { first, read }: { first: number; read: ReadonlySet<string> },
): Promise<RecordsExhibit> {
  const { report, stats: surveys } = asked
  const at = report.sources.indexOf(source)
  // The label of a measure does not apply to a column of the same name.
  const query: QueryContext = {
    ...asked,
    stats: [surveys[at]],
    report: { ...report, sources: [source], rules: [], measures: new Map(), where: [] },
  }
  const records: BoundExhibit = {
    name: source.name,
    index: -1,
    title,
    kind: 'records',
    note: null,
    section: null,
    beside: false,
    alone: false,
    besideUnpainted: false,
    where,
    period: 'all',
    unfinished: undefined,
    hide: false,
    ...DEFAULT_PARTS,
    rows: ['record'],
    show: shownColumns(source, read),
    records: { first, ofGroup: false, one: false, sorts: [], group: undefined },
  }
  const { answered, found: recordRows } = await answerRecords(query, records)
  return buildRecords(answered, recordRows)
}

/** The columns of a source itself, and those of the ones it looks up that are read. */
function shownColumns({ name, table, attributes, lookup }: BoundSource, read: ReadonlySet<string>): string[] {
  return [...table.columns.keys()].filter((column) => {
    if (lookup !== undefined) return attributes.has(`${name}.${column}`)
    return !attributes.has(column) || read.has(column)
  })
}
