import { type Bound, type BoundAggregate, partsOf, referencesOf, walk } from '../expression/bound.js'
import type { ReportSpec } from '../file/schema.js'
import { type Problem, problem } from '../problem/problem.js'
import type { Measure } from '../summary/measure.js'
import type { BoundSource } from './joined.js'

/** Counting is never wrong: it puts no values together. */
const COUNTS: readonly string[] = ['count', 'distinct']

/** A value that is stacked of unlike measures is put together only where a condition says which of them is meant. */
export function checkStacked(
  spec: ReportSpec,
  sources: readonly BoundSource[],
  measures: ReadonlyMap<string, Measure>,
  where: readonly Bound[],
  problems: Problem[],
): void {
  const home = Object.keys(spec.sources)[0]
  for (const source of sources) {
    const stack = spec.sources[source.name].stack
    if (stack === undefined || !(stack.unlike ?? stack.columns === undefined)) continue
    const holding = holdingFields(source, stack.value)
    for (const measure of measures.values())
      walk(measure.bound, (bound) => {
        if (bound.op !== 'aggregate' || COUNTS.includes(bound.statistic)) return
        if ((bound.source ?? home) !== source.name || !reads(bound, holding)) return
        if ([...where, ...(bound.where === undefined ? [] : [bound.where])].some((own) => pins(own, stack.name))) return
        const sample = stack.columns?.[0] ?? sampleOf(source, stack.name)
        const params = { aggregate: bound.statistic, value: stack.value, name: stack.name, sample }
        problems.push(problem('unlike-stacked', params, { path: ['measures', measure.name] }))
      })
  }
}

/** The stacked value and the fields made of it. */
function holdingFields(source: BoundSource, value: string): Set<string> {
  const holding = new Set([value])
  for (const [name, field] of source.fields)
    if (referencesOf(field).some((ref) => holding.has(ref.name))) holding.add(name)
  return holding
}

function reads({ of }: BoundAggregate, names: ReadonlySet<string>): boolean {
  return of !== undefined && referencesOf(of).some((ref) => names.has(ref.name))
}

/** Whether a condition leaves one of the stacked names alone. */
function pins(condition: Bound, name: string): boolean {
  if (condition.op === 'and') return partsOf(condition).some((part) => pins(part, name))
  return (
    condition.op === 'compare' &&
    condition.sign === '=' &&
    [condition.left, condition.right].some((side) => side.op === 'name' && side.ref.name === name)
  )
}

function sampleOf({ table }: BoundSource, name: string): string {
  const column = table.columns.get(name)?.column
  return column?.kind === 'text' ? (column.words[0] ?? '') : ''
}
