import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { ReportData } from 'acuarela/report'
import { afterAll, beforeAll } from 'vitest'
import { duckdbTable, postgresTable, type Row, type Types } from './engines.js'
import { hasPostgres, type Server, startPostgres } from './postgres.js'

/** The same tables in each engine. */
export interface OpenWorld {
  duckdb: ReportData
  /** Undefined where no server is installed. */
  postgres: ReportData | undefined
  close(): Promise<void>
}

/** A table of texts as CSV; missing values are empty. */
function csvOf(rows: readonly Row[], types: Types): string {
  const names = Object.keys(types)
  const line = (row: Row): string => names.map((name) => (row[name] === null ? '' : `"${row[name]}"`)).join(',')
  return `${names.join(',')}\n${rows.map(line).join('\n')}\n`
}

/**
 * Puts made-up tables into each engine, for a test file. `types` are those of the columns of each
 * table, `dates` the column of dates of those that have one.
 */
export function useWorlds<Name extends string>(
  types: Readonly<Record<Name, Types>>,
  dates: Readonly<Partial<Record<Name, string>>>,
): {
  csv(world: Readonly<Record<Name, Row[]>>): ReportData
  open(world: Readonly<Record<Name, Row[]>>): Promise<OpenWorld>
} {
  const names = Object.keys(types) as Name[]
  let [folder, opened] = ['', 0]
  let server: Server | undefined
  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'acuarela-world-'))
    if (hasPostgres()) server = await startPostgres()
  })
  afterAll(() => {
    server?.stop()
    rmSync(folder, { recursive: true, force: true })
  })
  return {
    csv: (world) => Object.fromEntries(names.map((name) => [name, csvOf(world[name], types[name])])),
    async open(world) {
      const at = opened++
      const closing: (() => Promise<void>)[] = []
      const duckdb: Record<string, ReportData[string]> = {}
      const postgres: Record<string, ReportData[string]> = {}
      for (const name of names) {
        const table = await duckdbTable(join(folder, `${name}${at}.parquet`), world[name], types[name], dates[name])
        closing.push(() => table.close())
        duckdb[name] = table
        if (server === undefined) continue
        const other = await postgresTable(server.url, name, world[name], types[name], dates[name])
        closing.push(() => other.close())
        postgres[name] = other
      }
      return {
        duckdb,
        postgres: server === undefined ? undefined : postgres,
        async close() {
          for (const close of closing) await close()
        },
      }
    },
  }
}
