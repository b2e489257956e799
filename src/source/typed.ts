import type { Column } from '../column/column.js'
import { nearest } from '../problem/nearest.js'
import { type Problem, ProblemError, problem } from '../problem/problem.js'
import type { StopSignal } from '../problem/stop.js'
import { checkShape, type Shape } from '../shape/shape.js'
import type { NearlyNumbers, SourceTable } from '../table/source-table.js'
import { createTable, type TableColumn } from '../table/table.js'
import type { PeriodUnit } from '../time/period.js'
import { zoneDay } from '../time/zone.js'
import { mustBeZone } from '../time/zone-check.js'
import { currencyOfAll } from './currency.js'
import { coarsest, inferColumn } from './infer.js'
import type { Stack, Unstack } from './layout.js'
import { parseReadAs, type ReadAs, readAsText } from './parse-values.js'
import type { RawColumn, RawTable } from './raw.js'

/** Options of reading data files. */
export interface ReadOptions {
  /** The name of the file, for problems. */
  file?: string | undefined
  /**
   * The formats of columns that would be inferred wrongly: `text`, `number comma`, `date
   * dd/mm/yyyy` …
   */
  read?: Readonly<Record<string, string>> | undefined
  /** The column with the date: all its values must be dates. */
  date?: string | undefined
  /** Whether invalid values are refused instead of counting as missing. */
  strict?: boolean | undefined
  /** The IANA time zone for the day of moments with an offset; default: the day as written. */
  zone?: string | undefined
  /**
   * Lifts the limits on columns, lines and nesting that keep broken or hostile files from filling
   * the memory.
   */
  noLimit?: boolean | undefined
  /** Called from time to time with the number of rows read so far. */
  onRows?: ((rows: number) => void) | undefined
  /** An AbortSignal: reading is rejected with its reason. */
  signal?: StopSignal | undefined
  /** Of a workbook: the sheet, or a pattern of sheets as `20*`; default: the first. */
  sheet?: string | undefined
  /** Of a workbook: the range of the table with its header, as `A3:H200` or `A:H`. */
  range?: string | undefined
  /**
   * Of a workbook: the row of the header, from 1; default: the first row with a word above every
   * column.
   */
  header?: number | undefined
  /** Of a workbook: `repeat` fills cells that a merged one covers; default: they are missing. */
  merged?: 'repeat' | undefined
  /** Stacks columns to pairs of a name and a value. */
  stack?: Stack | undefined
  /** Unstacks pairs of a name and a value to columns. */
  unstack?: Unstack | undefined
}

const OPTIONS: Shape = {
  keys: {
    'file?': 'text',
    'read?': { each: 'text' },
    'date?': 'text',
    'strict?': 'truth',
    'zone?': 'text',
    'onRows?': 'function',
    'signal?': 'anything',
    'noLimit?': 'truth',
    'sheet?': 'text',
    'range?': 'text',
    'header?': { is: 'whole', min: 1 },
    'merged?': { oneOf: ['repeat'] },
    'stack?': { keys: { 'columns?': { list: 'text', min: 1 }, name: 'text', value: 'text', 'unlike?': 'truth' } },
    'unstack?': { keys: { name: 'text', value: 'text' } },
  },
}

/** @throws ProblemError for options of the wrong shape, and an unknown zone. */
export function checkOptions(options: ReadOptions): void {
  checkShape(OPTIONS, options, ['options'])
  mustBeZone(options.zone, ['options', 'zone'])
}

/**
 * Typed columns from words. Types are inferred over all rows. Throws with every problem that makes
 * the rows unusable.
 */
export function typedTable(raw: RawTable, options: ReadOptions): SourceTable {
  const place = options.file === undefined ? {} : { file: options.file }
  const problems: Problem[] = []
  const notes: Problem[] = []
  const asked = declared(raw, options, place, problems)
  const zone = options.zone === undefined ? undefined : zoneDay(options.zone)
  const nearly = new Map<string, NearlyNumbers>()
  const grains = new Map<string, PeriodUnit>()
  const currencies = new Map<string, string>()
  const columns = raw.columns.map((rawColumn): TableColumn => {
    const { name } = rawColumn
    const inferred = inferColumn(raw, rawColumn, asked.get(name), zone)
    if (inferred.nearly !== undefined) nearly.set(name, inferred.nearly)
    const grain = inferred.column.kind === 'date' ? coarsest(rawColumn.coder.words) : undefined
    if (grain !== undefined) grains.set(name, grain)
    const currency = currencyOfColumn(rawColumn, inferred.column)
    if (currency !== undefined) currencies.set(name, currency)
    if (inferred.guessed !== undefined) {
      const params = { column: name, as: readAsText(inferred.guessed), sample: rawColumn.coder.words[0] ?? '' }
      notes.push(problem('note-guessed', params, place))
    }
    const isDate = inferred.column.kind === 'date'
    if (name === options.date && !isDate)
      problems.push(problem('not-a-date-column', { column: name, sample: rawColumn.coder.words[0] ?? '' }, place))
    else if (inferred.unread !== undefined && name === options.date)
      problems.push(problem('not-dates', { column: name, ...inferred.unread }, place))
    else if (inferred.unread !== undefined && options.strict === true)
      problems.push(problem('unread', { column: name, ...inferred.unread }, place))
    else if (inferred.unread !== undefined)
      notes.push(problem('note-unread', { column: name, ...inferred.unread }, place))
    return { name, label: name, column: inferred.column, type: inferred.type }
  })
  if (problems.length > 0) throw new ProblemError(problems)
  return { table: createTable(raw.rows, columns), nearly, grains, currencies, notes }
}

function currencyOfColumn({ typed, coder }: RawColumn, { kind }: Column): string | undefined {
  if (kind !== 'number') return undefined
  return typed?.kind === 'made' ? typed.currency : currencyOfAll(coder.words)
}

/** The columns in `read:` and `date:` must exist. */
export function requireColumns(
  candidates: readonly string[],
  options: ReadOptions,
  place: object,
  problems: Problem[],
): void {
  // Columns that stacking adds exist afterwards.
  for (const name of [...Object.keys(options.read ?? {}), ...(options.date === undefined ? [] : [options.date])])
    if (!candidates.includes(name) && !(name === options.date && name === options.stack?.name))
      problems.push(problem('unknown-column', { name, nearest: nearest(name, candidates), known: candidates }, place))
}

/** The declarations of `read:`; the date column is a date unless it is declared. */
function declared(raw: RawTable, options: ReadOptions, place: object, problems: Problem[]): Map<string, ReadAs> {
  const candidates = raw.columns.map((c) => c.name)
  const asked = new Map<string, ReadAs>()
  requireColumns(candidates, options, place, problems)
  for (const [name, written] of Object.entries(options.read ?? {})) {
    const as = parseReadAs(written)
    if (as === undefined) problems.push(problem('bad-read', { text: written }, { ...place, path: ['read', name] }))
    else asked.set(name, as)
  }
  if (options.date !== undefined) {
    const column = raw.columns.find((c) => c.name === options.date)
    // If all values but a few are ISO dates, the others are reported; a column in another form is
    // inferred.
    const iso = column?.coder.words.some((word) => /^\d{4}(?:-|$)/.test(word)) ?? false
    if (!asked.has(options.date) && (iso || column?.coder.words.length === 0)) asked.set(options.date, { kind: 'date' })
  }
  return asked
}
