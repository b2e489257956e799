import { bindAs, didBind } from '../../expression/bind.js'
import type { Bound } from '../../expression/bound.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import type { ExhibitKindKey, ExhibitSpec } from '../../spec/exhibits.js'
import type { ReportSpec } from '../../spec/report.js'
import type { BoundExhibit } from '../model/bound.js'
import { type BindKind, checkPeriod, type ExhibitContext } from './exhibit-keys.js'
import { BIND } from './kinds/registry.js'

const EXHIBIT_KINDS = Object.keys(BIND) as readonly ExhibitKindKey[]

/**
 * Checks and binds the exhibits; those with problems are left out, and all problems are reported.
 */
export function bindExhibits(spec: ReportSpec, context: ExhibitContext, diagnostics: Diagnostics): BoundExhibit[] {
  const all = diagnostics.at('exhibits')
  if (spec.exhibits.length === 0) all.report('no-exhibits', {})
  checkPeriod(spec.period, context, diagnostics.at('period'))
  const exhibits: BoundExhibit[] = []
  const seen = new Set<string>()
  // Invalid members of a list are null; they were reported before.
  spec.exhibits.forEach((exhibit: ExhibitSpec | null, i) => {
    if (exhibit === null) return
    const name = context.names[i]
    if (seen.has(name)) all.at(i, 'name').report('two-of-a-name', { name, what: 'exhibits' })
    seen.add(name)
    const before = all.problems.length
    const bound = bindExhibit(exhibit, { name, index: i }, context, all.at(i))
    if (all.problems.length === before && bound !== undefined) exhibits.push(bound)
  })
  return exhibits
}

function bindExhibit(
  exhibit: ExhibitSpec,
  { name, index }: Pick<BoundExhibit, 'name' | 'index'>,
  context: ExhibitContext,
  diagnostics: Diagnostics,
): BoundExhibit | undefined {
  const kinds = EXHIBIT_KINDS.filter((kind) => exhibit[kind] !== undefined)
  const [kind] = kinds
  if (kinds.length !== 1) {
    diagnostics.report('wrong-shape', {
      expected: `one of ${EXHIBIT_KINDS.join(', ')}`,
      found: kinds.length === 0 ? 'none of them' : kinds.join(' and '),
    })
    return undefined
  }
  checkPeriod(exhibit.period, context, diagnostics.at('period'))
  const where = bindWhere(exhibit, context, diagnostics.at('where'))
  if (exhibit.beside !== undefined && exhibit.beside !== 'none')
    checkBeside(exhibit.beside, name, context, diagnostics.at('beside'))
  // Each kind has its own type, and the shape was checked before.
  const bind = BIND[kind] as BindKind<unknown>
  return {
    kind,
    index,
    name,
    title: exhibit.title ?? name,
    note: exhibit.note ?? null,
    section: exhibit.section ?? null,
    beside: exhibit.beside !== undefined && exhibit.beside !== 'none',
    alone: exhibit.beside === 'none',
    besideUnpainted: exhibit.besideUnpainted === true,
    where,
    period: exhibit.period === undefined ? undefined : String(exhibit.period),
    unfinished: exhibit.unfinished,
    hide: exhibit.hide === 'value',
    ...bind(exhibit[kind], context, diagnostics.at(kind)),
  }
}

/** Whether an exhibit is placed beside the one before it. */
function checkBeside(beside: string, name: string, { names }: ExhibitContext, diagnostics: Diagnostics): void {
  if (!names.includes(beside))
    diagnostics.report('unknown-exhibit', { name: beside, nearest: nearest(beside, names), known: names })
  else if (names[names.indexOf(name) - 1] !== beside) diagnostics.report('beside-before', { name, beside })
}

function bindWhere(exhibit: ExhibitSpec, context: ExhibitContext, diagnostics: Diagnostics): Bound[] {
  if (exhibit.where === undefined) return []
  const setting = {
    what: 'a condition on rows',
    names: context.columns,
    calendar: context.calendar,
    ...(context.hidden && { hidden: context.hidden }),
  }
  const result = bindAs(exhibit.where, setting, 'condition', 'where')
  if (didBind(result)) return [result.bound]
  diagnostics.take(result)
  return []
}
