import type { Column } from '../column/column.js'
import { wordAt } from './join.js'

/** The rows of a lookup table by their keys. */
export interface LookupRows {
  length: number
  /** The text of each key of each row; null where it is missing, so that the row is never met. */
  words: readonly (readonly (string | null)[])[]
  /** The days in which each row holds; left out: always. */
  days?: LookupDays
}

/** First and last days, since 1970-01-01. */
export interface LookupDays {
  from: Float64Array
  to: Float64Array
}

/** A row holds to this day if no later one replaces it; far behind every date. */
export const NO_END = 10_000_000

/** The keys of rows as texts, for matching. */
export function keyWords(column: Column, length: number): (string | null)[] {
  const words: (string | null)[] = []
  for (let i = 0; i < length; i++) words.push(wordAt(column, i))
  return words
}

/**
 * The row of a lookup table for each row of a source; -1 where there is none.
 *
 * @param keys the columns of the source, in the order of the keys of the lookup table
 * @param days the dates of the source; needed where rows hold for a time
 */
export function placesOf(
  rows: LookupRows,
  keys: readonly Column[],
  days: Float64Array | undefined,
  length: number,
): Int32Array {
  const [key] = keys
  if (rows.days === undefined && keys.length === 1 && key.kind === 'text') return placesOfWords(rows, key, length)
  const combined = combine(rows, keys, length)
  const lists = rowsByKey(combined.ofRows, combined.size)
  const places = new Int32Array(length).fill(-1)
  if (rows.days === undefined) {
    for (let i = 0; i < length; i++) {
      const list = combined.ofSource[i] < 0 ? undefined : lists.get(combined.ofSource[i])
      if (list !== undefined) places[i] = list[0]
    }
    return places
  }
  if (days === undefined) return places
  const { from, to } = rows.days
  for (const list of lists.values()) list.sort((a, b) => from[a] - from[b])
  for (let i = 0; i < length; i++) {
    const list = combined.ofSource[i] < 0 ? undefined : lists.get(combined.ofSource[i])
    if (list !== undefined && !Number.isNaN(days[i])) places[i] = heldAt(list, from, to, days[i])
  }
  return places
}

/** Each word of a text key is looked up once, however many rows have it. */
function placesOfWords(
  { words: [own] }: LookupRows,
  { codes, words }: Column & { kind: 'text' },
  length: number,
): Int32Array {
  const rowOf = new Map<string, number>()
  own.forEach((word, row) => {
    if (word !== null && !rowOf.has(word)) rowOf.set(word, row)
  })
  const ofWords = Int32Array.from(words, (word) => rowOf.get(word) ?? -1)
  const places = new Int32Array(length)
  for (let i = 0; i < length; i++) places[i] = codes[i] < 0 ? -1 : ofWords[codes[i]]
  return places
}

/** The row of a sorted list that holds on a day; -1 if none does. */
function heldAt(list: readonly number[], from: Float64Array, to: Float64Array, day: number): number {
  let low = 0
  let high = list.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (from[list[middle]] <= day) low = middle + 1
    else high = middle
  }
  const row = low === 0 ? -1 : list[low - 1]
  return row >= 0 && day <= to[row] ? row : -1
}

function rowsByKey(ids: Float64Array, size: number): Map<number, number[]> {
  const lists = new Map<number, number[]>()
  for (let row = 0; row < size; row++) {
    if (ids[row] < 0) continue
    const list = lists.get(ids[row])
    if (list === undefined) lists.set(ids[row], [row])
    else list.push(row)
  }
  return lists
}

/** The keys of rows and source as one number for each; -1 where a key is missing or not there. */
function combine(
  { words, length: size }: LookupRows,
  keys: readonly Column[],
  length: number,
): { ofRows: Float64Array; ofSource: Float64Array; size: number } {
  const ofRows = new Float64Array(size)
  const ofSource = new Float64Array(length)
  words.forEach((list, k) => {
    const numbers = new Map<string, number>()
    for (const word of list) if (word !== null && !numbers.has(word)) numbers.set(word, numbers.size)
    const width = numbers.size
    const number = (word: string | null): number => (word === null ? -1 : (numbers.get(word) ?? -1))
    for (let row = 0; row < size; row++) ofRows[row] = joined(ofRows[row], number(list[row]), width)
    const codes = numbered(keys[k], length, number)
    for (let i = 0; i < length; i++) ofSource[i] = joined(ofSource[i], codes[i], width)
  })
  return { ofRows, ofSource, size }
}

/** Exact while the product of the widths stays below 2^53: no lookup table has so many rows. */
function joined(id: number, code: number, width: number): number {
  return id < 0 || code < 0 ? -1 : id * width + code
}

/** The number of the key of each row; the words of a text column are looked up once each. */
function numbered(column: Column, length: number, number: (word: string | null) => number): Int32Array {
  const codes = new Int32Array(length)
  if (column.kind === 'text') {
    const ofWords = column.words.map(number)
    for (let i = 0; i < length; i++) codes[i] = column.codes[i] < 0 ? -1 : ofWords[column.codes[i]]
    return codes
  }
  for (let i = 0; i < length; i++) codes[i] = number(wordAt(column, i))
  return codes
}
