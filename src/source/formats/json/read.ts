import { type Problem, ProblemError, problem } from '../../../problem/problem.js'
import { checkColumns, checkDepth } from '../../limits.js'
import { addWord, createRawColumn, type RawColumn, type RawTable } from '../../raw.js'

/**
 * Adds the records of JSON text: a list of maps, or one map a line (NDJSON). A key that a record
 * lacks is missing.
 */
export function addJson(raw: RawTable, text: string, file: string | undefined, noLimit?: boolean): void {
  const place = file === undefined ? {} : { file }
  const plain = text.startsWith('\uFEFF') ? text.slice(1) : text
  if (plain.trim() === '') throw new ProblemError([problem('file-empty', {}, place)])
  checkDepth(plain, noLimit, place)
  const index = raw.files.push(file ?? 'the data') - 1
  const problems: Problem[] = []
  const columns = new Map(raw.columns.map((column) => [column.name, column]))
  for (const { at, value } of records(plain, raw, place)) {
    if (typeof value !== 'object' || value === null || Array.isArray(value)) {
      problems.push(problem('json-record', { where: `${raw.unit} ${at}` }, place))
      continue
    }
    addRecord(raw, columns, value as Record<string, unknown>, at, index, (key) =>
      problems.push(problem('json-nested', { key, where: `${raw.unit} ${at}` }, place)),
    )
    checkColumns(columns.size, noLimit, place)
    // Of many broken records the first few are reported.
    if (problems.length >= 20) break
  }
  raw.columns = [...columns.values()]
  if (problems.length > 0) throw new ProblemError(problems)
}

/** Lists are counted in records, NDJSON in lines. */
function records(text: string, raw: RawTable, place: object): { at: number; value: unknown }[] {
  const whole = tryJson(text)
  if (Array.isArray(whole.value)) {
    raw.unit = 'record'
    return whole.value.map((value, i) => ({ at: i + 1, value }))
  }
  const values: { at: number; value: unknown }[] = []
  const problems: Problem[] = []
  text.split('\n').forEach((line, i) => {
    if (line.trim() === '') return
    const { value, why } = tryJson(line)
    if (why === undefined) values.push({ at: i + 1, value })
    else if (problems.length < 20) problems.push(problem('json-broken', { why }, { ...place, line: i + 1 }))
  })
  // Text that begins like a list is one broken list, not many broken lines.
  if (problems.length > 0 && text.trimStart().startsWith('['))
    throw new ProblemError([problem('json-broken', { why: whole.why ?? '' }, place)])
  if (problems.length > 0) throw new ProblemError(problems)
  return values
}

function tryJson(text: string): { value?: unknown; why?: string } {
  try {
    return { value: JSON.parse(text) }
  } catch (error) {
    return { why: error instanceof Error ? error.message : String(error) }
  }
}

function addRecord(
  raw: RawTable,
  columns: Map<string, RawColumn>,
  record: Record<string, unknown>,
  at: number,
  file: number,
  nested: (key: string) => void,
): void {
  for (const [key, value] of Object.entries(record)) {
    let column = columns.get(key)
    if (column === undefined) {
      column = createRawColumn(key)
      // Missing in the records before this one.
      for (let i = 0; i < raw.rows; i++) column.codes.push(-1)
      columns.set(key, column)
    }
    if (typeof value === 'object' && value !== null) nested(key)
    else if (typeof value === 'string') column.quoted = true
    addWord(column, value === null || value === undefined || typeof value === 'object' ? '' : String(value), at, file)
  }
  raw.rows++
  for (const column of columns.values()) if (column.codes.length < raw.rows) column.codes.push(-1)
}
