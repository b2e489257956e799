import { createCoder } from '../../column/column.js'
import { type Coded, groupRows } from '../../column/group.js'
import { pickCodes } from '../../column/pick.js'
import type { Slots } from '../../column/slots.js'
import type { Bound } from '../../expression/bound.js'
import { conditions, evaluate } from '../../expression/evaluate.js'
import { rowScope } from '../../table/fields.js'
import { rowPlaces } from '../../table/join.js'
import { createTable, type Table } from '../../table/table.js'
import type { Calendar } from '../../time/calendar.js'
import { isTimeUnit, periodOf, type Span, type TimeUnit } from '../../time/period.js'
import { type Domain, MIXED, type Question, type UniformField } from '../contract.js'

/** The codes of a dimension, row by row, with their domain. */
export type Key = Coded & { domain: Domain }

/** The rows that meet the conditions, with their numbers. */
export function recordsOf(
  table: Table,
  question: Pick<Question, 'where' | 'span'>,
  days: Float64Array | undefined,
  number: (row: number) => number,
): { table: Table; numbers: Float64Array } {
  const keep = keepRows(table, question, days)
  const rows: number[] = []
  for (let i = 0; i < table.length; i++) if (keep === undefined || keep[i] === 1) rows.push(i)
  const columns = [...table.columns.values()].map((column) => ({ ...column, column: rowPlaces(column.column, rows) }))
  return { table: createTable(rows.length, columns), numbers: Float64Array.from(rows, number) }
}

/** Dictionary codes of a dimension: those of the column, or of its distinct values. */
export function makeKey(table: Table, name: string, days: Float64Array | undefined, calendar: Calendar): Key {
  if (isTimeUnit(name) && days !== undefined) return timeKey(name, days, calendar)
  const { column, type } = table.columns.get(name) ?? {}
  if (column === undefined) throw new Error(`no column ${name}`)
  if (column.kind === 'text')
    return {
      codes: column.codes,
      size: column.words.length,
      domain: { kind: 'text', words: column.words, ...(column.sorted && { sorted: true }) },
    }
  if (column.kind === 'date')
    return timeKey((type?.kind === 'date' ? type.unit : undefined) ?? 'day', column.values, calendar)
  const coder = createCoder()
  const codes = new Int32Array(table.length)
  if (column.kind === 'condition')
    for (let i = 0; i < codes.length; i++)
      codes[i] = column.values[i] < 0 ? -1 : coder.code(column.values[i] === 1 ? 'true' : 'false')
  else
    for (let i = 0; i < codes.length; i++)
      codes[i] = Number.isNaN(column.values[i]) ? -1 : coder.code(String(column.values[i]))
  return { codes, size: coder.words.length, domain: { kind: 'text', words: coder.words } }
}

function timeKey(unit: TimeUnit, days: Float64Array, calendar: Calendar): Key {
  const seen = new Map<number, number>()
  const periods: number[] = []
  const codes = new Int32Array(days.length)
  // There are few distinct days, so the calendar is computed once for each.
  const byDay = new Map<number, number>()
  for (let i = 0; i < days.length; i++) {
    const day = days[i]
    if (Number.isNaN(day)) {
      codes[i] = -1
      continue
    }
    let code = byDay.get(day)
    if (code === undefined) {
      const period = periodOf(unit, day, calendar)
      code = seen.get(period)
      if (code === undefined) {
        code = periods.length
        periods.push(period)
        seen.set(period, code)
      }
      byDay.set(day, code)
    }
    codes[i] = code
  }
  const domain: Domain = { kind: 'time', unit, periods, ...(calendar.yearStarts === 1 ? {} : { calendar }) }
  return { codes, size: periods.length, domain }
}

export function keepRows(
  table: Table,
  question: { where: readonly Bound[]; span?: Span },
  days: Float64Array | undefined,
): Int8Array | undefined {
  const { span } = question
  if (question.where.length === 0 && (span === undefined || days === undefined)) return undefined
  const keep = new Int8Array(table.length).fill(1)
  const scope = rowScope(table)
  for (const condition of question.where) {
    const holds = conditions(evaluate(condition, scope), table.length)
    for (let i = 0; i < keep.length; i++) if (holds[i] !== 1) keep[i] = 0
  }
  if (span !== undefined && days !== undefined) {
    // A row without a date belongs to no period; it counts only where time does not matter.
    const open = span.from === Number.NEGATIVE_INFINITY
    for (let i = 0; i < keep.length; i++)
      if (Number.isNaN(days[i]) ? !open : days[i] < span.from || days[i] > span.to) keep[i] = 0
  }
  return keep
}

/** Numbers rows by the combinations that occur, if there are too many for slots. */
export function numbered(keys: readonly Key[], keep: Int8Array | undefined, length: number): Slots {
  const { groups, count, first } = groupRows(keys, keep, length)
  const rows = new Float64Array(count)
  for (let i = 0; i < groups.length; i++) if (groups[i] >= 0) rows[groups[i]]++
  const used = Int32Array.from({ length: count }, (_, g) => g)
  return { slots: () => groups, count, rows, used, codes: (k) => pickCodes(keys[k].codes, first) }
}

export function agreed(name: string, key: Key, { slots, count, used }: Slots): UniformField {
  const NOTHING = -3
  const codes = new Int32Array(count).fill(NOTHING)
  const of = slots()
  for (let i = 0; i < of.length; i++) {
    const slot = of[i]
    if (slot < 0) continue
    if (codes[slot] === NOTHING) codes[slot] = key.codes[i]
    else if (codes[slot] !== key.codes[i]) codes[slot] = MIXED
  }
  return { name, codes: pickCodes(codes, used), domain: key.domain }
}
