import { aggregatesOf, type Bound, referencesOf } from '../../expression/bound.js'
import { conditions, evaluate } from '../../expression/evaluate.js'
import { numberPrinter, PLAIN_FORMAT } from '../../format/format.js'
import { periodPrinter } from '../../format/period.js'
import { problem } from '../../problem/optional.js'
import type { Problem } from '../../problem/problem.js'
import type { Summary } from '../../summary/cells/summarise.js'
import type { Measure } from '../../summary/plan/measures.js'
import { rowScope } from '../../table/fields.js'
import type { Table } from '../../table/table.js'
import type { Calendar } from '../../time/calendar.js'
import { periodOf, periodText, type Span, spanOf } from '../../time/period.js'
import type { Blank, BoundExhibit, BoundReport, Gap } from '../model/bound.js'
import { firstFew, keyText } from './value.js'

/**
 * Missing rows of a further source: the keys with their missing periods; no periods without dates.
 */
export interface Lacking {
  keys: Record<string, string>
  periods: number[]
}

/** A column with a smaller share of missing values is told in the line on its source alone. */
const MIN_BLANK_SHARE = 0.01

/** A message for each column without a value in many rows, whatever the filters. */
export function blankNotes(report: BoundReport, blanks: readonly Blank[], measures: readonly Measure[]): Problem[] {
  const [home] = report.sources
  const reads = ({ source, column }: Blank): boolean =>
    measures.some(({ bound }) =>
      aggregatesOf(bound).some(
        (part) =>
          (part.source ?? home.name) === source &&
          part.of !== undefined &&
          referencesOf(part.of).some(({ name }) => name === column),
      ),
    )
  const print = numberPrinter({ ...PLAIN_FORMAT, digits: 0 }, report.locale)
  return blanks
    .filter((blank) => blank.rows >= MIN_BLANK_SHARE * blank.of && reads(blank))
    .map(({ source, column, rows, of }) =>
      problem('note-blank-amounts', { source, column, rows: print(rows), of: print(of) }),
    )
}

/**
 * A message for each further source that lacks rows that an exhibit compares, or keys that it looks
 * up.
 */
export function gapNotes(
  report: BoundReport,
  gaps: readonly Gap[],
  exhibit: BoundExhibit,
  measures: readonly Measure[],
  span: Span | undefined,
): Problem[] {
  const [home] = report.sources
  const where = [...report.where, ...exhibit.where]
  const bounds = measures.map(({ bound }) => bound)
  const read = new Set(bounds.flatMap((bound) => aggregatesOf(bound).flatMap(({ source }) => source ?? [])))
  const columns = [...where, ...bounds].flatMap((bound) => referencesOf(bound).map(({ name }) => name))
  const names = new Set([...exhibit.rows, ...exhibit.columns, ...columns])
  return gaps.flatMap((gap) => {
    const looksUp = [...names].some((name) => name.startsWith(`${gap.source}.`) || gap.fields?.includes(name))
    if (!read.has(gap.source) && !looksUp) return []
    const lacking = lackingOf(report, gap, where, span)
    if (lacking.length === 0) return []
    const count = lacking.reduce((n, { periods }) => n + Math.max(1, periods.length), 0)
    const by = [...gap.match, ...(gap.unit === undefined ? [] : [gap.unit])]
    const what = lackingText(gap, lacking, report)
    const code = read.has(gap.source) ? 'note-source-gap' : 'note-not-looked-up'
    return [problem(code, { source: gap.source, home: home.name, count, by, what })]
  })
}

/** The missing rows within conditions and a span, by keys. */
export function lackingOf(
  { sources: [home], calendar, locale }: BoundReport,
  { match, unit, rows }: Gap,
  where: readonly Bound[],
  span?: Span,
): Lacking[] {
  const keep = keptRows(rows, where)
  const days = unit === undefined ? undefined : rows.columns.get(home.date ?? '')?.column
  const lacking = new Map<string, Lacking>()
  for (let i = 0; i < rows.length; i++) {
    if (keep?.[i] === 0) continue
    const keys = Object.fromEntries(match.map((name) => [name, keyText(rows, name, i)]))
    const id = JSON.stringify(keys)
    const entry = lacking.get(id) ?? { keys, periods: [] }
    if (unit !== undefined && days !== undefined && days.kind === 'date') {
      const period = periodOf(unit, days.values[i], calendar)
      const { from, to } = spanOf(unit, period, calendar)
      if (span !== undefined && (to < span.from || from > span.to)) continue
      if (!entry.periods.includes(period)) entry.periods.push(period)
    }
    lacking.set(id, entry)
  }
  for (const entry of lacking.values()) entry.periods.sort((a, b) => a - b)
  // Sorted, so that every engine gives the same order.
  const { compare } = new Intl.Collator(locale, { numeric: true })
  return [...lacking.values()].sort((a, b) => compare(Object.values(a.keys).join(' '), Object.values(b.keys).join(' ')))
}

/** A condition on other columns excludes nothing here. */
function keptRows(rows: Table, where: readonly Bound[]): Int8Array | undefined {
  const applicable = where.filter((bound) => referencesOf(bound).every((ref) => rows.columns.has(ref.name)))
  if (applicable.length === 0) return undefined
  const keep = new Int8Array(rows.length).fill(1)
  const scope = rowScope(rows)
  for (const bound of applicable) {
    const holds = conditions(evaluate(bound, scope), rows.length)
    for (let i = 0; i < keep.length; i++) if (holds[i] !== 1) keep[i] = 0
  }
  return keep
}

/** Missing rows in words: `Coast in Aug 2025; Valley in Jan 2025 to Mar 2025`. */
export function lackingText(
  { unit, near }: Gap,
  lacking: readonly Lacking[],
  { locale, calendar }: BoundReport,
): string {
  const print = periodPrinter(locale, calendar)
  const together = new Map<string, string[]>()
  for (const { keys, periods } of lacking) {
    const when = unit === undefined ? '' : runs(periods, (period) => print.long(unit, period))
    const names = Object.values(keys).map((name) => {
      const other = near?.get(name)
      return other === undefined ? name : `${name} (${other}?)`
    })
    together.set(when, [...(together.get(when) ?? []), names.join(' ')])
  }
  const texts = [...together].map(([when, notes]) => {
    const names = firstFew(notes, ', ')
    return names === '' || when === '' ? `${names}${when}` : `${names} in ${when}`
  })
  return firstFew(texts, '; ')
}

/** Joins consecutive periods to ranges. */
function runs(periods: readonly number[], print: (period: number) => string): string {
  const gaps: [number, number][] = []
  for (const period of periods) {
    const last = gaps.at(-1)
    if (last !== undefined && period === last[1] + 1) last[1] = period
    else gaps.push([period, period])
  }
  return gaps.map(([from, to]) => (from === to ? print(from) : `${print(from)} to ${print(to)}`)).join(', ')
}

/** As data: keys with their missing periods, as written in a report. */
export function lackingData(
  { unit }: Gap,
  lacking: readonly Lacking[],
  calendar: Calendar,
): { keys: Record<string, string>; periods: string[] }[] {
  return lacking.map(({ keys, periods }) => ({
    keys,
    periods: unit === undefined ? [] : periods.map((period) => periodText(unit, period, calendar)),
  }))
}

/** Words of a written order that no row has: misspelt or obsolete. */
export function unknownOrders(exhibit: BoundExhibit, summary: Summary): Problem[] {
  return [...exhibit.orders].flatMap(([key, order]) => {
    const domain = [...summary.rows.keys, ...summary.columns.keys].find((rowKey) => rowKey.name === key)?.domain
    if (domain === undefined) return []
    const names = new Set(
      domain.kind === 'text' ? domain.words : domain.periods.map((p) => periodText(domain.unit, p, domain.calendar)),
    )
    const words = order.filter((word) => !names.has(word))
    return words.length === 0 ? [] : [problem('note-order-unknown', { key, words })]
  })
}
