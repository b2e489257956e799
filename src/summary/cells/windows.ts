import { addMoments, createMoments, type Moments } from '../../column/moments.js'
import { pickCodes } from '../../column/pick.js'
import { fromMoments, needsOf } from '../../column/statistic.js'
import type { BoundAggregate } from '../../expression/bound.js'
import type { Calendar } from '../../time/calendar.js'
import { isPeriodUnit, PERIOD_UNITS, type PeriodUnit, periodOf, type Span, spanOf } from '../../time/period.js'
import { cutPeriod, windowOf } from '../../time/stepped.js'
import type { Keyed } from '../contract.js'
import { type CellSet, type CellSetKey, coarser, spansOf, tellsTime } from './cell-set.js'
import { type AnswerWindows, questionOf, type SourceAnswer, type SourceAnswers, type SourceQuery } from './question.js'
import { leftOut, nothing, spreadToCells, takenCodes } from './spread.js'
import { notAmong } from './without.js'

/**
 * Asks one question for all windows that the cells of an exhibit can have: by periods so short that
 * no window cuts one.
 */
export async function askWindows(
  asking: SourceQuery,
  names: readonly string[],
  keys: readonly string[],
  calendar: Calendar,
): Promise<SourceAnswer> {
  const conditions = names.filter((name) => !isPeriodUnit(name))
  const { parts, steps, time } = asking
  const spans = time === undefined ? [] : windowsOf(asking, cellSpans(keys, time.whole, calendar), calendar)
  if (time === undefined || spans.length === 0) {
    const grain = await asking.engine.ask({ ...questionOf(asking, conditions), parts, fields: [] })
    return { query: asking, groups: { ...grain, groups: 0 }, windows: { days: [], calendar } }
  }
  const to = Math.max(...spans.map((span) => span.to))
  const from = Math.min(...spans.map((span) => span.from))
  // An open start begins with the data; rows without a date are in no window.
  const span = { from: Number.isFinite(from) ? from : Math.min(time.data.from, to), to }
  // An opening depends on its day, so it needs days.
  const opens = steps.some((step) => step.kind === 'opening')
  const unit = opens ? 'day' : smallEnough(spans, span, calendar)
  const more = unit === undefined ? [] : [unit]
  const counted = opens ? parts.map(countOf) : []
  const question = { ...questionOf(asking, [...conditions, ...more]), span, parts: [...parts, ...counted], fields: [] }
  const grain = await asking.engine.ask(question)
  const by = unit === undefined ? undefined : grain.keys[conditions.length]
  return {
    query: asking,
    groups: { ...grain, keys: grain.keys.slice(0, conditions.length), parts: grain.parts.slice(0, parts.length) },
    windows: {
      days: daysOf(by, grain.groups, span, calendar),
      calendar,
      ...(opens && { counts: counted.map((_, p) => grain.parts[parts.length + p]?.count ?? grain.rows) }),
    },
  }
}

/** The number of values of an aggregate. */
function countOf(part: BoundAggregate): BoundAggregate {
  return { ...part, statistic: 'count', key: `count of ${part.key}` }
}

/** Every span that a cell of an exhibit with these keys can have, at any level. */
function cellSpans(keys: readonly string[], whole: Span, calendar: Calendar): Span[] {
  const spans = new Map<string, Span>()
  const add = (span: Span): void => {
    if (span.from <= span.to) spans.set(`${span.from} ${span.to}`, span)
  }
  add(whole)
  if (whole.from > whole.to || !Number.isFinite(whole.from)) return [...spans.values()]
  const units: PeriodUnit[] = keys.filter(isPeriodUnit)
  if (tellsTime('monthOfYear', keys) && keys.includes('monthOfYear')) units.push('month')
  for (const unit of units) {
    const last = periodOf(unit, whole.to, calendar)
    for (let period = periodOf(unit, whole.from, calendar); period <= last; period++) {
      const shownSpan = spanOf(unit, period, calendar)
      const span = { from: Math.max(shownSpan.from, whole.from), to: Math.min(shownSpan.to, whole.to) }
      add(span)
      // Weeks do not nest in months: if both are keys, a cell may be a part of either.
      if (unit === 'week' && units.length > 1)
        for (let day = span.from; day <= span.to; day++) add({ from: day, to: day })
    }
  }
  return [...spans.values()]
}

function windowsOf(asking: SourceQuery, spans: readonly Span[], calendar: Calendar): Span[] {
  return spans.map((span) => reachOf(asking, span, calendar))
}

/** What a cell of a span reads of a question, in periods of its source. */
export function reachOf(asking: SourceQuery, span: Span, calendar: Calendar): Span {
  return fitSpan(asking, windowOf(span, asking.steps, calendar, asking.weeks))
}

function fitSpan(asking: SourceQuery, needed: Span): Span {
  const { fit, time } = asking
  const span = fit === undefined ? needed : fit(needed)
  const cut = time && cutPeriod(asking.steps, asking.grain, time.whole.to)
  if (cut === undefined) return span
  return cut.begun
    ? { from: Math.max(span.from, cut.from), to: span.to }
    : { from: span.from, to: Math.min(span.to, cut.from - 1) }
}

/** The longest periods that no window cuts; undefined if all windows are equal. */
function smallEnough(spans: readonly Span[], all: Span, calendar: Calendar): PeriodUnit | undefined {
  if (spans.every((span) => span.from <= all.from && span.to === all.to)) return undefined
  const begins = (unit: PeriodUnit, day: number): boolean =>
    spanOf(unit, periodOf(unit, day, calendar), calendar).from === day
  const uncut = (unit: PeriodUnit): boolean =>
    spans.every(({ from, to }) => (from === all.from || begins(unit, from)) && (to === all.to || begins(unit, to + 1)))
  return PERIOD_UNITS.find(uncut) ?? 'day'
}

function daysOf(by: Keyed | undefined, groups: number, span: Span, calendar: Calendar): Span[] {
  return Array.from({ length: groups }, (_, g) => {
    if (by === undefined || by.domain.kind !== 'time' || !isPeriodUnit(by.domain.unit)) return span
    const groupSpan = spanOf(by.domain.unit, by.domain.periods[by.codes[g]], calendar)
    return { from: Math.max(groupSpan.from, span.from), to: Math.min(groupSpan.to, span.to) }
  })
}

/**
 * Which groups count in which cells, and the window of each cell; undefined if it has none.
 * `counts` are the numbers of values, for openings.
 */
function windowsAt(
  asking: SourceQuery,
  { days, calendar }: AnswerWindows,
  frame: CellSet,
  keys: readonly CellSetKey[],
  taken: readonly Int32Array[],
  left: ((group: number, cell: number) => boolean) | undefined,
  counts?: Float64Array,
): { from: Int32Array; into: Int32Array; spans: (Span | undefined)[] } {
  const { time, steps } = asking
  const spans: (Span | undefined)[] = new Array(frame.count).fill(undefined)
  const none = { from: new Int32Array(0), into: new Int32Array(0), spans }
  if (time === undefined) return none
  const frameSpans = spansOf(frame, time.whole)
  const byKeys = groupsByKeys(keys, taken, days.length)
  const looksBack = steps.some(({ kind }) => kind === 'lag' || kind === 'rolling')
  const opening = steps.find((step) => step.kind === 'opening')
  const from: number[] = []
  const into: number[] = []
  for (let cell = 0; cell < frame.count; cell++) {
    const all = byKeys.get(keys.map((key) => key.codes[cell]).join(' ')) ?? []
    const groups = all.filter((g) => counts?.[g] !== 0 && left?.(g, cell) !== true)
    if (frameSpans[cell].from > frameSpans[cell].to) continue
    let reach = reachOf(asking, frameSpans[cell], calendar)
    // A shifted window must be inside the data; an open start begins with the data.
    if (looksBack && (reach.to > time.data.to || Math.max(reach.from, opensAt(reach, time.data)) < time.data.from))
      continue
    if (opening !== undefined) {
      const start = spanOf(opening.unit, periodOf(opening.unit, reach.to, calendar), calendar).from
      const day = openingDay(groups, days, start, reach.to)
      if (day === undefined) continue
      reach = { from: day, to: day }
    }
    spans[cell] = reach
    for (const g of groups)
      if (days[g].from >= reach.from && days[g].to <= reach.to) {
        from.push(g)
        into.push(cell)
      }
  }
  return { from: Int32Array.from(from), into: Int32Array.from(into), spans }
}

/** A window with an open start begins with the data, if it overlaps them. */
function opensAt(reach: Span, data: Span): number {
  return Number.isFinite(reach.from) || reach.to < data.from ? reach.from : data.from
}

function groupsByKeys(
  keys: readonly CellSetKey[],
  taken: readonly Int32Array[],
  groups: number,
): Map<string, number[]> {
  const names = new Map<string, number[]>()
  for (let g = 0; g < groups; g++) {
    const id = keys.map((_, k) => taken[k][g]).join(' ')
    const list = names.get(id)
    if (list === undefined) names.set(id, [g])
    else list.push(g)
  }
  return names
}

/** The last day with rows up to the start; without one, the first after it. */
export function openingDay(
  groups: readonly number[],
  days: readonly Span[],
  start: number,
  to: number,
): number | undefined {
  let before = Number.NEGATIVE_INFINITY
  let after = Number.POSITIVE_INFINITY
  for (const g of groups) {
    const day = days[g].from
    if (day <= start) before = Math.max(before, day)
    else if (day <= to) after = Math.min(after, day)
  }
  const day = Number.isFinite(before) ? before : after
  return Number.isFinite(day) ? day : undefined
}

/** Every part of an answer by windows, at some cells. */
export async function windowValues(answers: SourceAnswers, a: number, frame: CellSet): Promise<Float64Array[]> {
  const { query: asking, groups: grain, windows } = answers.list[a]
  const { count } = frame
  const names = frame.keys.map((key) => key.name)
  const keys = frame.keys.filter((key) => !tellsTime(key.name, names))
  const taken = takenCodes(answers, a, keys)
  // A source may be too coarse for the time.
  const answersAll = names.every(asking.answers)
  if (windows === undefined || taken === undefined || !answersAll) return asking.parts.map(() => nothing(count))
  const left = frame.without && leftOut(answers, a, frame.without)
  if (frame.without !== undefined && left === undefined) return asking.parts.map(() => nothing(count))
  const values: Float64Array[] = []
  // An opening depends on the days with values of its aggregate, so it has windows of its own.
  const shared = windows.counts === undefined ? windowsAt(asking, windows, frame, keys, taken, left) : undefined
  for (const [p, part] of asking.parts.entries()) {
    const fine = grain.parts[p]
    const at = shared ?? windowsAt(asking, windows, frame, keys, taken, left, windows.counts?.[p])
    if (fine !== undefined)
      values.push(fromMoments(part.statistic, summed(fine, at.from, at.into, count, part), grain.decimals[p]))
    else values.push(await wholeInWindows(asking, part, frame, keys, at.spans))
    const hasRows = new Uint8Array(count)
    for (const cell of at.into) hasRows[cell] = 1
    for (let i = 0; i < count; i++) if (hasRows[i] === 0) values[p][i] = Number.NaN
  }
  const cut = asking.time && cutPeriod(asking.steps, asking.grain, asking.time.whole.to)
  if (cut?.begun === true) for (const list of values) for (let i = 0; i < count; i++) list[i] *= cut.share
  return values
}

/** Fine group `from[i]` counts in cell `into[i]`; a group may count in many cells. */
function summed(fine: Moments, from: Int32Array, into: Int32Array, count: number, part: BoundAggregate): Moments {
  const needs = needsOf(part.statistic)
  const m = createMoments(count, needs)
  addMoments(m, fine, into, needs, from)
  return m
}

/**
 * A part that does not merge is asked for once for each distinct window and each set of excluded
 * groups.
 */
async function wholeInWindows(
  asking: SourceQuery,
  part: BoundAggregate,
  frame: CellSet,
  keys: readonly CellSetKey[],
  spans: readonly (Span | undefined)[],
): Promise<Float64Array> {
  const out = nothing(frame.count)
  const { without, ...plain } = frame
  if (without !== undefined) {
    for (const [s, set] of without.sets.entries()) {
      const shownSpans = spans.map((span, cell) => (without.shown[cell] === s ? span : undefined))
      const narrowed = { ...asking, where: [...asking.where, notAmong(without, set)] }
      const values = await wholeInWindows(narrowed, part, plain, keys, shownSpans)
      for (let cell = 0; cell < out.length; cell++) if (shownSpans[cell] !== undefined) out[cell] = values[cell]
    }
    return out
  }
  const distinct = new Map<string, { span: Span; cells: number[] }>()
  spans.forEach((span, cell) => {
    if (span === undefined) return
    const id = `${span.from} ${span.to}`
    const entry = distinct.get(id) ?? { span, cells: [] }
    distinct.set(id, entry)
    entry.cells.push(cell)
  })
  const names = keys.map((key) => key.name)
  // Rows without a date are in no window, so an open start begins with the data.
  const first = asking.time?.data.from ?? Number.NEGATIVE_INFINITY
  for (const { span, cells } of distinct.values()) {
    const windowCells: CellSet = {
      count: cells.length,
      keys: keys.map((key) => ({ ...key, codes: pickCodes(key.codes, cells) })),
    }
    // Cells of different times may share a window, and so a value.
    const { frame: asked, into } = coarser(windowCells, names)
    const from = Number.isFinite(span.from) ? span.from : Math.min(first, span.to)
    const whole = await asking.engine.askWhole({ ...questionOf(asking, names), span: { from, to: span.to } }, part)
    const values = spreadToCells(whole, asked)
    cells.forEach((cell, i) => {
      out[cell] = values[into[i]]
    })
  }
  return out
}
