import type { Column } from '../column/column.js'
import type { Type } from '../expression/bound.js'
import type { NearlyNumbers, ReadAs } from '../table/source-table.js'
import { parsePeriod, spanOf } from '../time/period.js'
import type { RawColumn } from './csv.js'

interface Inferred {
  column: Column
  type: Type
  /** Values that could not be read as asked, and count as missing. */
  unread?: { count: number; sample: string; line: number }
  nearly?: NearlyNumbers
}

// 007 is a name, not a number: a leading zero stands only before a point.
const NUMBER = /^[+-]?(?:0|[1-9]\d*|0?(?=\.))(?:\.\d+)?(?:[eE][+-]?\d+)?$/
const PERCENT = /^[+-]?(?:0|[1-9]\d*|0?(?=\.))(?:\.\d+)?\s?%$/
const TRUTHS: ReadonlyMap<string, number> = new Map([
  ['true', 1],
  ['yes', 1],
  ['false', 0],
  ['no', 0],
])

/** The kind that all words of a column agree on, or the one that is asked for; words decide, so each is read once. */
export function inferColumn(raw: RawColumn, asked: ReadAs | undefined): Inferred {
  const { words } = raw.coder
  const kind = asked ?? guess(words)
  if (kind === 'text') return { ...asText(raw), ...nearlyOf(raw) }
  if (kind === 'condition') {
    const values = words.map((word) => TRUTHS.get(word.toLowerCase()) ?? -1)
    const column: Column = { kind, values: Int8Array.from(raw.codes, (code) => (code < 0 ? -1 : values[code])) }
    return { column, type: { kind }, ...unreadOf(raw, (code) => values[code] < 0) }
  }
  const percent = kind === 'number' && words.length > 0 && words.every((word) => PERCENT.test(word))
  const read = kind === 'number' ? readNumber : readDay
  const values = Float64Array.from(words, read)
  const own = Float64Array.from(raw.codes, (code) => (code < 0 ? Number.NaN : values[code]))
  const unread = unreadOf(raw, (code) => Number.isNaN(values[code]))
  if (kind === 'date') return { column: { kind, values: own }, type: { kind }, ...unread }
  const unit = percent ? ({ is: 'percent' } as const) : ({ is: 'none' } as const)
  return { column: { kind: 'number', values: own }, type: { kind: 'number', unit }, ...unread }
}

function guess(words: readonly string[]): ReadAs {
  // A column of blanks alone is numbers: all of them missing.
  if (words.every((word) => NUMBER.test(word)) || words.every((word) => PERCENT.test(word))) return 'number'
  if (words.every((word) => TRUTHS.has(word.toLowerCase()))) return 'condition'
  return words.every((word) => word.includes('-') && parsePeriod(word) !== undefined) ? 'date' : 'text'
}

function readNumber(word: string): number {
  if (NUMBER.test(word)) return Number(word)
  return PERCENT.test(word) ? Number(word.replace('%', '').trim()) / 100 : Number.NaN
}

function readDay(word: string): number {
  const period = parsePeriod(word)
  return period === undefined ? Number.NaN : spanOf(period.unit, period.period).from
}

function asText(raw: RawColumn): Inferred {
  return {
    column: { kind: 'text', codes: Int32Array.from(raw.codes), words: raw.coder.words },
    type: { kind: 'text' },
  }
}

/** Where at least half of the distinct words are numbers, the others are worth telling when a number is needed. */
function nearlyOf(raw: RawColumn): { nearly?: NearlyNumbers } {
  const { words } = raw.coder
  const strange = words.map((word) => !NUMBER.test(word))
  const first = strange.indexOf(true)
  if (first < 0 || strange.filter(Boolean).length * 2 > words.length) return {}
  let count = 0
  let of = 0
  for (const code of raw.codes) {
    if (code < 0) continue
    of++
    if (strange[code]) count++
  }
  return { nearly: { count, of, sample: words[first], line: raw.firstLine[first] } }
}

function unreadOf(raw: RawColumn, isUnread: (code: number) => boolean): Pick<Inferred, 'unread'> {
  let count = 0
  let first = -1
  for (const code of raw.codes) {
    if (code < 0 || !isUnread(code)) continue
    count++
    if (first < 0) first = code
  }
  return count === 0 ? {} : { unread: { count, sample: raw.coder.words[first], line: raw.firstLine[first] } }
}
