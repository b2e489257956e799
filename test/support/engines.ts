import { DuckDBInstance } from '@duckdb/node-api'
import { type DatabaseTable, openDuckdb } from 'acuarela/engine/duckdb'
import { engineHandler, engineOverHttp } from 'acuarela/engine/http'
import { openPostgres } from 'acuarela/engine/postgres'
import pg from 'pg'

/** Rows for tests; null is missing, dates are ISO texts. */
export type Row = Readonly<Record<string, string | number | boolean | null>>

/** The type of each column in a database. */
export type Types = Readonly<Record<string, 'text' | 'date' | 'numeric(12,2)' | 'float8' | 'boolean' | 'integer'>>

const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`
const literal = (value: Row[string]): string =>
  value === null ? 'NULL' : typeof value === 'string' ? `'${value.replaceAll("'", "''")}'` : String(value)

function insert(table: string, rows: readonly Row[], names: readonly string[]): string {
  const lists = rows.map((row) => `(${names.map((name) => literal(row[name])).join(', ')})`)
  return `INSERT INTO ${table} VALUES ${lists.join(', ')}`
}

function create(table: string, types: Types): string {
  return `CREATE TABLE ${table} (${Object.entries(types)
    .map(([name, type]) => `${quoted(name)} ${type}`)
    .join(', ')})`
}

/** Writes rows to a Parquet file. */
export async function writeParquet(file: string, rows: readonly Row[], types: Types): Promise<void> {
  const instance = await DuckDBInstance.create(':memory:')
  const connection = await instance.connect()
  await connection.run(create('made', types))
  if (rows.length > 0) await connection.run(insert('made', rows, Object.keys(types)))
  await connection.run(`COPY made TO '${file.replaceAll("'", "''")}' (FORMAT parquet)`)
  connection.closeSync()
  instance.closeSync()
}

export async function duckdbTable(
  file: string,
  rows: readonly Row[],
  types: Types,
  date?: string,
): Promise<DatabaseTable> {
  await writeParquet(file, rows, types)
  return openDuckdb({ files: [file], ...(date === undefined ? {} : { date }) })
}

export async function statement(url: string, ...texts: string[]): Promise<pg.QueryResult[]> {
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    const results: pg.QueryResult[] = []
    for (const text of texts) results.push(await client.query(text))
    return results
  } finally {
    await client.end()
  }
}

export async function postgresTable(
  url: string,
  name: string,
  rows: readonly Row[],
  types: Types,
  date?: string,
): Promise<DatabaseTable> {
  await statement(url, `DROP TABLE IF EXISTS ${quoted(name)}`, create(quoted(name), types))
  if (rows.length > 0) await statement(url, insert(quoted(name), rows, Object.keys(types)))
  return openPostgres({ connection: url, table: name, ...(date === undefined ? {} : { date }) })
}

/** The same source behind both sides of HTTP: texts of expressions there, typed arrays back. */
export async function overHttp(source: Parameters<typeof engineHandler>[0]): Promise<DatabaseTable> {
  const answer = engineHandler(source, { records: true })
  const remote = await engineOverHttp('http://127.0.0.1/', {
    fetch: (url, request) => answer(new Request(url, request)),
  })
  return { ...remote, close: async () => undefined }
}
