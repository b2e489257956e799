import { bindAs, didBind } from '../expression/bind.js'
import type { Bound } from '../expression/bound.js'
import type { ExhibitSpec, ReportSpec } from '../file/spec.js'
import { nearest } from '../problem/nearest.js'
import { type Path, type Problem, problem } from '../problem/problem.js'
import type { Keep } from '../summary/keep.js'
import { checkPeriod, type ExhibitContext } from './exhibit-keys.js'
import { bindCards, bindChart, bindList, bindRecords, bindTable, bindWords } from './exhibit-kinds.js'

export const EXHIBIT_KINDS = ['table', 'heatmap', 'chart', 'cards', 'records', 'list', 'words'] as const
export type ExhibitKind = (typeof EXHIBIT_KINDS)[number]

/** An exhibit whose every name is resolved: what is summarised for it, and how it is drawn. */
export interface BoundExhibit extends BoundParts {
  kind: ExhibitKind
  name: string
  title: string
  note: string | null
  /** A heading over it and those after it. */
  section: string | null
  /** Placed at the side of the exhibit before it. */
  beside: boolean
  /** Shown without paint, too, at its side. */
  plain: boolean
  where: readonly Bound[]
  /** As written, or undefined for the report's own. */
  period: string | undefined
  hide: boolean
}

/** What each kind has to say. */
export interface BoundParts {
  rows: readonly string[]
  columns: readonly string[]
  /** The measures summarised for it, each once; of records also fields. */
  show: readonly string[]
  totals: { rows: 'top' | 'bottom' | 'none'; columns: 'left' | 'right' | 'none'; subtotals: boolean }
  sort: { measure: string; falling: boolean } | undefined
  /** The same where nothing is said of it, or keys alone are. */
  byDefault: { measure: string; falling: boolean } | undefined
  /** Row keys sorted from the last to the first. */
  turned: readonly string[]
  /** Given orders, by key. */
  orders: ReadonlyMap<string, readonly string[]>
  keeps: readonly Keep[]
  /** The columns of a table, in their order. */
  slots: readonly BoundSlot[]
  nest: 'indented' | 'columns'
  spacing: 'close' | 'normal' | 'wide'
  chart?: BoundChart
  cards?: readonly BoundCard[]
  records?: { first: number; one: boolean }
  list?: { statuses: readonly string[]; of: string }
  words?: { of: string; versus: string | undefined; along: string | undefined }
}

/** How the numbers of a column are drawn. */
export type Draw = 'number' | 'bar' | 'dot' | 'block'

/** One column of a table: a measure, or a line a row. */
export type BoundSlot =
  | { measure: string; label: string | undefined; draw: Draw; icon: 'before' | 'after' | 'alone' }
  | { trend: BoundTrend; label: string | undefined }

/** Values of a measure along a key. */
export interface BoundTrend {
  of: string
  along: string
  /** As written, or undefined for the exhibit's own. */
  period: string | undefined
}

/** How values are written at marks; `fit` is full where that fits, else short. */
export type ChartLabels = 'full' | 'short' | 'fit' | 'none'

export interface BoundChart {
  series: string | undefined
  each: string | undefined
  stacked: boolean
  lying: boolean
  draws: readonly {
    measure: string
    draw: 'bars' | 'line' | 'points' | 'marker'
    labels: ChartLabels
    label: string | undefined
  }[]
  lines: readonly { bound: Bound; text: string; label: string | undefined }[]
}

export interface BoundCard {
  measure: string
  label: string | undefined
  versus: string | undefined
  note: string | undefined
  trend: BoundTrend | undefined
}

/** Checks and binds the exhibits; those with problems are left out, and all their problems are told. */
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
    const bound = bindExhibit(exhibit, name, context, at, problems)
    if (problems.length === before && bound !== undefined) found.push(bound)
  })
  return found
}

function bindExhibit(
  exhibit: ExhibitSpec,
  name: string,
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
      name,
      title: exhibit.title ?? name,
      note: exhibit.note ?? null,
      section: exhibit.section ?? null,
      beside: exhibit.beside !== undefined,
      plain: exhibit.plain !== undefined,
      where,
      period: exhibit.period === undefined ? undefined : String(exhibit.period),
      hide: exhibit.hide === 'value',
      ...parts,
    }
  )
}

function bindParts(
  { table, heatmap, chart, cards, records, list, words }: ExhibitSpec,
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
  return words && bindWords(words, context, here, problems)
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
