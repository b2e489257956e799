import type { StoredRows, StoredSource } from '../../summary/memory/stored.js'

/** What takes the place of the lists of numbers and of words. */
interface ListMakers {
  numbers(list: unknown): unknown
  words(list: unknown): unknown
}

/** The data of sources with other lists: as bytes, or read from them. */
export function mapLists(sources: Readonly<Record<string, StoredSource>>, make: ListMakers): Record<string, unknown> {
  const rows = (all: StoredRows & { numbers?: unknown }): unknown => ({
    ...all,
    columns: all.columns.map((column) => ({
      ...column,
      ...(column.words && { words: make.words(column.words) }),
      values: make.numbers(column.values),
    })),
    ...(all.numbers !== undefined && { numbers: make.numbers(all.numbers) }),
  })
  return mapped(sources, (source) => ({
    ...source,
    rows: rows(source.rows),
    ...(source.counts && { counts: make.numbers(source.counts) }),
    ...(source.records && { records: rows(source.records) }),
    ...(source.parts && { parts: mapped(source.parts, (moments) => mapped(moments, make.numbers)) }),
  }))
}

function mapped<T>(record: Readonly<Record<string, T>>, make: (value: T) => unknown): Record<string, unknown> {
  return Object.fromEntries(Object.entries(record).map(([name, value]) => [name, make(value)]))
}
