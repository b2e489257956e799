import { open } from 'node:fs/promises'
import { resolve } from 'node:path'
import { ProblemError } from '../problem/problem.js'
import { readTexts } from '../source/read.js'
import type { ReadOptions } from '../source/typed.js'
import type { SourceTable } from '../table/source-table.js'
import { LARGE_CSV, namesOf, totalBytes } from './source-files.js'

/** The sample that determines the columns; DuckDB then checks every row. */
const SAMPLE_BYTES = 1024 * 1024

export async function hasDuckdb(): Promise<boolean> {
  return import('@duckdb/node-api').then(
    () => true,
    () => false,
  )
}

/**
 * A large CSV of plain values, aggregated by DuckDB if it is installed. Undefined if it is to be
 * read into memory: it is small, or has values in forms that only the parser in memory reads. The
 * columns are the same either way.
 */
export async function openLargeCsv(
  file: string,
  folder: string,
  options: ReadOptions,
  largeFrom = LARGE_CSV,
): Promise<(SourceTable & { close(): Promise<void> }) | undefined> {
  if (!/\.csv$/i.test(file)) return undefined
  const names = await namesOf(file, folder)
  if ((await totalBytes(names, folder)) < largeFrom || !(await hasDuckdb())) return undefined
  const csv = await plainColumns(resolve(folder, names[0]), options)
  if (csv === undefined) return undefined
  const { openDuckdb } = await import('../engine/duckdb.js')
  const { date, zone } = options
  try {
    const files = names.map((name) => resolve(folder, name))
    return await openDuckdb({
      files,
      csv,
      ...(date === undefined ? {} : { date }),
      ...(zone === undefined ? {} : { zone }),
    })
  } catch (error) {
    // The reader in memory reports the lines, or reads the file after all.
    if (error instanceof ProblemError) return undefined
    throw error
  }
}

/** The columns by the first rows; undefined if one is not plain or has a declared format. */
async function plainColumns(
  path: string,
  options: ReadOptions,
): Promise<{ name: string; kind: 'number' | 'text' | 'date' | 'condition' }[] | undefined> {
  if (Object.values(options.read ?? {}).some((as) => as !== 'text')) return undefined
  const text = await firstLines(path)
  if (text === undefined) return undefined
  try {
    const { table, notes } = readTexts([{ name: path, content: text }], options)
    if (notes.length > 0) return undefined
    const columns = [...table.columns.values()]
    // A percent has a unit, and a moment has a day only in a zone.
    if (columns.some(({ type }) => type.kind === 'number' && type.unit.is !== 'none')) return undefined
    if (/\d{4}-\d{2}-\d{2}[T ]\d{2}:/.test(text)) return undefined
    return columns.map(({ name, column }) => ({ name, kind: column.kind }))
  } catch (error) {
    if (error instanceof ProblemError) return undefined
    throw error
  }
}

/** Whole lines from the start of a UTF-8 file; undefined for another encoding. */
async function firstLines(path: string): Promise<string | undefined> {
  const file = await open(path)
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(SAMPLE_BYTES), 0, SAMPLE_BYTES, 0)
    const end = buffer.lastIndexOf(10, bytesRead - 1)
    if (end < 0) return undefined
    return new TextDecoder('utf-8', { fatal: true }).decode(buffer.subarray(0, end + 1))
  } catch {
    return undefined
  } finally {
    await file.close()
  }
}
