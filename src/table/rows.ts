import type { Column } from '../column/column.js'
import type { Type } from '../expression/bound.js'
import type { Unit } from '../expression/unit.js'
import { parseFormat } from '../format/parse.js'
import { type Path, type Problem, problem, refuse } from '../problem/problem.js'
import { checkShape, foundText, type Shape } from '../shape/shape.js'
import { type ZoneDay, zoneDay } from '../time/zone.js'
import { mustBeZone } from '../time/zone-check.js'
import { type Better, columnType, createTable, type Table, type TableColumn } from './table.js'
import { unitOfFormat } from './unit.js'
import {
  type ColumnKind,
  columnOfNumbers,
  columnOfValues,
  emptyColumn,
  type NumberArray,
  type RowValue,
} from './values.js'

export type { ColumnKind, NumberArray, RowValue } from './values.js'

/** The label, format and direction of a column; all optional. */
export interface ColumnOptions {
  /** Its label; default: the name. */
  label?: string
  /**
   * `money CUR | percent | number`, digits, `signed`, `compact`, for a number `unit pots`; default:
   * a plain number with up to 2 decimals.
   */
  format?: string
  /** Which direction is good; default: none. */
  better?: Better
}

/** Options of `fromRows` and `fromColumns`; all optional. */
export interface TableOptions {
  /** By column: label, format, direction. */
  columns?: Readonly<Record<string, ColumnOptions>>
  /**
   * By column: the kind of its values, if they do not show it: a column without values, or a text
   * that looks like dates. Columns that no row has are added without values. Default: the kind of
   * all values.
   */
  kinds?: Readonly<Record<string, ColumnKind>>
  /**
   * The IANA time zone for the day of a Date, or of a text of a moment with an offset; default:
   * UTC. For dates made at local midnight: `Intl.DateTimeFormat().resolvedOptions().timeZone`.
   */
  zone?: string
}

const OPTIONS: Shape = {
  keys: {
    'columns?': {
      each: { keys: { 'label?': 'text', 'format?': 'text', 'better?': { oneOf: ['higher', 'lower', 'neither'] } } },
    },
    'kinds?': { each: { oneOf: ['number', 'text', 'date', 'condition'] } },
    'zone?': 'text',
  },
}

/**
 * A table from a list of records. A column is numbers, conditions or dates when all its values are,
 * else text; texts that are all ISO dates are dates. null, undefined, NaN, blank and absent keys
 * are missing. The rows are copied.
 *
 * @throws ProblemError for values that are nothing of this, and for a column of numbers with texts
 *   among them, each with its row.
 */
export function fromRows<T extends { [K in keyof T]: RowValue }>(
  rows: readonly T[],
  options: TableOptions = {},
): Table {
  const zone = checked(options)
  // Each row is reported below, by its number.
  if (!Array.isArray(rows)) checkShape({ list: 'anything' }, rows, ['rows'])
  const problems: Problem[] = []
  const names = new Set<string>()
  rows.forEach((row: unknown, i) => {
    if (typeof row === 'object' && row !== null && !Array.isArray(row))
      for (const name of Object.keys(row)) names.add(name)
    else problems.push(problem('no-row', { row: i + 1 }, { path: ['rows', i] }))
  })
  refuse(problems)
  const columns = Array.from(names, (name) => {
    const values = rows.map((row) => (Object.hasOwn(row, name) ? (row as Record<string, RowValue>)[name] : undefined))
    return described(name, columnOfValues(name, values, declaredKind(options, name), zone, problems), options, problems)
  })
  refuse(problems)
  return completed(rows.length, columns, options)
}

/**
 * A table from columns of one length: a typed array is numbers as they are (NaN is missing), a list
 * is read as in `fromRows`. Typed arrays are copied.
 *
 * @throws ProblemError when the columns differ in length, and as `fromRows` does.
 */
export function fromColumns(
  columns: Readonly<Record<string, NumberArray | readonly RowValue[]>>,
  options: TableOptions = {},
): Table {
  const zone = checked(options)
  checkShape({ each: 'anything' }, columns, ['columns'])
  const problems: Problem[] = []
  const entries = Object.entries(columns)
  const length = entries.find(([, values]) => isList(values))?.[1].length ?? 0
  const tableColumns = entries.flatMap(([name, values]) => {
    const path: Path = ['columns', name]
    if (!isList(values))
      problems.push(problem('wrong-shape', { expected: 'a list or a typed array', found: foundText(values) }, { path }))
    else if (values.length !== length)
      problems.push(problem('column-length', { column: name, length: values.length, first: length }, { path }))
    else {
      const column = Array.isArray(values)
        ? columnOfValues(name, values, declaredKind(options, name), zone, problems)
        : columnOfNumbers(values as NumberArray)
      return [described(name, column, options, problems)]
    }
    return []
  })
  refuse(problems)
  return completed(length, tableColumns, options)
}

function isList(values: unknown): values is NumberArray | readonly RowValue[] {
  return Array.isArray(values) || (ArrayBuffer.isView(values) && !(values instanceof DataView))
}

function checked(options: TableOptions): ZoneDay | undefined {
  checkShape(OPTIONS, options, ['options'])
  mustBeZone(options.zone, ['options', 'zone'])
  return options.zone === undefined ? undefined : zoneDay(options.zone)
}

function declaredKind({ kinds = {} }: TableOptions, name: string): ColumnKind | undefined {
  return Object.hasOwn(kinds, name) ? kinds[name] : undefined
}

/** The table with the columns that only `kinds` names. */
function completed(length: number, columns: readonly TableColumn[], options: TableOptions): Table {
  const names = new Set(columns.map(({ name }) => name))
  const others = Object.entries(options.kinds ?? {})
    .filter(([name]) => !names.has(name))
    .map(([name, kind]) => described(name, emptyColumn(kind, length), options, []))
  return createTable(length, [...columns, ...others])
}

function described(name: string, column: Column, options: TableOptions, problems: Problem[]): TableColumn {
  const { columns = {} } = options
  const given = Object.hasOwn(columns, name) ? columns[name] : {}
  const format = given.format === undefined ? undefined : parseFormat(given.format)
  if (format !== undefined && 'code' in format)
    problems.push({ ...format, place: { path: ['options', 'columns', name, 'format'] } })
  const unit: Unit = given.format === undefined ? { is: 'none' } : unitOfFormat(given.format)
  // A column without values takes any expected kind.
  const isBlank = column.kind === 'text' && column.words.length === 0 && declaredKind(options, name) === undefined
  const type: Type = isBlank ? { kind: 'blank' } : columnType(column, unit)
  const tableColumn: TableColumn = { name, label: given.label ?? name, column, type }
  if (given.format !== undefined) tableColumn.format = given.format
  if (given.better !== undefined) tableColumn.better = given.better
  return tableColumn
}
