import { bindAs, bindExpression, didBind, type Names } from '../expression/bind.js'
import type { Bound } from '../expression/bound.js'
import { printExpression } from '../expression/print.js'
import type { ChartSpec, ExhibitSpec, ReportSpec, TableSpec } from '../file/schema.js'
import { nearest } from '../problem/nearest.js'
import { type Path, type Problem, problem } from '../problem/problem.js'
import type { Vocabulary } from '../rule/vocabulary.js'
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

function listOf(value: string | readonly string[] | undefined): readonly string[] {
  return value === undefined ? [] : typeof value === 'string' ? [value] : value
}

function bindTable(table: TableSpec, context: Context, at: Path, problems: Problem[]) {
  const rows = checkKeys(table.rows, [...at, 'rows'], context, problems)
  const columns = checkKeys(table.columns, [...at, 'columns'], context, problems)
  const show = checkMeasures(table.show, [...at, 'show'], context, problems)
  const written = typeof table.totals === 'string' ? { rows: table.totals } : (table.totals ?? {})
  const totalRows = written.rows ?? 'none'
  const totals = {
    rows: totalRows,
    columns: written.columns ?? ('none' as const),
    subtotals: written.subtotals ?? totalRows !== 'none',
  }
  let sort: BoundExhibit['sort']
  if (table.sort !== undefined) {
    const falling = table.sort.startsWith('-')
    const measure = falling ? table.sort.slice(1).trim() : table.sort.trim()
    if (show.includes(measure)) sort = { measure, falling }
    else problems.push(problem('bad-sort', { text: table.sort, known: show }, { path: [...at, 'sort'] }))
  }
  return { rows, columns, show, totals, sort, lines: [], labels: true }
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
  return { rows, columns: [], show, totals, sort: undefined, lines, labels: chart.labels ?? true }
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
  keys: string | readonly string[] | undefined,
  at: Path,
  context: Context,
  problems: Problem[],
): readonly string[] {
  const list = listOf(keys)
  list.forEach((name, i) => {
    const path = typeof keys === 'string' ? at : [...at, i]
    if (context.fields.find(name) !== undefined) return
    if (isTimeUnit(name) && !context.hasDates) problems.push(problem('no-date', { name }, { path }))
    else {
      const known = context.fields.all()
      problems.push(problem('unknown-dimension', { name, nearest: nearest(name, known), known }, { path }))
    }
  })
  return list
}

function checkMeasures(
  show: string | readonly string[],
  at: Path,
  context: Context,
  problems: Problem[],
): readonly string[] {
  const known = [...context.vocabulary.measures.keys()]
  const list = listOf(show)
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
