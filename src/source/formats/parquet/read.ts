import type { SchemaElement } from 'hyparquet'
import { type Column, createCoder } from '../../../column/column.js'
import { type Problem, ProblemError, problem } from '../../../problem/problem.js'
import type { SourceTable } from '../../../table/source-table.js'
import { columnType, createTable, type TableColumn } from '../../../table/table.js'
import type { PeriodUnit } from '../../../time/period.js'
import { zoneDay } from '../../../time/zone.js'
import { coarsest } from '../../infer.js'
import { checkColumns } from '../../limits.js'
import { isoDay } from '../../parse-values.js'
import type { SourceFile } from '../../source-file.js'
import { type ReadOptions, requireColumns } from '../../typed.js'
import { isParquet } from './signature.js'

const DAY = 86_400_000

/** A column while it is read. */
interface Reading {
  kind: Column['kind']
  /** A moment in milliseconds, converted to the zone if it is an absolute one. */
  moment?: 'world' | 'local'
  values: unknown[]
}

/**
 * Reads one Parquet file, or several of the same columns, into memory. Throws with every problem.
 */
export async function readParquet(files: readonly SourceFile[], options: ReadOptions = {}): Promise<SourceTable> {
  const { parquetMetadata, parquetRead } = await import('hyparquet')
  const { compressors } = await import('hyparquet-compressors')
  const columns = new Map<string, Reading>()
  let rows = 0
  for (const { name, content } of files) {
    if (!isParquet(content))
      throw new ProblemError([problem('parquet-broken', { why: 'it does not begin like one' }, { file: name })])
    const bytes = content.buffer.slice(content.byteOffset, content.byteOffset + content.byteLength) as ArrayBuffer
    try {
      const metadata = parquetMetadata(bytes)
      const leafReadings = leaves(metadata.schema)
      checkColumns(leafReadings.size, options.noLimit, { file: name })
      checkSame(columns, leafReadings, files[0].name, name)
      for (const [column, kind] of leafReadings) if (!columns.has(column)) columns.set(column, { ...kind, values: [] })
      const before = rows
      rows += Number(metadata.num_rows)
      await parquetRead({
        file: { byteLength: bytes.byteLength, slice: (from, to) => bytes.slice(from, to) },
        metadata,
        compressors,
        columns: [...leafReadings.keys()],
        parsers: {
          dateFromDays: (days) => days,
          timestampFromMilliseconds: (x) => Number(x),
          timestampFromMicroseconds: (x) => Number(x / 1000n),
          timestampFromNanoseconds: (x) => Number(x / 1_000_000n),
        },
        onChunk: ({ columnName, columnData, rowStart }) => {
          const values = columns.get(columnName)?.values
          if (values !== undefined)
            for (let i = 0; i < columnData.length; i++) values[before + rowStart + i] = columnData[i]
        },
      })
    } catch (error) {
      if (error instanceof ProblemError) throw error
      throw new ProblemError([problem('parquet-broken', { why: reason(error) }, { file: name })])
    }
  }
  return typed(columns, rows, { ...options, file: options.file ?? files[0]?.name })
}

function reason(error: unknown): string {
  return (error instanceof Error ? error.message : String(error)).split('\n')[0]
}

/** The columns with one value for each row; lists and maps are skipped. */
function leaves(schema: readonly SchemaElement[]): Map<string, Omit<Reading, 'values'>> {
  const readings = new Map<string, Omit<Reading, 'values'>>()
  let at = 1
  const skip = (): void => {
    const children = schema[at++].num_children ?? 0
    for (let i = 0; i < children; i++) skip()
  }
  while (at < schema.length) {
    const element = schema[at]
    if (element.num_children === undefined) readings.set(element.name, readingOf(element))
    skip()
  }
  return readings
}

function readingOf({ type, converted_type, logical_type }: SchemaElement): Omit<Reading, 'values'> {
  if (type === 'BOOLEAN') return { kind: 'condition' }
  if (converted_type === 'DATE' || logical_type?.type === 'DATE') return { kind: 'date' }
  if (logical_type?.type === 'TIMESTAMP')
    return { kind: 'date', moment: logical_type.isAdjustedToUTC ? 'world' : 'local' }
  if (converted_type === 'TIMESTAMP_MILLIS' || converted_type === 'TIMESTAMP_MICROS')
    return { kind: 'date', moment: 'world' }
  if (type === 'INT96') return { kind: 'date', moment: 'local' }
  const numeric =
    type === 'INT32' || type === 'INT64' || type === 'FLOAT' || type === 'DOUBLE' || converted_type === 'DECIMAL'
  return { kind: numeric ? 'number' : 'text' }
}

function checkSame(
  keys: ReadonlyMap<string, unknown>,
  leaf: ReadonlyMap<string, unknown>,
  first: string,
  file: string,
): void {
  if (keys.size === 0) return
  const other = [
    ...[...keys.keys()].filter((name) => !leaf.has(name)),
    ...[...leaf.keys()].filter((name) => !keys.has(name)),
  ]
  if (other.length > 0) throw new ProblemError([problem('files-differ', { first, columns: other }, { file })])
}

function typed(columns: ReadonlyMap<string, Reading>, rows: number, options: ReadOptions): SourceTable {
  const problems: Problem[] = []
  const place = options.file === undefined ? {} : { file: options.file }
  requireColumns([...columns.keys()], options, place, problems)
  if (Object.keys(options.read ?? {}).length > 0) problems.push(problem('read-typed', {}, { ...place, path: ['read'] }))
  const zone = zoneDay(options.zone ?? 'UTC')
  const grains = new Map<string, PeriodUnit>()
  const tableColumns = [...columns].map(([name, reading]): TableColumn => {
    const column = parquetColumn(reading, rows, zone)
    if (name !== options.date || column.kind !== 'text') {
      if (name === options.date && column.kind !== 'date')
        problems.push(
          problem('not-a-date-column', { column: name, sample: String(reading.values.find((v) => v !== null)) }, place),
        )
      return { name, label: name, column, type: columnType(column) }
    }
    const days = column.words.map((word) => isoDay(word))
    const bad = days.findIndex((day) => Number.isNaN(day))
    if (bad >= 0)
      problems.push(
        problem(
          'remote-not-dates',
          { column: name, count: count(column.codes, days), sample: column.words[bad] },
          place,
        ),
      )
    const grain = coarsest(column.words)
    if (grain !== undefined) grains.set(name, grain)
    const values = Float64Array.from(column.codes, (code) => (code < 0 ? Number.NaN : days[code]))
    return { name, label: name, column: { kind: 'date', values }, type: { kind: 'date' } }
  })
  if (problems.length > 0) throw new ProblemError(problems)
  return { table: createTable(rows, tableColumns), nearly: new Map(), grains, notes: [] }
}

function count(codes: Int32Array, days: readonly number[]): number {
  return codes.reduce((n, code) => n + Number(code >= 0 && Number.isNaN(days[code])), 0)
}

function parquetColumn({ kind, moment, values }: Reading, rows: number, zone: (ms: number) => number): Column {
  if (kind === 'condition')
    return {
      kind,
      values: Int8Array.from({ length: rows }, (_, i) => (typeof values[i] === 'boolean' ? Number(values[i]) : -1)),
    }
  if (kind === 'text') {
    const coder = createCoder()
    const codes = Int32Array.from({ length: rows }, (_, i) => {
      const value = values[i]
      const text = value === null || value === undefined ? '' : String(value)
      return text === '' ? -1 : coder.code(text)
    })
    return { kind, codes, words: coder.words }
  }
  const out = new Float64Array(rows)
  for (let i = 0; i < rows; i++) {
    const value = values[i]
    const x = value === null || value === undefined ? Number.NaN : Number(value)
    out[i] = moment === undefined ? x : moment === 'world' && !Number.isNaN(x) ? zone(x) : Math.floor(x / DAY)
  }
  return { kind, values: out }
}
