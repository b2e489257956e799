import { bindAs, bindExpression, didBind, type Names } from '../expression/bind.js'
import type { Bound } from '../expression/bound.js'
import { printExpression } from '../expression/print.js'
import type { ChartSpec, ExhibitSpec, KeySpec, ReportSpec, TableSpec } from '../file/schema.js'
import { nearest } from '../problem/nearest.js'
import { type Path, type Problem, problem } from '../problem/problem.js'
import type { Vocabulary } from '../rule/vocabulary.js'
import type { Keep } from '../summary/keep.js'
import type { Measure } from '../summary/measure.js'
import { isTimeUnit, parseSpan } from '../time/period.js'

export const EXHIBIT_KINDS = ['table', 'heatmap', 'chart'] as const
export type ExhibitKind = (typeof EXHIBIT_KINDS)[number]

/** An exhibit whose every name is resolved. */
export interface BoundExhibit {
  kind: ExhibitKind
  name: string
  title: string
  note: string | null
  beside: boolean
  rows: readonly string[]
  columns: readonly string[]
  show: readonly string[]
  where: readonly Bound[]
  /** As written, or undefined for the report's own. */
  period: string | undefined
  totals: { rows: 'top' | 'bottom' | 'none'; columns: 'left' | 'right' | 'none'; subtotals: boolean }
  sort: { measure: string; falling: boolean } | undefined
  /** Row keys sorted from the last to the first. */
  turned: readonly string[]
  /** Given orders, by key. */
  orders: ReadonlyMap<string, readonly string[]>
  keeps: readonly Keep[]
  hide: boolean
  lines: readonly { bound: Bound; text: string; label: string | undefined }[]
  labels: boolean
}

interface Context {
  vocabulary: Vocabulary
  columns: Names
  fields: Names
  measures: ReadonlyMap<string, Measure>
  hasDates: boolean
  starts: number
  names: readonly string[]
}

/** Checks and binds the exhibits; those with problems are left out, and all their problems are told. */
export function bindExhibits(spec: ReportSpec, context: Context, problems: Problem[]): BoundExhibit[] {
  if (spec.exhibits.length === 0) problems.push(problem('no-exhibits', {}, { path: ['exhibits'] }))
  checkPeriod(spec.period, ['period'], context.starts, problems)
  const found: BoundExhibit[] = []
  const seen = new Set<string>()
  // Faulty members of a list arrive as null, told already.
  spec.exhibits.forEach((exhibit: ExhibitSpec | null, i) => {
    if (exhibit === null) return
    const at = ['exhibits', i]
    const name = context.names[i]
    if (seen.has(name)) problems.push(problem('two-of-a-name', { name, what: 'exhibits' }, { path: [...at, 'name'] }))
    seen.add(name)
    const before = problems.length
    const bound = bindExhibit(exhibit, name, context, at, problems)
    if (problems.length === before && bound !== undefined) found.push(bound)
  })
  return found
}

function bindExhibit(
  exhibit: ExhibitSpec,
  name: string,
  context: Context,
  at: Path,
  problems: Problem[],
): BoundExhibit | undefined {
  const kinds = EXHIBIT_KINDS.filter((kind) => exhibit[kind] !== undefined)
  if (kinds.length !== 1) {
    const message = {
      expected: `one of ${EXHIBIT_KINDS.join(', ')}`,
      found: kinds.length === 0 ? 'none of them' : kinds.join(' and '),
    }
    problems.push(problem('wrong-shape', message, { path: at }))
    return undefined
  }
  checkPeriod(exhibit.period, [...at, 'period'], context.starts, problems)
  const where = bindWhere(exhibit, context, at, problems)
  if (exhibit.beside !== undefined) checkBeside(exhibit.beside, name, context, [...at, 'beside'], problems)
  const [kind] = kinds
  const base = {
    kind,
    name,
    title: exhibit.title ?? name,
    note: exhibit.note ?? null,
    beside: exhibit.beside !== undefined,
    where,
    period: exhibit.period === undefined ? undefined : String(exhibit.period),
    hide: exhibit.hide === 'value',
  }
  const here = [...at, kind]
  if (exhibit.chart !== undefined) return { ...base, ...bindChart(exhibit.chart, context, here, problems) }
  const table = exhibit.table ?? exhibit.heatmap
  return table && { ...base, ...bindTable(table, context, here, problems) }
}

/** An exhibit stands at the side of the one right before it. */
function checkBeside(beside: string, name: string, { names }: Context, at: Path, problems: Problem[]): void {
  if (!names.includes(beside))
    problems.push(
      problem('unknown-exhibit', { name: beside, nearest: nearest(beside, names), known: names }, { path: at }),
    )
  else if (names[names.indexOf(name) - 1] !== beside)
    problems.push(problem('beside-before', { name, beside }, { path: at }))
}

function listOf<T extends string | object>(value: T | readonly T[] | undefined): readonly T[] {
  return value === undefined ? [] : Array.isArray(value) ? value : [value as T]
}

function bindTable(table: TableSpec, context: Context, at: Path, problems: Problem[]) {
  const rows = checkKeys(table.rows, [...at, 'rows'], context, problems)
  const columns = checkKeys(table.columns, [...at, 'columns'], context, problems)
  listOf<KeySpec>(table.columns).forEach((key, i) => {
    const path = [...at, 'columns', ...(Array.isArray(table.columns) ? [i] : [])]
    if (typeof key !== 'string' && key.keep !== undefined)
      problems.push(problem('keep-columns', {}, { path: [...path, 'keep'] }))
  })
  const show = checkMeasures(table.show, [...at, 'show'], context, problems)
  const written = typeof table.totals === 'string' ? { rows: table.totals } : (table.totals ?? {})
  const totalRows = written.rows ?? 'none'
  const totals = {
    rows: totalRows,
    columns: written.columns ?? ('none' as const),
    subtotals: written.subtotals ?? totalRows !== 'none',
  }
  const keeps = keepsOf(table.rows)
  const { sort, turned } = sortsOf(table.sort, rows, show, [...at, 'sort'], problems)
  const orders = ordersOf([...listOf<KeySpec>(table.rows), ...listOf<KeySpec>(table.columns)])
  return {
    rows,
    columns,
    show,
    totals,
    // What keeps the first few is in their order.
    sort: sort ?? (keeps.length > 0 && show[0] !== undefined ? { measure: show[0], falling: true } : undefined),
    turned,
    orders,
    keeps,
    lines: [],
    labels: true,
  }
}

/** What rows are sorted by: one measure, and keys from their last to their first. */
function sortsOf(
  sort: string | readonly string[] | undefined,
  rows: readonly string[],
  show: readonly string[],
  at: Path,
  problems: Problem[],
): { sort: BoundExhibit['sort']; turned: string[] } {
  let measure: BoundExhibit['sort']
  const turned: string[] = []
  listOf<string>(sort).forEach((text, i) => {
    const path = typeof sort === 'string' ? at : [...at, i]
    const falling = text.startsWith('-')
    const name = falling ? text.slice(1).trim() : text.trim()
    if (show.includes(name) && measure === undefined) measure = { measure: name, falling }
    else if (rows.includes(name) && !show.includes(name)) {
      if (falling) turned.push(name)
    } else problems.push(problem('bad-sort', { text, known: [...show, ...rows] }, { path }))
  })
  return { sort: measure, turned }
}

function keepsOf(keys: KeySpec | readonly KeySpec[] | undefined): Keep[] {
  return listOf<KeySpec>(keys).flatMap((key) =>
    typeof key === 'string' || key.keep === undefined
      ? []
      : [{ key: key.key, count: key.keep, ...(key.rest === undefined ? {} : { rest: key.rest }) }],
  )
}

function ordersOf(keys: readonly KeySpec[]): Map<string, readonly string[]> {
  return new Map(
    keys.flatMap((key) =>
      typeof key === 'string' || key.order === undefined ? [] : [[key.key, key.order.map(String)]],
    ),
  )
}

function bindChart(chart: ChartSpec, context: Context, at: Path, problems: Problem[]) {
  const rows = checkKeys(chart.along, [...at, 'along'], context, problems)
  const show = checkMeasures(chart.show, [...at, 'show'], context, problems)
  const lines = (chart.lines ?? []).flatMap(({ at: limit, label }, i) => {
    const text = String(limit).replace('e+', 'e')
    const names: Names = {
      find(name, source) {
        const parameter = source === undefined ? context.vocabulary.parameters.get(name) : undefined
        return parameter && { ref: { kind: 'parameter', name }, type: { kind: 'number', unit: parameter.unit } }
      },
      all: () => [...context.vocabulary.parameters.keys()],
    }
    const result = bindExpression(text, { what: 'a line', names })
    if (didBind(result)) return [{ bound: result.bound, text: printExpression(result.tree), label }]
    for (const p of result) problems.push({ ...p, place: { ...p.place, path: [...at, 'lines', i, 'at'] } })
    return []
  })
  const totals = { rows: 'none' as const, columns: 'none' as const, subtotals: false }
  const keeps = keepsOf(chart.along)
  const sort = keeps.length > 0 && show[0] !== undefined ? { measure: show[0], falling: true } : undefined
  const orders = ordersOf(listOf<KeySpec>(chart.along))
  const labels = chart.labels ?? true
  return { rows, columns: [], show, totals, sort, turned: [], orders, keeps, lines, labels }
}

function bindWhere(exhibit: ExhibitSpec, context: Context, at: Path, problems: Problem[]): Bound[] {
  if (exhibit.where === undefined) return []
  const result = bindAs(
    exhibit.where,
    { what: 'a condition on rows', names: context.columns, starts: context.starts },
    'condition',
    'where',
  )
  if (didBind(result)) return [result.bound]
  for (const p of result) problems.push({ ...p, place: { ...p.place, path: [...at, 'where'] } })
  return []
}

function checkKeys(
  keys: KeySpec | readonly KeySpec[] | undefined,
  at: Path,
  context: Context,
  problems: Problem[],
): readonly string[] {
  return listOf<KeySpec>(keys).map((key, i) => {
    const path = Array.isArray(keys) ? [...at, i] : at
    const name = typeof key === 'string' ? key : key.key
    const own = typeof key === 'string' ? path : [...path, 'key']
    const found = context.fields.find(name)
    if (found === undefined && isTimeUnit(name) && !context.hasDates)
      problems.push(problem('no-date', { name }, { path: own }))
    else if (found === undefined) {
      const known = context.fields.all()
      problems.push(problem('unknown-dimension', { name, nearest: nearest(name, known), known }, { path: own }))
    }
    if (typeof key === 'string') return name
    if (key.rest !== undefined && key.keep === undefined)
      problems.push(problem('rest-alone', {}, { path: [...path, 'rest'] }))
    if (key.keep !== undefined && found !== undefined && found.type.kind !== 'text' && found.type.kind !== 'unknown')
      problems.push(problem('keep-text', { key: name }, { path: [...path, 'keep'] }))
    return name
  })
}

function checkMeasures(
  show: string | readonly string[],
  at: Path,
  context: Context,
  problems: Problem[],
): readonly string[] {
  const known = [...context.vocabulary.measures.keys()]
  const list = listOf<string>(show)
  list.forEach((name, i) => {
    const path = typeof show === 'string' ? at : [...at, i]
    if (!known.includes(name))
      problems.push(problem('unknown-measure', { name, nearest: nearest(name, known), known }, { path }))
  })
  return list
}

function checkPeriod(period: string | number | undefined, at: Path, starts: number, problems: Problem[]): void {
  // Any day will do to see whether the words are a period.
  if (period !== undefined && parseSpan(String(period), 0, starts) === undefined)
    problems.push(problem('bad-period', { text: String(period) }, { path: at }))
}
