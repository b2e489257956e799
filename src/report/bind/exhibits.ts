import { bindAs, didBind, type Found, type Names } from '../../expression/bind.js'
import type { Bound } from '../../expression/bound.js'
import type { Diagnostics } from '../../problem/diagnostics.js'
import { nearest } from '../../problem/nearest.js'
import type { ExhibitKindKey, ExhibitSpec } from '../../spec/exhibits.js'
import type { ReportSpec } from '../../spec/report.js'
import type { BoundExhibit, BoundParts } from '../model/bound.js'
import { asList, type BindKind, checkPeriod, type ExhibitContext, eachOf } from './exhibit-keys.js'
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
  const parts = bind(exhibit[kind], context, diagnostics.at(kind))
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
    ...parts,
    ...boundShowing(exhibit, kind, parts, context, diagnostics.at('showing')),
  }
}

/** The kinds whose rows can be hidden by their statuses. */
const WITH_ROWS: readonly ExhibitKindKey[] = ['table', 'heatmap', 'records']

function boundShowing(
  { showing }: ExhibitSpec,
  kind: ExhibitKindKey,
  { show }: BoundParts,
  { vocabulary }: ExhibitContext,
  diagnostics: Diagnostics,
): Pick<BoundExhibit, 'showing'> {
  if (showing === undefined) return {}
  if (!WITH_ROWS.includes(kind)) diagnostics.report('showing-kind', { kind, known: WITH_ROWS })
  const known = Object.keys(vocabulary.statuses)
  eachOf<string>(showing.status, diagnostics.at('status'), (name, at) => {
    if (!known.includes(name)) at.report('unknown-status', { name, nearest: nearest(name, known), known })
  })
  if (!show.includes(showing.of))
    diagnostics
      .at('of')
      .report('showing-unshown', { name: showing.of, nearest: nearest(showing.of, show), known: show })
  return { showing: { statuses: asList<string>(showing.status), of: showing.of } }
}

/** Whether an exhibit is placed beside the one before it. */
function checkBeside(beside: string, name: string, { names }: ExhibitContext, diagnostics: Diagnostics): void {
  if (!names.includes(beside))
    diagnostics.report('unknown-exhibit', { name: beside, nearest: nearest(beside, names), known: names })
  else if (names[names.indexOf(name) - 1] !== beside) diagnostics.report('beside-before', { name, beside })
}

/** A parameter as a name in a condition: its value is filled in when the report is answered. */
function parameterNamed({ parameters }: ExhibitContext['vocabulary'], name: string): Found | undefined {
  const parameter = parameters.get(name)
  return parameter && { ref: { kind: 'parameter', name }, type: { kind: 'number', unit: parameter.unit } }
}

function bindWhere(exhibit: ExhibitSpec, context: ExhibitContext, diagnostics: Diagnostics): Bound[] {
  if (exhibit.where === undefined) return []
  const { columns, vocabulary } = context
  const names: Names = {
    find: (name, source) =>
      columns.find(name, source) ?? (source === undefined ? parameterNamed(vocabulary, name) : undefined),
    all: () => [...columns.all(), ...vocabulary.parameters.keys()],
  }
  const setting = {
    what: 'a condition on rows',
    names,
    calendar: context.calendar,
    ...(context.hidden && { hidden: context.hidden }),
  }
  const result = bindAs(exhibit.where, setting, 'condition', 'where')
  if (didBind(result)) return [result.bound]
  diagnostics.take(result)
  return []
}
