import type { Coder, Column } from '../../../column/column.js'
import type { Type } from '../../../expression/bound.js'
import { dayText } from '../../../time/day.js'
import { createWordCoder } from '../../lists.js'
import { addWord, createRawColumn, type MadeColumn, type RawColumn } from '../../raw.js'
import { KIND } from './cell.js'
import { longer } from './longer.js'

/** A column of a sheet while it is read: nine bytes a cell, whatever it holds. */
export interface SheetColumn {
  name: string
  /** What each cell holds. */
  kinds: Uint8Array
  /** Its number, day, hours or truth, or the code of its text. */
  values: Float64Array
  length: number
  coder: Coder
  /** How many cells there are of each kind. */
  counts: Float64Array
  currencies: Set<string>
}

export function createSheetColumn(name: string, rows: number): SheetColumn {
  const column: SheetColumn = {
    name,
    kinds: new Uint8Array(1024),
    values: new Float64Array(1024),
    length: 0,
    coder: createWordCoder(),
    counts: new Float64Array(KIND.error + 1),
    currencies: new Set(),
  }
  // Missing in the rows before it.
  addCell(column, KIND.missing, Number.NaN, '', '', rows)
  return column
}

/** Adds a cell, as often as its row is repeated. */
export function addCell(
  column: SheetColumn,
  kind: number,
  number: number,
  text: string,
  currency: string,
  times = 1,
): void {
  const to = column.length + times
  if (to > column.values.length) {
    column.kinds = longer(column.kinds, to)
    column.values = longer(column.values, to)
  }
  const value = kind === KIND.text ? column.coder.code(text) : number
  if (times === 1) {
    column.kinds[column.length] = kind
    column.values[column.length] = value
  } else {
    column.kinds.fill(kind, column.length, to)
    column.values.fill(value, column.length, to)
  }
  column.length = to
  column.counts[kind] += times
  if (kind === KIND.currency && !column.currencies.has(currency)) column.currencies.add(currency)
}

/** The kind that all cells of a column have; `mixed` for several, `blank` for none. */
type ColumnKind = 'number' | 'date' | 'condition' | 'text' | 'mixed' | 'blank'

function kindOf({ counts }: SheetColumn): ColumnKind {
  const numbers = counts[KIND.number] + counts[KIND.percent] + counts[KIND.currency] + counts[KIND.time]
  const present: ColumnKind[] = []
  if (numbers > 0) present.push('number')
  if (counts[KIND.date] > 0) present.push('date')
  if (counts[KIND.condition] > 0) present.push('condition')
  if (counts[KIND.text] > 0) present.push('text')
  return present.length === 0 ? 'blank' : present.length === 1 ? present[0] : 'mixed'
}

/**
 * The column for the typed table: with its type, or as words where these are `wanted` or its cells
 * are of several kinds.
 */
export function rawColumnOf(column: SheetColumn, wanted: boolean): RawColumn {
  const kind = kindOf(column)
  const raw = createRawColumn(column.name, false, column.length)
  if (wanted || kind === 'mixed') {
    for (let i = 0; i < column.length; i++) addWord(raw, wordOf(column, i), i + 1, 0)
    // Its cells say their kinds: a text stays one, whatever it looks like.
    if (!wanted && kind === 'mixed') raw.typed = { kind: 'text' }
    return raw
  }
  raw.typed = typedOf(column, kind)
  return raw
}

function typedOf(column: SheetColumn, kind: ColumnKind): MadeColumn {
  const { length, values, counts, currencies } = column
  const own = values.subarray(0, length)
  if (kind === 'number') {
    const [currency] = currencies
    const isMoney = currencies.size === 1 && currency !== '' && counts[KIND.currency] > 0
    const others = counts[KIND.number] + counts[KIND.time]
    const type: Type =
      isMoney && others + counts[KIND.percent] === 0
        ? { kind: 'number', unit: { is: 'money', currency } }
        : {
            kind: 'number',
            unit: { is: counts[KIND.percent] > 0 && others + counts[KIND.currency] === 0 ? 'percent' : 'none' },
          }
    return { kind: 'made', column: { kind: 'number', values: own }, type, ...(isMoney && { currency }) }
  }
  if (kind === 'date') return { kind: 'made', column: { kind: 'date', values: own }, type: { kind: 'date' } }
  if (kind === 'condition') {
    const truths = Int8Array.from(own, (value) => (Number.isNaN(value) ? -1 : value))
    return { kind: 'made', column: { kind: 'condition', values: truths }, type: { kind: 'condition' } }
  }
  const codes = new Int32Array(length)
  for (let i = 0; i < length; i++) codes[i] = column.kinds[i] === KIND.text ? own[i] : -1
  const texts: Column = { kind: 'text', codes, words: column.coder.words }
  return { kind: 'made', column: texts, type: { kind: kind === 'blank' ? 'blank' : 'text' } }
}

/** A cell as it would be written in a text file. */
function wordOf({ kinds, values, coder }: SheetColumn, i: number): string {
  const value = values[i]
  switch (kinds[i]) {
    case KIND.text:
      return coder.words[value]
    case KIND.date:
      return dayText(value)
    case KIND.time:
      return clock(value)
    case KIND.condition:
      return value === 1 ? 'true' : 'false'
    case KIND.missing:
    case KIND.error:
      return ''
    default:
      return String(value)
  }
}

/** Hours as on a clock: 7.5 is `07:30`; seconds only where there are some. */
function clock(hours: number): string {
  const seconds = Math.round(Math.abs(hours) * 3600)
  const two = (value: number): string => String(value).padStart(2, '0')
  const [h, m, s] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60]
  return `${hours < 0 ? '-' : ''}${two(h)}:${two(m)}${s === 0 ? '' : `:${two(s)}`}`
}
