import { type Bound, referencesOf } from '../../expression/bound.js'
import { isPeriodUnit, isTimeUnit, PERIOD_UNITS, periodOf, type Span, spanOf } from '../../time/period.js'
import type { BoundSource } from '../model/bound.js'

/** Why a source cannot be split by a key; undefined if it can. */
export function whyNotSplit(source: BoundSource, key: string, home: BoundSource): string | undefined {
  if (isTimeUnit(key) && home.date !== undefined) {
    const by = source.per ?? source.grain
    if (source.date === undefined && source.per === undefined) return `${source.name} has no dates`
    const unit = isPeriodUnit(key) ? key : key === 'weekday' ? 'day' : 'month'
    // Weeks do not nest in months, so they need days.
    const finer =
      PERIOD_UNITS.indexOf(unit) > PERIOD_UNITS.indexOf(by) ||
      (source.per === undefined && by === 'week' && unit !== 'week')
    return finer ? `${source.name} is by ${by}` : undefined
  }
  if (source.known === undefined || source.known.has(key)) return undefined
  return `its rows are not distinguished by ${key}`
}

/** Whether a source has every name of a condition. */
export function canNarrow({ known: fields }: BoundSource, condition: Bound): boolean {
  return fields === undefined || referencesOf(condition).every((ref) => fields.has(ref.name))
}

/** The span in whole periods of a coarse source: an unfinished month counts in full. */
export function spanFor({ grain }: BoundSource, span: Span): { span: Span; begun: boolean } {
  if (grain === 'day' || !Number.isFinite(span.from)) return { span, begun: false }
  const from = spanOf(grain, periodOf(grain, span.from)).from
  const last = spanOf(grain, periodOf(grain, span.to))
  return { span: { from, to: span.to }, begun: from !== span.from || last.to !== span.to }
}
