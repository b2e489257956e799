import type { Stack, Unstack } from '../source/layout.js'
import type { ColumnFacts } from './facts.js'
import { means, monthOf, wordsOf } from './words.js'

/** How the rows have to be laid out before they are analysed. */
export interface Shape {
  stack?: Stack
  unstack?: Unstack
  /** For a comment. */
  because: string
  /** The stacked names in the order of time, if they are not dates. */
  order?: readonly string[]
}

interface PeriodName {
  unit: 'month' | 'quarter' | 'year' | 'week'
  year: number | undefined
  part: number
  /** What else the name says: `sales` of `sales Jan`. */
  rest: string
}

const ISO = /^\d{4}(?:-\d{2}|-Q[1-4])?$/

/** Fewer columns of one unit are no series. */
const MIN_SERIES = 3

/** Repeated month, quarter, year or week columns; or pairs of a name and a value. */
export function shapeOf(columns: readonly ColumnFacts[]): Shape | undefined {
  return stackOf(columns) ?? pairsOf(columns)
}

function stackOf(columns: readonly ColumnFacts[]): Shape | undefined {
  const groups = new Map<string, { name: string; period: PeriodName }[]>()
  for (const { name, kind } of columns) {
    if (kind !== 'number' && kind !== 'blank') continue
    const period = periodName(name)
    if (period === undefined) continue
    const key = `${period.unit} ${period.rest}`
    groups.set(key, [...(groups.get(key) ?? []), { name, period }])
  }
  const series = [...groups.values()].filter((group) => isSeries(group.map(({ period }) => period)))
  if (series.length === 0) return undefined
  const [longest] = series.sort((a, b) => b.length - a.length)
  const sorted = [...longest].sort(
    (a, b) => (a.period.year ?? 0) - (b.period.year ?? 0) || a.period.part - b.period.part,
  )
  const { unit, rest } = sorted[0].period
  const names = sorted.map(({ name }) => name)
  const taken = (name: string): boolean => columns.some((column) => column.name === name && !names.includes(name))
  const name = [unit, `${unit}Name`, 'period'].find((each) => !taken(each)) ?? 'stackedName'
  const value = [rest.replaceAll(' ', '_'), 'amount', 'value', 'stackedValue'].find(
    (each) => each !== '' && !taken(each) && each !== name,
  )
  const dated = names.every((each) => ISO.test(each))
  return {
    stack: { columns: names, name, value: value ?? 'stackedValue' },
    because: `${names.length} columns of ${unit}s side by side become rows`,
    ...(!dated && { order: names }),
  }
}

function isSeries(periods: readonly PeriodName[]): boolean {
  const distinct = new Set(periods.map(({ year, part }) => `${year} ${part}`))
  return periods.length >= MIN_SERIES && distinct.size === periods.length
}

/** The period that a column is named by: `Jan`, `2025-01`, `Q1 2025`, `sales March`, `KW 12`. */
export function periodName(name: string): PeriodName | undefined {
  const words = wordsOf(name)
  let year: number | undefined
  let found: { unit: PeriodName['unit']; part: number } | undefined
  const rest: string[] = []
  for (const [i, word] of words.entries()) {
    const number = /^\d+$/.test(word) ? Number(word) : undefined
    const month = monthOf(word)
    if (month !== undefined && found === undefined) found = { unit: 'month', part: month }
    else if (/^[qt]$/.test(word) && /^[1-4]$/.test(words[i + 1] ?? ''))
      found = { unit: 'quarter', part: Number(words[i + 1]) }
    else if (/^(w|kw|week|woche|semana|semaine)$/.test(word) && /^\d{1,2}$/.test(words[i + 1] ?? ''))
      found = { unit: 'week', part: Number(words[i + 1]) }
    else if (number !== undefined && number >= 1 && number <= 12 && found === undefined && isYear(words[i + 1]))
      found = { unit: 'month', part: number }
    else if (number !== undefined && number >= 1990 && number <= 2100) year = number
    else if (number !== undefined && found !== undefined && found.part === number) continue
    else if (number !== undefined && found?.unit === 'month' && number < 100) year = 2000 + number
    else if (number !== undefined && year !== undefined && number >= 1 && number <= 12)
      found = { unit: 'month', part: number }
    else if (/^(fy|year|jahr|ano|annee)$/.test(word)) continue
    else rest.push(word)
  }
  // Day numbers, versions and other numbers make no period.
  if (rest.some((word) => /^\d+$/.test(word))) return undefined
  if (found !== undefined) return { ...found, year, rest: rest.join(' ') }
  const prefix = rest.join(' ')
  // `reading 1990` is a number, `sales 2024` a year.
  const isYearOf = prefix === '' || (['amount', 'quantity', 'cost', 'target'] as const).some((of) => means(prefix, of))
  return year === undefined || !isYearOf ? undefined : { unit: 'year', year, part: 0, rest: prefix }
}

function isYear(word: string | undefined): boolean {
  return word !== undefined && /^(?:199\d|20\d\d)$/.test(word)
}

/** Groups whose sizes differ by so much do not measure the same. */
const MIN_UNLIKE = 30

function pairsOf(columns: readonly ColumnFacts[]): Shape | undefined {
  const numbers = columns.filter(({ kind, name }) => kind === 'number' && !means(name, 'id'))
  if (numbers.length !== 1) return undefined
  const [value] = numbers
  const isNamed = means(value.name, 'value')
  for (const column of columns) {
    const { kind, distinct, codes, words } = column
    if (kind !== 'text' || codes === undefined || distinct < 2 || distinct > 30) continue
    const figure = means(column.name, 'figure')
    if (!figure && !(isNamed && words.some((word) => means(word, 'rate') || means(word, 'quantity')))) continue
    const sizes = groupSizes(codes, value.values as Float64Array, words.length)
    const positive = sizes.filter((size) => size > 0)
    const unlike = Math.max(...positive) / Math.min(...positive) > MIN_UNLIKE
    const units = columns.some(
      (other) => /^(unit|einheit|unidad|unite|unita|eenheid)s?$/i.test(other.name) && other.distinct > 1,
    )
    if (unlike || units)
      return {
        unstack: { name: column.name, value: value.name },
        because: `values of ${words.length} different figures become a column each`,
      }
  }
  return undefined
}

/** The mean size of the values of each group. */
function groupSizes(codes: Int32Array, values: Float64Array, count: number): number[] {
  const sums = new Float64Array(count)
  const counts = new Float64Array(count)
  for (let i = 0; i < codes.length; i++) {
    if (codes[i] < 0 || Number.isNaN(values[i])) continue
    sums[codes[i]] += Math.abs(values[i])
    counts[codes[i]]++
  }
  return Array.from(sums, (sum, code) => (counts[code] === 0 ? 0 : sum / counts[code]))
}
