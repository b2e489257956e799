import { round14 } from '../column/round.js'
import { currencyOf } from '../source/currency.js'
import type { SourceTable } from '../table/source-table.js'
import type { TableColumn } from '../table/table.js'
import { dayText } from '../time/day.js'

/** What the values of a column say about it. */
export interface ColumnFacts {
  name: string
  /** The name in its lookup table, for a column that is looked up: `town` of `shops.town`. */
  plainName?: string
  /** `blank` is a column without values. */
  kind: TableColumn['column']['kind'] | 'blank'
  percent: boolean
  rows: number
  missing: number
  /** Different values. */
  distinct: number
  /** Of numbers and dates; NaN without values. */
  low: number
  high: number
  sum: number
  median: number
  whole: boolean
  /** Each value is higher than the one before. */
  rising: boolean
  /** Rows with a negative number. */
  negative: number
  /** The different texts, in the order in which they appear. */
  words: readonly string[]
  /** The code of each row; -1 is missing. */
  codes: Int32Array | undefined
  values: Float64Array | undefined
  /** The mean length of the different texts. */
  length: number
  /** An ISO 4217 code that the name or the values give. */
  currency: string | undefined
}

/** A stacked column has its currency as its unit. */
function currencyOfType(type: TableColumn['type']): string | undefined {
  return type.kind === 'number' && type.unit.is === 'money' ? type.unit.currency : undefined
}

/** Facts of every column, in order. */
export function columnFacts({ table, currencies }: SourceTable): ColumnFacts[] {
  return [...table.columns.values()].map((column) => ({
    ...factsOf(column, table.length),
    currency: currencies?.get(column.name) ?? currencyOfType(column.type) ?? currencyOf(column.name),
  }))
}

function factsOf({ name, column, type }: TableColumn, rows: number): Omit<ColumnFacts, 'currency'> {
  const none = {
    low: Number.NaN,
    high: Number.NaN,
    sum: 0,
    median: Number.NaN,
    whole: false,
    rising: false,
    negative: 0,
  }
  const common = { name, rows, percent: type.kind === 'number' && type.unit.is === 'percent' }
  if (column.kind === 'text') {
    const { words, codes } = column
    let missing = 0
    for (let i = 0; i < codes.length; i++) if (codes[i] < 0) missing++
    const length = words.length === 0 ? 0 : words.reduce((total, word) => total + word.length, 0) / words.length
    const kind = type.kind === 'blank' || words.length === 0 ? 'blank' : 'text'
    return { ...common, ...none, kind, missing, distinct: words.length, words, codes, values: undefined, length }
  }
  const numbers = Float64Array.from(column.values)
  if (column.kind === 'condition') for (let i = 0; i < rows; i++) if (numbers[i] < 0) numbers[i] = Number.NaN
  return {
    ...common,
    kind: column.kind,
    words: [],
    codes: undefined,
    values: numbers,
    length: 0,
    ...ofNumbers(numbers),
  }
}

function ofNumbers(values: Float64Array) {
  let [sum, missing, negative] = [0, 0, 0]
  let whole = true
  let rising = values.length > 1
  let before = Number.NEGATIVE_INFINITY
  for (let i = 0; i < values.length; i++) {
    const x = values[i]
    if (Number.isNaN(x)) {
      missing++
      continue
    }
    if (x < 0) negative++
    if (!Number.isInteger(x)) whole = false
    if (x <= before) rising = false
    before = x
    sum += x
  }
  const sorted = sortedNumbers(values, values.length - missing, whole)
  let distinct = 0
  for (let i = 0; i < sorted.length; i++) if (i === 0 || sorted[i] !== sorted[i - 1]) distinct++
  const { length } = sorted
  const none = Number.NaN
  const [low, median, high] = length === 0 ? [none, none, none] : [sorted[0], sorted[length >> 1], sorted[length - 1]]
  return { missing, distinct, low, high, sum, median, whole, rising: rising && length > 0, negative }
}

/** Whole numbers so close together are counted, which is many times faster than sorting. */
const MAX_COUNTED = 1 << 20

/** The numbers of a list in rising order, without the missing ones. */
function sortedNumbers(values: Float64Array, count: number, whole: boolean): Float64Array {
  let low = Number.POSITIVE_INFINITY
  let high = Number.NEGATIVE_INFINITY
  // Comparing with a missing value is false either way.
  for (let i = 0; i < values.length; i++) {
    if (values[i] < low) low = values[i]
    if (values[i] > high) high = values[i]
  }
  if (!whole || !(high - low < MAX_COUNTED)) return values.slice().sort().subarray(0, count)
  const counts = new Uint32Array(high - low + 1)
  for (let i = 0; i < values.length; i++) if (!Number.isNaN(values[i])) counts[values[i] - low]++
  const sorted = new Float64Array(count)
  for (let k = 0, at = 0; k < counts.length; k++) {
    sorted.fill(low + k, at, at + counts[k])
    at += counts[k]
  }
  return sorted
}

/** The range of a column for a comment. */
export function rangeText({ kind, low, high, missing, words }: ColumnFacts): string {
  const gone = missing === 0 ? '' : `, ${missing} missing`
  if (kind === 'blank') return 'no values'
  if (kind === 'text') return `${words.length} ${words.length === 1 ? 'value' : 'values'}${gone}`
  if (kind === 'condition') return `true or false${gone}`
  const print = (x: number): string => (kind === 'date' ? dayText(x) : String(round14(x)))
  return Number.isNaN(low) ? 'no values' : `${print(low)} to ${print(high)}${gone}`
}
