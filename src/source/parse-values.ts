import { dayOf, monthLength } from '../time/day.js'
import { parsePeriod, spanOf } from '../time/period.js'
import { isMoment, momentDay, type ZoneDay } from '../time/zone.js'
import { FALSE_WORDS, PLAIN_NUMBER, TRUE_WORDS } from './grammar.js'

/** How a column is read: declared with `read:`, or inferred. */
export type ReadAs =
  | { kind: 'text' }
  | { kind: 'condition' }
  | { kind: 'number'; decimal?: ',' | '.' }
  | { kind: 'date'; order?: DateOrder }

/** The parts of a date in order, as in `dd/mm/yyyy`. */
export type DateOrder = 'dmy' | 'mdy' | 'ymd'

const ORDER_WORDS: Readonly<Record<DateOrder, string>> = { dmy: 'dd/mm/yyyy', mdy: 'mm/dd/yyyy', ymd: 'yyyy/mm/dd' }

/**
 * Reads `text`, `condition`, `number`, `number comma`, `number point`, `date`, `date dd/mm/yyyy`;
 * undefined for anything else.
 */
export function parseReadAs(written: string): ReadAs | undefined {
  const [kind, how, ...more] = written.trim().split(/\s+/)
  if (more.length > 0) return undefined
  if (how === undefined)
    return kind === 'text' || kind === 'condition' || kind === 'number' || kind === 'date' ? { kind } : undefined
  if (kind === 'number' && (how === 'comma' || how === 'point')) return { kind, decimal: how === 'comma' ? ',' : '.' }
  if (kind !== 'date') return undefined
  // The separators of a pattern do not matter: `dd.mm.yyyy` reads 30/06/2025, too.
  const letters = /^(d{1,2}|m{1,2}|y{2}|y{4})[-./](d{1,2}|m{1,2})[-./](d{1,2}|y{2}|y{4})$/.exec(how)
  const order =
    letters === null
      ? ''
      : letters
          .slice(1)
          .map((part) => part[0])
          .join('')
  return order === 'dmy' || order === 'mdy' || order === 'ymd' ? { kind, order } : undefined
}

/** In the form of a declaration. */
export function readAsText(as: ReadAs): string {
  if (as.kind === 'number' && as.decimal !== undefined) return as.decimal === ',' ? 'number comma' : 'number point'
  return as.kind === 'date' && as.order !== undefined ? `date ${ORDER_WORDS[as.order]}` : as.kind
}

const PLAIN = new RegExp(`^(?:${PLAIN_NUMBER})$`)
const PERCENT = /^[+-]?(?:0|[1-9]\d*|0?(?=\.))(?:\.\d+)?\s?%$/

export function isPlainNumber(word: string): boolean {
  return PLAIN.test(word)
}

export function isPercent(word: string): boolean {
  return PERCENT.test(word)
}

/** A number as programs write it; NaN for anything else. */
export function plainNumber(word: string): number {
  if (PLAIN.test(word)) return Number(word)
  return PERCENT.test(word) ? Number(word.replace('%', '').trim()) / 100 : Number.NaN
}

const POWERS = Float64Array.from({ length: 23 }, (_, i) => Number(`1e${i}`))

/**
 * The same as `plainNumber` for a plain number without a percent sign, by one look at each
 * character. The result is added to a list, as returning a double would allocate. False for other
 * text. Up to 15 digits over a power of ten up to 22 are the nearest double by one division
 * (Clinger 1990); longer numbers use the slow path.
 */
export function putPlainNumber(values: Float64Array, place: number, text: string): boolean {
  const end = text.length
  let at = 0
  let sign = 1
  const first = text.charCodeAt(0)
  if (first === 45 || first === 43) {
    if (first === 45) sign = -1
    at = 1
  }
  const start = at
  let digits = 0
  let mantissa = 0
  let point = -1
  for (; at < end; at++) {
    const c = text.charCodeAt(at)
    if (c >= 48 && c <= 57) {
      mantissa = mantissa * 10 + c - 48
      digits++
    } else if (c === 46 && point < 0) point = at
    else break
  }
  const whole = (point < 0 ? at : point) - start
  const zeros = whole > 1 && text.charCodeAt(start) === 48
  if (at < end || digits > 15 || digits === 0 || zeros || point === at - 1) {
    const word = text.trim()
    values[place] = word === '' ? Number.NaN : Number(word)
    // A blank value is missing.
    return word === '' || PLAIN.test(word)
  }
  values[place] = (sign * mantissa) / POWERS[point < 0 ? 0 : at - point - 1]
  return true
}

const SPACES = '\\u0020\\u00a0\\u202f\\u2009'
const BODY: Readonly<Record<',' | '.', RegExp>> = {
  '.': new RegExp(`^(?:\\d{1,3}(?:[,'’${SPACES}]\\d{3})+|\\d+|(?=\\.))(?:\\.\\d+)?$`),
  ',': new RegExp(`^(?:\\d{1,3}(?:[.'’${SPACES}]\\d{3})+|\\d+|(?=,))(?:,\\d+)?$`),
}

/**
 * A number formatted for people: thousands marks, a decimal comma or point, a currency sign or
 * code, a percent sign, a minus at the end, or brackets for a negative amount. NaN for anything
 * else.
 */
export function writtenNumber(word: string, decimal: ',' | '.'): number {
  let text = word.replace('−', '-').replace(/^\(([^)]*)\)$/, '-$1')
  const trailing = /^(.*\d)\s*-$/.exec(text)
  if (trailing !== null) text = `-${trailing[1]}`
  const percent = /^(.*\d)\s*%$/.exec(text)
  if (percent !== null) text = percent[1]
  // A sign may precede or follow the currency: -€5, € -5.
  const match = /^([+-]?)\s*(?:\p{Sc}|[A-Z]{3})?\s*([+-]?)\s*([\d.,'’\s]*\d)\s*(?:\p{Sc}|[A-Z]{3})?$/u.exec(text)
  if (match === null || (match[1] !== '' && match[2] !== '')) return Number.NaN
  const body = match[3]
  if (!BODY[decimal].test(body)) return Number.NaN
  const digits = body.replace(decimal === ',' ? /[^\d,]/g : /[^\d.]/g, '').replace(',', '.')
  const amount = Number(digits) * (match[1] === '-' || match[2] === '-' ? -1 : 1)
  return percent === null ? amount : amount / 100
}

/** A number with leading zeros is a name, unless it is declared a number. */
export function hasLeadingZero(word: string): boolean {
  return /^\D*0\d/.test(word)
}

/**
 * An ISO 8601 date, a period as its first day, or a moment as its day in the zone, if one is given;
 * NaN for anything else.
 */
export function isoDay(word: string, zone?: ZoneDay): number {
  if (word.length > 10 && isMoment(word)) return momentDay(word, (date) => isoDay(date), zone)
  const period = parsePeriod(word)
  return period === undefined ? Number.NaN : spanOf(period.unit, period.period).from
}

/**
 * A date of three numbers in a given order; years of two digits are of this century. NaN for
 * anything else, and for 30 February.
 */
export function writtenDay(word: string, order: DateOrder): number {
  const match = /^(\d{1,4})[-./](\d{1,2})[-./](\d{1,4})$/.exec(word)
  if (match === null) return Number.NaN
  const part = (letter: string): string => match[1 + order.indexOf(letter)]
  const [y, m, d] = ['y', 'm', 'd'].map(part)
  if ((y.length !== 4 && y.length !== 2) || m.length > 2 || d.length > 2) return Number.NaN
  const year = y.length === 2 ? 2000 + Number(y) : Number(y)
  const month = Number(m)
  const day = Number(d)
  if (year < 100 || month < 1 || month > 12 || day < 1 || day > monthLength(year, month)) return Number.NaN
  return dayOf(year, month, day)
}

const TRUTHS: ReadonlyMap<string, number> = new Map([
  ...TRUE_WORDS.map((word): [string, number] => [word, 1]),
  ...FALSE_WORDS.map((word): [string, number] => [word, 0]),
])

/** 1, 0, or -1 for a word that is no condition. */
export function truthOf(word: string): number {
  return TRUTHS.get(word.toLowerCase()) ?? -1
}
