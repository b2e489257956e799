import type { DuckDBConnection, DuckDBValue } from '@duckdb/node-api'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import { checkShape, type Shape } from '../shape/shape.js'
import { CONDITION, ISO_DATE, PLAIN_NUMBER, TRUE_WORDS, WHITE_SPACE } from '../source/grammar.js'
import type { SqlCell, SqlTable } from '../summary/sql/query.js'
import { type Dialect, periodNumber, quoteName, type SqlColumn, unless } from '../summary/sql/text.js'
import type { PeriodUnit } from '../time/period.js'
import { mustBeZone } from '../time/zone-check.js'
import { type DatabaseTable, dateFromText, grainOfLength, grainsOf, inTurn, remoteTable } from './remote.js'

export type { DatabaseTable } from './remote.js'

/** How files are summarised by DuckDB. */
export interface DuckdbOptions {
  /**
   * Parquet files of the same columns, or patterns that match them; CSV files if `csv` gives their
   * columns.
   */
  files: readonly string[]
  /**
   * Of CSV files: the columns, in order, and how their values are read. A value that cannot be read
   * that way is a problem.
   */
  csv?: readonly { name: string; kind: SqlColumn['kind'] }[]
  /** The column with the date; a text column of ISO dates will do. */
  date?: string
  /** The IANA time zone of days: moments are converted to it; default: UTC. */
  zone?: string
  /** Time limit of a statement in seconds; default: 60. */
  timeLimit?: number
  /** Threads; default: the number of cores. */
  threads?: number
}

const DIALECT: Dialect = {
  name: 'duckdb',
  wording: (name, text) => `${name === 'lowercase' ? 'lower' : 'upper'}(${text})`,
  round: (number, digits) => `CAST(round(CAST(${number} AS DECIMAL(38, 10)), ${digits}) AS float8)`,
  settle: (number, decimals) =>
    decimals === undefined ? `CAST(printf('%.13e', ${number}) AS DOUBLE)` : `round(${number}, ${decimals})`,
  // A compensated sum (Kahan); decimals and whole numbers are summed without rounding anyway.
  sum: (number, exact) => (exact ? `sum(${number})` : `fsum(${number})`),
  period: periodNumber,
  list: { text: 'VARCHAR[]', number: 'DOUBLE[]' },
  // Of a Parquet file it is worked out once for each word of a dictionary, not for each row.
  amongFew: (keys, values, key) => `(map(${keys}, ${values}))[${key}]`,
}

const OPTIONS: Shape = {
  keys: {
    files: { list: 'text', min: 1 },
    'csv?': { list: { keys: { name: 'text', kind: { oneOf: ['number', 'text', 'date', 'condition'] } } } },
    'date?': 'text',
    'zone?': 'text',
    'timeLimit?': { is: 'number', above: 0 },
    'threads?': { is: 'whole', min: 1 },
  },
}

/**
 * Opens Parquet files of any size, which are aggregated where they lie, by the package
 * @duckdb/node-api, which has to be installed.
 */
export async function openDuckdb(options: DuckdbOptions): Promise<DatabaseTable> {
  checkShape(OPTIONS, options, ['options'])
  mustBeZone(options.zone, ['options', 'zone'])
  const { DuckDBInstance } = await load()
  const { threads, zone } = options
  const instance = await DuckDBInstance.create(':memory:', {
    // DuckDB fetches nothing, and reads these files alone.
    autoinstall_known_extensions: 'false',
    autoload_known_extensions: 'false',
    ...(threads === undefined ? {} : { threads: String(threads) }),
  })
  const connection = await instance.connect()
  const close = async (): Promise<void> => {
    connection.closeSync()
    instance.closeSync()
  }
  try {
    const names = options.files.map((file) => `'${file.replaceAll("'", "''")}'`).join(', ')
    const periods = options.csv === undefined ? undefined : await loadCsv(connection, names, options.csv)
    if (periods === undefined) await connection.run(`CREATE VIEW source AS SELECT * FROM read_parquet([${names}])`)
    const described = await connection.runAndReadAll('DESCRIBE source')
    const columns = new Map<string, SqlColumn>()
    for (const [name, type] of described.getRowsJS()) {
      const column = duckdbColumn(String(name), String(type), zone ?? 'UTC', name === options.date)
      columns.set(column.name, column)
    }
    const run = inTurn(runner(connection, (options.timeLimit ?? 60) * 1000))
    // There is one process: nothing is won by aggregating each year by itself.
    const table: SqlTable = { dialect: DIALECT, from: 'source', columns, run, spreadBy: [] }
    return remoteTable(table, periods ?? (await grainsOf(table, options.date)), close)
  } catch (error) {
    await close()
    throw asProblem(error, options.files.join(', '))
  }
}

/** How values are read: the same definition as the parser in memory has. */
const READ: Readonly<Record<Exclude<SqlColumn['kind'], 'text'>, string>> = {
  number: PLAIN_NUMBER,
  condition: CONDITION,
  date: ISO_DATE,
}

/** White space in an SQL string: each character by its code, as some are line ends. */
const WHITE_SPACE_SQL = [...WHITE_SPACE].map((character) => `chr(${character.codePointAt(0)})`).join(' || ')

/**
 * Loads CSV files into a table of the database, each column with its declared kind. Every value is
 * checked first, so that no value is read otherwise than in memory. Returns the periods of dates
 * that are longer than a day.
 */
async function loadCsv(
  connection: DuckDBConnection,
  names: string,
  columns: NonNullable<DuckdbOptions['csv']>,
): Promise<Map<string, PeriodUnit>> {
  const from = `read_csv([${names}], header = true, all_varchar = true, nullstr = '')`
  const described = await connection.runAndReadAll(`DESCRIBE SELECT * FROM ${from}`)
  const columnNames = described.getRowsJS().map(([name]) => String(name))
  if (columnNames.length !== columns.length || columns.some(({ name }, i) => name !== columnNames[i].trim()))
    throw new ProblemError([
      problem('csv-otherwise', { column: columns.find(({ name }, i) => name !== columnNames[i]?.trim())?.name ?? '' }),
    ])
  // White space around a value is not part of it, and a blank value is missing.
  const word = (i: number): string => unless(`trim(${quoteName(columnNames[i])}, ${WHITE_SPACE_SQL})`, "''")
  const checks = columns.flatMap(({ kind }, i) =>
    kind === 'text'
      ? []
      : [`count(*) FILTER (WHERE ${word(i)} IS NOT NULL AND NOT (${isRead(kind, word(i))})) AS c${i}`],
  )
  for (const [i, { kind }] of columns.entries()) if (kind === 'date') checks.push(`min(length(${word(i)})) AS d${i}`)
  const grains = new Map<string, PeriodUnit>()
  if (checks.length > 0) {
    const bad = (await connection.runAndReadAll(`SELECT ${checks.join(', ')} FROM ${from}`)).getRowObjectsJS()[0]
    const at = columns.findIndex((_, i) => Number(bad[`c${i}`] ?? 0) > 0)
    if (at >= 0) throw new ProblemError([problem('csv-otherwise', { column: columns[at].name })])
    for (const [i, { name }] of columns.entries()) {
      const grain = grainOfLength(Number(bad[`d${i}`] ?? 10))
      if (grain !== undefined) grains.set(name, grain)
    }
  }
  const typed = columns.map(({ name, kind }, i) => `${asKind(kind, word(i))} AS ${quoteName(name)}`)
  // In a file with a single column a blank value is a blank line, which is not a row.
  const rows = columns.length === 1 ? ` WHERE ${word(0)} IS NOT NULL` : ''
  await connection.run(`CREATE TABLE source AS SELECT ${typed.join(', ')} FROM ${from}${rows}`)
  return grains
}

function isRead(kind: Exclude<SqlColumn['kind'], 'text'>, word: string): string {
  const form = `regexp_full_match(${word}, '${READ[kind]}')`
  return kind === 'date' ? `${form} AND TRY_CAST(rpad(${word}, 10, '-01-01') AS DATE) IS NOT NULL` : form
}

function asKind(kind: SqlColumn['kind'], word: string): string {
  if (kind === 'number') return `TRY_CAST(${word} AS DOUBLE)`
  if (kind === 'condition') return `(lower(${word}) IN (${TRUE_WORDS.map((trueWord) => `'${trueWord}'`).join(', ')}))`
  return kind === 'date' ? `CAST(rpad(${word}, 10, '-01-01') AS DATE)` : word
}

async function load(): Promise<typeof import('@duckdb/node-api')> {
  try {
    return await import('@duckdb/node-api')
  } catch {
    throw new ProblemError([problem('engine-missing', { engine: 'duckdb', package: '@duckdb/node-api' })])
  }
}

function duckdbColumn(name: string, type: string, zone: string, isDate: boolean): SqlColumn {
  const column = `t.${quoteName(name)}`
  if (/^(?:U?(?:TINY|SMALL|BIG|HUGE)?INT(?:EGER)?|UINTEGER|DECIMAL.*)$/.test(type))
    return { name, kind: 'number', sql: `CAST(${column} AS float8)`, exact: column, decimals: duckdbScale(type) }
  if (type === 'DOUBLE') return { name, kind: 'number', sql: unless(column, "'nan'::float8") }
  if (type === 'FLOAT') return { name, kind: 'number', sql: unless(`CAST(${column} AS float8)`, "'nan'::float8") }
  if (type === 'BOOLEAN') return { name, kind: 'condition', sql: column }
  if (type === 'DATE') return { name, kind: 'date', sql: column }
  if (type === 'TIMESTAMP WITH TIME ZONE')
    return { name, kind: 'date', sql: `CAST((${column} AT TIME ZONE '${zone.replaceAll("'", "''")}') AS DATE)` }
  if (type.startsWith('TIMESTAMP')) return { name, kind: 'date', sql: `CAST(${column} AS DATE)` }
  const text = type === 'VARCHAR' ? column : `CAST(${column} AS VARCHAR)`
  const matches = (value: string, pattern: string): string => `regexp_matches(${value}, '${pattern}')`
  if (isDate) return { name, kind: 'date', sql: dateFromText(text, matches), from: text }
  // A blank value is missing, as in every other file.
  return { name, kind: 'text', sql: unless(text, "''") }
}

/** The digits after the point of `DECIMAL(12,2)`; whole numbers have none. */
function duckdbScale(type: string): number {
  return Number(/,\s*(\d+)/.exec(type)?.[1] ?? 0)
}

/** Runs each statement within its time limit. */
function runner(connection: DuckDBConnection, limit: number): SqlTable['run'] {
  return async (text, values, columns) => {
    let late = false
    const timer = setTimeout(() => {
      late = true
      connection.interrupt()
    }, limit)
    try {
      const { DOUBLE, LIST, VARCHAR, listValue } = await import('@duckdb/node-api')
      // The type is given, as DuckDB would type a list with a missing first value as NULL.
      const types = values.map((value) => {
        const list = typeof value === 'object' && value !== null
        const one = (list ? value.find((item) => item !== null) : value) ?? ''
        const type = typeof one === 'number' ? DOUBLE : VARCHAR
        return list ? LIST(type) : type
      })
      const parameters = values.map((v): DuckDBValue => (typeof v === 'object' && v !== null ? listValue([...v]) : v))
      const reader = await connection.runAndReadAll(text, parameters, types)
      return columnsOf(reader.getColumnsJS(), columns)
    } catch (error) {
      if (late) throw new ProblemError([problem('database-time', { seconds: limit / 1000 })])
      throw asProblem(error, 'duckdb')
    } finally {
      clearTimeout(timer)
    }
  }
}

/** Counts and days arrive as bigint and are small enough for a number. */
function columnsOf(columns: readonly (readonly unknown[])[], count: number): SqlCell[][] {
  return Array.from({ length: count }, (_, c) =>
    (columns[c] ?? []).map((cell) =>
      typeof cell === 'string' || typeof cell === 'number'
        ? cell
        : cell === null || cell === undefined
          ? null
          : Number(cell),
    ),
  )
}

function asProblem(error: unknown, file: string): unknown {
  if (error instanceof ProblemError) return error
  const why = (error instanceof Error ? error.message : String(error)).split('\n')[0]
  const reason: Problem = /No files found|does not exist/i.test(why)
    ? problem('no-files', { file })
    : /parquet|magic bytes|footer|thrift/i.test(why)
      ? problem('parquet-broken', { why: why.replace(/^[A-Za-z ]+Error: /, '') }, { file })
      : problem('database-query', { why })
  return new ProblemError([reason])
}
