import { type Bound, referencesOf } from '../../expression/bound.js'
import { problem } from '../../problem/answering.js'
import type { Problem } from '../../problem/problem.js'
import type { DerivedColumn } from '../../summary/contract.js'
import { isPeriodUnit, isTimeUnit, PERIOD_UNITS, periodOf, type Span, spanOf } from '../../time/period.js'
import type { BoundSource } from '../model/bound.js'

/**
 * Gives each further source the columns of home that its shared keys tell (a shop has one region),
 * as far as they are wanted. What it cannot be told is left out of `known`, and said where it is
 * used.
 */
export async function joinSources(
  sources: readonly BoundSource[],
  wanted: ReadonlySet<string>,
  notes: Problem[],
): Promise<BoundSource[]> {
  const [home] = sources
  return Promise.all(
    sources.map(async (source) => {
      if (source === home) return source
      const known = new Set(source.match)
      const more: DerivedColumn[] = []
      if (home.date !== undefined && source.date !== undefined) {
        // A condition on home's date means this source's own.
        if (home.date !== source.date) more.push({ name: home.date, same: source.date })
        known.add(home.date)
      }
      for (const name of wanted) {
        if (known.has(name) || isTimeUnit(name)) continue
        const { lookUp } = await import('../../summary/cells/lookup.js')
        const found = await lookUp(home, source, source.match, name)
        if (found === undefined) continue
        more.push(found.known)
        known.add(name)
        if (found.unmatched.length > 0) {
          const params = { source: source.name, key: found.by, words: found.unmatched, home: home.name, wanted: name }
          notes.push(problem('note-unmatched', params))
        }
      }
      return { ...source, known, engine: more.length === 0 ? source.engine : source.engine.withColumns(more) }
    }),
  )
}

/** Why a source cannot be split by a key; undefined where it can. */
export function whyNotSplit(source: BoundSource, key: string, home: BoundSource): string | undefined {
  if (isTimeUnit(key) && home.date !== undefined) {
    if (source.date === undefined) return `${source.name} has no dates`
    const unit = isPeriodUnit(key) ? key : key === 'weekday' ? 'day' : 'month'
    // Weeks do not nest in months: only days make them.
    const finer =
      PERIOD_UNITS.indexOf(unit) > PERIOD_UNITS.indexOf(source.grain) || (source.grain === 'week' && unit !== 'week')
    return finer ? `${source.name} is by ${source.grain}` : undefined
  }
  if (source.known === undefined || source.known.has(key)) return undefined
  return `its rows are not told apart by ${key}`
}

/** Whether every name of a condition can be answered by the source. */
export function canNarrow({ known }: BoundSource, condition: Bound): boolean {
  return known === undefined || referencesOf(condition).every((ref) => known.has(ref.name))
}

/** The span in whole periods of a coarse source: a begun month counts whole. */
export function spanFor({ grain }: BoundSource, span: Span): { span: Span; begun: boolean } {
  if (grain === 'day' || !Number.isFinite(span.from)) return { span, begun: false }
  const from = spanOf(grain, periodOf(grain, span.from)).from
  const last = spanOf(grain, periodOf(grain, span.to))
  return { span: { from, to: span.to }, begun: from !== span.from || last.to !== span.to }
}
