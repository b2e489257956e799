import type { Column } from '../column/column.js'
import type { Type } from '../expression/bound.js'
import type { NearlyNumbers } from '../table/source-table.js'
import { PERIOD_UNITS, type PeriodUnit, parsePeriod } from '../time/period.js'
import type { ZoneDay } from '../time/zone.js'
import { hasUnknownCode } from './currency.js'
import {
  type DateOrder,
  hasLeadingZero,
  isoDay,
  isPercent,
  isPlainNumber,
  plainNumber,
  type ReadAs,
  truthOf,
  writtenDay,
  writtenNumber,
} from './parse-values.js'
import { type RawColumn, type RawTable, whereText } from './raw.js'

export interface Inferred {
  column: Column
  type: Type
  /** Values that could not be read as declared, and count as missing. */
  unread?: { count: number; sample: string; where: string }
  nearly?: NearlyNumbers
  /** Messages about forms other than those that programs write. */
  guessed?: ReadAs
}

/**
 * The kind that all words of a column have, or the declared one; each distinct word is read once.
 */
export function inferColumn(raw: RawTable, column: RawColumn, asked: ReadAs | undefined, zone?: ZoneDay): Inferred {
  if (column.typed?.kind === 'made') return { column: column.typed.column, type: column.typed.type }
  if (column.numbers !== undefined) {
    const values = column.numbers.values.subarray(0, column.numbers.length)
    if (asked === undefined && values.every(Number.isNaN)) return blank(values.length)
    return { column: { kind: 'number', values }, type: { kind: 'number', unit: { is: 'none' } } }
  }
  const { words } = column.coder
  if (words.length === 0 && asked === undefined) return blank(column.codes.values().length)
  const as = asked ?? column.typed ?? guess(column)
  const inferred = made(raw, column, as, zone)
  if (asked === undefined && ((as.kind === 'number' && as.decimal) || (as.kind === 'date' && as.order)))
    inferred.guessed = as
  if (as.kind === 'text' && asked === undefined) Object.assign(inferred, nearlyOf(raw, column, words))
  return inferred
}

/** A column without values fits any declaration. */
function blank(rows: number): Inferred {
  return { column: { kind: 'text', codes: new Int32Array(rows).fill(-1), words: [] }, type: { kind: 'blank' } }
}

function made(raw: RawTable, rawColumn: RawColumn, as: ReadAs, zone: ZoneDay | undefined): Inferred {
  const { words } = rawColumn.coder
  if (as.kind === 'text')
    return { column: { kind: 'text', codes: rawColumn.codes.values(), words }, type: { kind: 'text' } }
  if (as.kind === 'condition') {
    const values = words.map(truthOf)
    const column: Column = {
      kind: 'condition',
      values: Int8Array.from(rawColumn.codes.values(), (code) => (code < 0 ? -1 : values[code])),
    }
    return { column, type: { kind: 'condition' }, ...unreadOf(raw, rawColumn, (code) => values[code] < 0) }
  }
  const values = Float64Array.from(words, as.kind === 'date' ? dayReader(as.order, zone) : numberReader(as.decimal))
  const column: Column = {
    kind: as.kind,
    values: valuesByRow(rawColumn.codes.values(), values),
  }
  const unread = unreadOf(raw, rawColumn, (code) => Number.isNaN(values[code]))
  if (as.kind === 'date') return { column, type: { kind: 'date' }, ...unread }
  const percent = words.length > 0 && words.every((word) => word.endsWith('%'))
  return { column, type: { kind: 'number', unit: percent ? { is: 'percent' } : { is: 'none' } }, ...unread }
}

/** The value of each row from the values of the words. */
function valuesByRow(codes: Int32Array, values: Float64Array): Float64Array {
  const out = new Float64Array(codes.length)
  for (let i = 0; i < out.length; i++) out[i] = codes[i] < 0 ? Number.NaN : values[codes[i]]
  return out
}

/** A declared number may be formatted for people; its decimal mark may be left to the words. */
function numberReader(decimal: ',' | '.' | undefined): (word: string) => number {
  return (word) => {
    if (decimal !== undefined) return writtenNumber(word, decimal)
    const plain = plainNumber(word)
    return Number.isNaN(plain) ? writtenNumber(word, '.') : plain
  }
}

function dayReader(order: DateOrder | undefined, zone: ZoneDay | undefined): (word: string) => number {
  return (word) => (order === undefined ? isoDay(word, zone) : writtenDay(word, order))
}

function guess({ coder: { words }, quoted }: RawColumn): ReadAs {
  const all = (test: (word: string) => boolean): boolean => words.every(test)
  if (!quoted) {
    if (all(isPlainNumber) || all(isPercent)) return { kind: 'number' }
    if (all((word) => truthOf(word) >= 0)) return { kind: 'condition' }
  }
  if (all((word) => word.includes('-') && !Number.isNaN(isoDay(word)))) return { kind: 'date' }
  return (quoted ? undefined : guessDecimal(words)) ?? guessOrder(words) ?? { kind: 'text' }
}

/** Numbers formatted for people, if comma and point are unambiguous in some word. */
function guessDecimal(words: readonly string[]): ReadAs | undefined {
  let point = true
  let comma = true
  let alike = true
  for (const word of words) {
    // `INV-1000` is a name, not an amount in INV.
    if (hasLeadingZero(word) || hasUnknownCode(word)) return undefined
    const p = writtenNumber(word, '.')
    const c = writtenNumber(word, ',')
    point &&= !Number.isNaN(p)
    comma &&= !Number.isNaN(c)
    alike &&= p === c
    if (!point && !comma) return undefined
  }
  if (point && comma && !alike) return undefined
  return { kind: 'number', decimal: point ? '.' : ',' }
}

/** Dates of three numbers, if day and month are unambiguous in some word. */
function guessOrder(words: readonly string[]): ReadAs | undefined {
  const orders: DateOrder[] = ['dmy', 'mdy', 'ymd']
  const fit = orders.filter((order) => words.every((word) => !Number.isNaN(writtenDay(word, order))))
  return fit.length === 1 ? { kind: 'date', order: fit[0] } : undefined
}

/**
 * If at least half of the distinct words are numbers, the others are reported when a number is
 * needed.
 */
function nearlyOf(raw: RawTable, column: RawColumn, words: readonly string[]): { nearly?: NearlyNumbers } {
  const strange = words.map((word) => !isPlainNumber(word))
  const first = strange.indexOf(true)
  if (first < 0 || strange.filter(Boolean).length * 2 > words.length) return {}
  let count = 0
  let of = 0
  for (const code of column.codes.values()) {
    if (code < 0) continue
    of++
    if (strange[code]) count++
  }
  return { nearly: { count, of, sample: words[first], where: whereText(raw, column, first) } }
}

function unreadOf(raw: RawTable, column: RawColumn, isUnread: (code: number) => boolean): Pick<Inferred, 'unread'> {
  if (!column.coder.words.some((_, code) => isUnread(code))) return {}
  let count = 0
  let first = -1
  for (const code of column.codes.values()) {
    if (code < 0 || !isUnread(code)) continue
    count++
    if (first < 0) first = code
  }
  return count === 0
    ? {}
    : { unread: { count, sample: column.coder.words[first], where: whereText(raw, column, first) } }
}

/** The coarsest period of date texts; undefined if all are days. */
export function coarsest(words: readonly string[]): PeriodUnit | undefined {
  let grain = PERIOD_UNITS.length - 1
  for (const word of words) {
    const period = parsePeriod(word)
    if (period !== undefined) grain = Math.min(grain, PERIOD_UNITS.indexOf(period.unit))
  }
  return PERIOD_UNITS[grain] === 'day' ? undefined : PERIOD_UNITS[grain]
}
