import { bindAs, didBind } from '../../expression/bind.js'
import type { Bound } from '../../expression/bound.js'
import { nearest } from '../../problem/nearest.js'
import { type Path, type Problem, problem } from '../../problem/problem.js'
import type { ExhibitSpec } from '../../spec/exhibits.js'
import type { ReportSpec } from '../../spec/report.js'
import { type BoundExhibit, type BoundParts, EXHIBIT_KINDS } from '../model/bound.js'
import { checkPeriod, type ExhibitContext } from './exhibit-keys.js'
import { bindCards, bindChart, bindList, bindReading, bindRecords, bindTable } from './exhibit-kinds.js'

/**
 * Checks and binds the exhibits; those with problems are left out, and all their problems are told.
 */
export function bindExhibits(spec: ReportSpec, context: ExhibitContext, problems: Problem[]): BoundExhibit[] {
  if (spec.exhibits.length === 0) problems.push(problem('no-exhibits', {}, { path: ['exhibits'] }))
  checkPeriod(spec.period, ['period'], context, problems)
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
    const bound = bindExhibit(exhibit, { name, index: i }, context, at, problems)
    if (problems.length === before && bound !== undefined) found.push(bound)
  })
  return found
}

function bindExhibit(
  exhibit: ExhibitSpec,
  { name, index }: Pick<BoundExhibit, 'name' | 'index'>,
  context: ExhibitContext,
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
  checkPeriod(exhibit.period, [...at, 'period'], context, problems)
  const where = bindWhere(exhibit, context, at, problems)
  if (exhibit.beside !== undefined) checkBeside(exhibit.beside, name, context, [...at, 'beside'], problems)
  const [kind] = kinds
  const parts = bindParts(exhibit, context, [...at, kind], problems)
  return (
    parts && {
      kind,
      index,
      name,
      title: exhibit.title ?? name,
      note: exhibit.note ?? null,
      section: exhibit.section ?? null,
      beside: exhibit.beside !== undefined,
      besideUnpainted: exhibit.besideUnpainted === true,
      where,
      period: exhibit.period === undefined ? undefined : String(exhibit.period),
      hide: exhibit.hide === 'value',
      ...parts,
    }
  )
}

function bindParts(
  { table, heatmap, chart, cards, records, list, reading: words }: ExhibitSpec,
  context: ExhibitContext,
  here: Path,
  problems: Problem[],
): BoundParts | undefined {
  if (table !== undefined) return bindTable(table, 'table', context, here, problems)
  if (heatmap !== undefined) return bindTable(heatmap, 'heatmap', context, here, problems)
  if (chart !== undefined) return bindChart(chart, context, here, problems)
  if (cards !== undefined) return bindCards(cards, context, here, problems)
  if (records !== undefined) return bindRecords(records, context, here, problems)
  if (list !== undefined) return bindList(list, context, here, problems)
  return words && bindReading(words, context, here, problems)
}

/** An exhibit stands at the side of the one right before it. */
function checkBeside(beside: string, name: string, { names }: ExhibitContext, at: Path, problems: Problem[]): void {
  if (!names.includes(beside))
    problems.push(
      problem('unknown-exhibit', { name: beside, nearest: nearest(beside, names), known: names }, { path: at }),
    )
  else if (names[names.indexOf(name) - 1] !== beside)
    problems.push(problem('beside-before', { name, beside }, { path: at }))
}

function bindWhere(exhibit: ExhibitSpec, context: ExhibitContext, at: Path, problems: Problem[]): Bound[] {
  if (exhibit.where === undefined) return []
  const result = bindAs(
    exhibit.where,
    {
      what: 'a condition on rows',
      names: context.columns,
      starts: context.starts,
      ...(context.hidden && { hidden: context.hidden }),
    },
    'condition',
    'where',
  )
  if (didBind(result)) return [result.bound]
  for (const p of result) problems.push({ ...p, place: { ...p.place, path: [...at, 'where'] } })
  return []
}
