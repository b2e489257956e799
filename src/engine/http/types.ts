import type { Column } from '../../column/column.js'
import { textColumn } from '../../column/column.js'
import type { Type } from '../../expression/bound.js'
import type { WireType } from './wire.js'

/** A type as data. A column without values is a text without words. */
export function wireType(type: Type): WireType {
  if (type.kind === 'number') return { kind: 'number', unit: type.unit }
  if (type.kind === 'date') return { kind: 'date', ...(type.unit && { period: type.unit }) }
  return { kind: type.kind === 'condition' ? 'condition' : 'text' }
}

export function typeOf({ kind = 'text', unit, period }: Partial<WireType>): Type {
  if (kind === 'number') return { kind, unit: unit ?? { is: 'none' } }
  if (kind === 'date') return { kind, ...(period && { unit: period }) }
  return { kind }
}

/** The values of a column as data; null is missing. */
export function wireValues(column: Column): (string | number | boolean | null)[] {
  if (column.kind === 'text') return Array.from(column.codes, (code) => (code < 0 ? null : column.words[code]))
  if (column.kind === 'condition') return Array.from(column.values, (value) => (value < 0 ? null : value === 1))
  return Array.from(column.values, (value) => (Number.isNaN(value) ? null : value))
}

/** A column from data; a value of another kind is missing. */
export function columnOf(kind: WireType['kind'], values: readonly unknown[]): Column {
  if (kind === 'text') return textColumn(values.map((value) => (typeof value === 'string' ? value : null)))
  if (kind === 'condition')
    return { kind, values: Int8Array.from(values, (value) => (typeof value === 'boolean' ? Number(value) : -1)) }
  return { kind, values: Float64Array.from(values, (value) => (typeof value === 'number' ? value : Number.NaN)) }
}
