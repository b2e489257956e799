import { type Bound, type BoundAggregate, operandsOf, referencesOf, walk } from '../../expression/bound.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import type { Measure } from '../../summary/plan/measures.js'
import { parsePeriod, spanOf } from '../../time/period.js'
import type { BoundSource } from '../model/bound.js'

type Stack = NonNullable<BoundSource['stack']>

/** Counting unlike values is not wrong. */
const COUNTS: readonly string[] = ['count', 'countDistinct']

/** Statistics that change if rows are repeated. */
const WEIGHS: readonly string[] = ['sum', 'stdev', 'percentile', 'count']

/**
 * Checks aggregates of stacked sources. A value column that stacks unlike measures needs a
 * condition on its name. A column that was not stacked is repeated on every row made of one, so
 * aggregating it needs a condition that leaves one of these.
 */
export function checkStacked(
  sources: readonly BoundSource[],
  measures: ReadonlyMap<string, Measure>,
  where: readonly Bound[],
  diagnostics: Diagnostics,
): void {
  const home = sources[0]?.name ?? ''
  for (const source of sources) {
    const { stack } = source
    if (stack === undefined) continue
    if (stack.columns !== undefined) checkRepeated(source, stack, home, measures, where, diagnostics)
    if (!(stack.unlike ?? stack.columns === undefined)) continue
    const holding = holdingFields(source, stack.value)
    for (const measure of measures.values())
      walk(measure.bound, (bound) => {
        if (bound.op !== 'aggregate' || COUNTS.includes(bound.statistic)) return
        if ((bound.source ?? home) !== source.name || !reads(bound, holding)) return
        if ([...where, ...(bound.where === undefined ? [] : [bound.where])].some((condition) => pins(condition, stack)))
          return
        const sample = stack.columns?.[0] ?? sampleOf(source, stack.name)
        const params = { aggregate: bound.statistic, value: stack.value, name: stack.name, sample }
        diagnostics.at('measures', measure.name).report('unlike-stacked', params)
      })
  }
}

/**
 * An aggregate of columns that were not stacked counts each original row once for each stacked
 * column.
 */
function checkRepeated(
  source: BoundSource,
  stack: Stack,
  home: string,
  measures: ReadonlyMap<string, Measure>,
  where: readonly Bound[],
  diagnostics: Diagnostics,
): void {
  const { columns = [], name, value } = stack
  if (columns.length < 2) return
  const fields = holdingFields(source, value)
  for (const field of holdingFields(source, name)) fields.add(field)
  for (const measure of measures.values())
    walk(measure.bound, (bound) => {
      if (bound.op !== 'aggregate' || bound.of === undefined || !WEIGHS.includes(bound.statistic)) return
      if ((bound.source ?? home) !== source.name) return
      const read = referencesOf(bound.of).map((ref) => ref.name)
      if (read.length === 0 || read.some((column) => fields.has(column))) return
      if ([...where, ...(bound.where === undefined ? [] : [bound.where])].some((c) => pins(c, stack))) return
      const params = {
        aggregate: bound.statistic,
        column: read.join(' and '),
        times: columns.length,
        name,
        sample: written(columns[0]),
      }
      diagnostics.at('measures', measure.name).report('repeated-stacked', params)
    })
}

/** The value column and the fields made of it. */
function holdingFields(source: BoundSource, value: string): Set<string> {
  const holding = new Set([value])
  for (const [name, field] of source.fields)
    if (referencesOf(field).some((ref) => holding.has(ref.name))) holding.add(name)
  return holding
}

function reads({ of }: BoundAggregate, names: ReadonlySet<string>): boolean {
  return of !== undefined && referencesOf(of).some((ref) => names.has(ref.name))
}

/** Whether a condition leaves a single stacked name. */
function pins(condition: Bound, { name, columns = [] }: Pick<Stack, 'name' | 'columns'>): boolean {
  if (condition.op === 'and') return operandsOf(condition).some((part) => pins(part, { name, columns }))
  const isName = (side: Bound): boolean => side.op === 'name' && side.ref.name === name
  // Month headings became dates: a period selects one if it contains no other.
  if (condition.op === 'during' && condition.sign === '=' && isName(condition.of)) {
    const { from, to } = condition.span
    const inside = columns.map((column) => dayOfHeading(column)).filter((day) => day >= from && day <= to)
    return inside.length === 1
  }
  return condition.op === 'compare' && condition.sign === '=' && [condition.left, condition.right].some(isName)
}

/** A heading as written in a condition: a period as it is, a text in quotes. */
function written(column: string): string {
  return parsePeriod(column) === undefined ? `'${column.replaceAll("'", "''")}'` : column
}

function dayOfHeading(column: string): number {
  const period = parsePeriod(column)
  return period === undefined ? Number.NaN : spanOf(period.unit, period.period).from
}

function sampleOf({ table }: BoundSource, name: string): string {
  const column = table.columns.get(name)?.column
  return column?.kind === 'text' ? (column.words[0] ?? '') : ''
}

/**
 * How often a column repeats each value: as often as there are stacked columns, unless it was
 * stacked.
 */
export function repeats(stack: Stack | undefined, column: string): number {
  const columns = stack?.columns ?? []
  return stack === undefined || columns.length === 0 || column === stack.value ? 1 : columns.length
}
