import { type Column, textColumn } from '../column/column.js'
import type { Unit } from '../expression/unit.js'
import { type Better, columnType, createTable, type Table, type TableColumn } from './table.js'
import { unitOfFormat } from './unit.js'

/** What a reader should know of a column; all of it can be left out. */
export interface ColumnOptions {
  /** Its name for readers; default: the name itself. */
  label?: string
  /** `money CUR | percent | number`, digits, `signed`, `compact`, for a number `unit pots`; default: a plain number with up to 2 decimals. */
  format?: string
  /** Which direction is good; left out, nothing judges the column by direction. */
  better?: Better
}

/** What one row may hold. A Date stands for its UTC day. */
export type RowValue = number | string | boolean | Date | null | undefined

/**
 * A table from a list of records. A column is numbers, conditions or dates when all its values are, else text;
 * null, undefined, NaN and absent keys are missing. The rows are copied.
 */
export function fromRows(
  rows: readonly Readonly<Record<string, RowValue>>[],
  options: Readonly<Record<string, ColumnOptions>> = {},
): Table {
  const names = new Set<string>()
  for (const row of rows) for (const name of Object.keys(row)) names.add(name)
  const columns = Array.from(names, (name) => {
    const column = fromValues(rows.map((row) => (Object.hasOwn(row, name) ? row[name] : undefined)))
    return described(name, column, options)
  })
  return createTable(rows.length, columns)
}

/**
 * A table from columns of one length: a Float64Array is numbers as they are (NaN is missing), a list is read as in `fromRows`.
 * Typed arrays are copied.
 *
 * @throws RangeError when the columns differ in length.
 */
export function fromColumns(
  columns: Readonly<Record<string, Float64Array | readonly RowValue[]>>,
  options: Readonly<Record<string, ColumnOptions>> = {},
): Table {
  const entries = Object.entries(columns)
  const length = entries[0]?.[1].length ?? 0
  const made = entries.map(([name, values]) => {
    if (values.length !== length)
      throw new RangeError(`${name} has ${values.length} values, the first column ${length}`)
    const column: Column =
      values instanceof Float64Array ? { kind: 'number', values: values.slice() } : fromValues(values)
    return described(name, column, options)
  })
  return createTable(length, made)
}

function described(name: string, column: Column, options: Readonly<Record<string, ColumnOptions>>): TableColumn {
  const own = Object.hasOwn(options, name) ? options[name] : {}
  const unit: Unit = own.format === undefined ? { is: 'none' } : unitOfFormat(own.format)
  const made: TableColumn = { name, label: own.label ?? name, column, type: columnType(column, unit) }
  if (own.format !== undefined) made.format = own.format
  if (own.better !== undefined) made.better = own.better
  return made
}

function fromValues(values: readonly RowValue[]): Column {
  const present = values.filter((v) => v !== null && v !== undefined)
  const all = (test: (v: RowValue) => boolean): boolean => present.length > 0 && present.every(test)
  if (all((v) => typeof v === 'number'))
    return { kind: 'number', values: Float64Array.from(values, (v) => (typeof v === 'number' ? v : Number.NaN)) }
  if (all((v) => typeof v === 'boolean'))
    return { kind: 'condition', values: Int8Array.from(values, (v) => (typeof v === 'boolean' ? Number(v) : -1)) }
  if (all((v) => v instanceof Date))
    return {
      kind: 'date',
      values: Float64Array.from(values, (v) => (v instanceof Date ? Math.floor(v.getTime() / 86_400_000) : Number.NaN)),
    }
  return textColumn(
    values.map((v) => (v === null || v === undefined ? null : v instanceof Date ? v.toISOString() : String(v))),
  )
}
