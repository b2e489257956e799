import type { Column } from '../../column/column.js'
import type { TableColumn } from '../../table/table.js'
import { isPeriodUnit, spanOf } from '../../time/period.js'
import type { Domain, Keyed } from '../contract.js'

/** A period as its first day; a cycle as its number, from 1. */
export function dayOfPeriod({ unit, periods, calendar }: Domain & { kind: 'time' }, code: number): number {
  return isPeriodUnit(unit) ? spanOf(unit, periods[code], calendar).from : periods[code] + 1
}

/** Codes as values of the kind of home's column. */
export function columnOfKey(like: TableColumn, { codes, domain }: Keyed): Column {
  const { kind } = like.column
  if (domain.kind === 'time')
    return { kind: 'date', values: Float64Array.from(codes, (c) => (c < 0 ? Number.NaN : dayOfPeriod(domain, c))) }
  if (kind === 'text') return { kind, codes, words: domain.words }
  if (kind === 'condition')
    return { kind, values: Int8Array.from(codes, (c) => (c < 0 ? -1 : Number(domain.words[c] === 'true'))) }
  return { kind: 'number', values: Float64Array.from(codes, (c) => (c < 0 ? Number.NaN : Number(domain.words[c]))) }
}
