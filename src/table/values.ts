import { type Column, textColumn } from '../column/column.js'
import { type Problem, problem } from '../problem/problem.js'
import { dayOf, monthLength } from '../time/day.js'
import { isMoment, momentDay, type ZoneDay } from '../time/zone.js'

/** A value of a row. A Date stands for its day, in UTC unless a zone is given. */
export type RowValue = number | bigint | string | boolean | Date | null | undefined

/** The kinds of values. */
export type ColumnKind = 'number' | 'text' | 'date' | 'condition'

/** Numbers as any typed array holds them. */
export type NumberArray =
  | Float64Array
  | Float32Array
  | Int32Array
  | Uint32Array
  | Int16Array
  | Uint16Array
  | Int8Array
  | Uint8Array
  | Uint8ClampedArray
  | BigInt64Array
  | BigUint64Array

const DAY = 86_400_000

/**
 * A column of the declared kind, or of the kind of all its values. Other values are reported with
 * their row.
 */
export function columnOfValues(
  name: string,
  values: readonly unknown[],
  asked: ColumnKind | undefined,
  zone: ZoneDay | undefined,
  problems: Problem[],
): Column {
  const counts = new Map<string, number>()
  for (const value of values) {
    const kind = valueKind(value)
    counts.set(kind, (counts.get(kind) ?? 0) + 1)
  }
  counts.delete('missing')
  const kind = asked ?? kindOfAll(counts)
  let count = 0
  for (const [word, times] of counts) if (!fits(word, kind)) count += times
  if (count > 0) {
    const stray = values.findIndex((value) => valueKind(value) !== 'missing' && !fits(valueKind(value), kind))
    const row = stray + 1
    const place = { path: ['rows', stray, name] }
    const sample = shown(values[stray])
    problems.push(
      valueKind(values[stray]) === 'other'
        ? problem('row-value', { column: name, row, found: sample }, place)
        : problem('row-kind', { column: name, kind, row, count, sample }, place),
    )
    return emptyColumn(kind, values.length)
  }
  switch (kind) {
    case 'number':
      return {
        kind,
        values: Float64Array.from(values, (v) =>
          typeof v === 'number' || typeof v === 'bigint' ? Number(v) : Number.NaN,
        ),
      }
    case 'condition':
      return { kind, values: Int8Array.from(values, (v) => (typeof v === 'boolean' ? Number(v) : -1)) }
    case 'date':
      return { kind, values: Float64Array.from(values, (v) => dayOfValue(v, zone)) }
    case 'text':
      return textColumn(
        values.map((v) => (valueKind(v) === 'missing' ? null : v instanceof Date ? v.toISOString() : String(v))),
      )
  }
}

/** The numbers of a typed array, copied. */
export function columnOfNumbers(values: NumberArray): Column {
  return {
    kind: 'number',
    values: values instanceof Float64Array ? values.slice() : Float64Array.from<number | bigint>(values, Number),
  }
}

/** A column of a kind without values. */
export function emptyColumn(kind: ColumnKind, length: number): Column {
  if (kind === 'text') return { kind, codes: new Int32Array(length).fill(-1), words: [] }
  if (kind === 'condition') return { kind, values: new Int8Array(length).fill(-1) }
  return { kind, values: new Float64Array(length).fill(Number.NaN) }
}

function valueKind(value: unknown): 'missing' | 'number' | 'condition' | 'date' | 'day' | 'text' | 'other' {
  if (value === null || value === undefined) return 'missing'
  if (typeof value === 'number') return Number.isNaN(value) ? 'missing' : 'number'
  if (typeof value === 'bigint') return 'number'
  if (typeof value === 'boolean') return 'condition'
  if (value instanceof Date) return Number.isNaN(value.getTime()) ? 'missing' : 'date'
  if (typeof value !== 'string') return 'other'
  // A quick test: most texts are no dates.
  if (value !== '' && !value.includes('-')) return value.trim() === '' ? 'missing' : 'text'
  const text = value.trim()
  return text === '' ? 'missing' : isDay(text) ? 'day' : 'text'
}

/**
 * A column of numbers with a few texts is a number column with problems: as text, no limit would
 * apply.
 */
function kindOfAll(counts: ReadonlyMap<string, number>): ColumnKind {
  const has = (kind: string): boolean => counts.has(kind)
  const all = [...counts.values()].reduce((sum, count) => sum + count, 0)
  if (2 * (counts.get('number') ?? 0) >= all && all > 0) return 'number'
  if (has('condition')) return counts.size === 1 ? 'condition' : 'text'
  return (has('date') || has('day')) && !has('text') && !has('other') ? 'date' : 'text'
}

function fits(word: string, kind: ColumnKind): boolean {
  if (word === 'other') return false
  return kind === 'text' || word === kind || (kind === 'date' && word === 'day')
}

const ISO_DAY = /^(\d{4})-(\d{2})-(\d{2})$/

/** Whether a text is an ISO 8601 date, or a moment of one. */
function isDay(text: string): boolean {
  return !Number.isNaN(dayOfText(text)) || (isMoment(text) && !Number.isNaN(dayOfText(text.slice(0, 10))))
}

function dayOfText(text: string): number {
  const match = ISO_DAY.exec(text)
  if (match === null) return Number.NaN
  const [year, month, day] = [Number(match[1]), Number(match[2]), Number(match[3])]
  return month >= 1 && month <= 12 && day >= 1 && day <= monthLength(year, month) ? dayOf(year, month, day) : Number.NaN
}

function dayOfValue(value: unknown, zone: ZoneDay | undefined): number {
  if (value instanceof Date) return zone === undefined ? Math.floor(value.getTime() / DAY) : zone(value.getTime())
  if (typeof value !== 'string') return Number.NaN
  const text = value.trim()
  return isMoment(text) ? momentDay(text, dayOfText, zone) : dayOfText(text)
}

function shown(value: unknown): string {
  return typeof value === 'object' ? (Array.isArray(value) ? 'a list' : 'an object') : String(value).slice(0, 40)
}
