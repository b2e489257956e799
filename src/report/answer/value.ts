import type { NumberPrinter } from '../../format/format.js'
import type { PeriodPrinter } from '../../format/period.js'
import type { Domain } from '../../summary/contract.js'
import type { Table, TableColumn } from '../../table/table.js'
import { dayText } from '../../time/day.js'
import { isPeriodUnit, type PeriodUnit, periodOf, spanOf } from '../../time/period.js'

/** A value as data: numbers and texts as they are, dates in ISO 8601, null if missing. */
export function valueAt({ column }: TableColumn, i: number): number | string | null {
  if (column.kind === 'text') return column.codes[i] < 0 ? null : column.words[column.codes[i]]
  if (column.kind === 'condition') return ['no', 'yes'][column.values[i]] ?? null
  const value = column.values[i]
  // An infinite number is reported beside the exhibit; data formats cannot hold it.
  if (!Number.isFinite(value)) return null
  return column.kind === 'date' ? dayText(value) : value
}

/** A value as text for readers; empty if missing. */
export function valueText(tableColumn: TableColumn, i: number, periods: PeriodPrinter, print: NumberPrinter): string {
  const { column, type } = tableColumn
  if (column.kind === 'number') return print(column.values[i])
  if (column.kind !== 'date') return String(valueAt(tableColumn, i) ?? '')
  const day = column.values[i]
  if (Number.isNaN(day)) return ''
  const unit = (type.kind === 'date' ? type.unit : undefined) ?? 'day'
  return periods.long(unit, periodOf(unit, day))
}

/** A key of a row as data; empty if missing. */
export function keyText(table: Table, key: string, i: number): string {
  const column = table.columns.get(key)
  return String((column && valueAt(column, i)) ?? '')
}

/** The number of texts that are listed; the data have all. */
const MAX_LISTED = 6

/** The first few of a list of texts, and the number of the others. */
export function firstFew(texts: readonly string[], between: string): string {
  const more = texts.length - MAX_LISTED
  return [...texts.slice(0, MAX_LISTED), ...(more > 0 ? [`${more} more`] : [])].join(between)
}

/** The label of a missing key: `(no region)`. */
export function missingKey(name: string, labels: ReadonlyMap<string, string>): string {
  return `(no ${labels.get(name) ?? name})`
}

/** The date of the report, if a period of a key began before and ends after it. */
export function unfinishedSince(
  domain: Domain | undefined,
  code: number | undefined,
  asOf: number | undefined,
): { unit: PeriodUnit; day: number } | undefined {
  if (domain?.kind !== 'time' || code === undefined || code < 0 || asOf === undefined) return undefined
  const { unit, periods, calendar } = domain
  if (!isPeriodUnit(unit)) return undefined
  const { from, to } = spanOf(unit, periods[code], calendar)
  return from <= asOf && to > asOf ? { unit, day: asOf } : undefined
}
