import { type Bound, referencesOf, walk } from '../../expression/bound.js'
import type { BoundExhibit } from '../model/bound.js'

/**
 * Home columns that further sources need: keys of exhibits, names in conditions on rows, and keys
 * that measures compare.
 */
export function joinedColumns(
  exhibits: readonly BoundExhibit[],
  where: readonly { bound: Bound }[],
  measures: Iterable<{ bound: Bound }>,
): Set<string> {
  const wanted = new Set<string>()
  for (const exhibit of exhibits) {
    const trends = [
      ...exhibit.slots.flatMap((slot) => ('trend' in slot ? [slot.trend] : [])),
      ...(exhibit.cards ?? []).flatMap(({ trend }) => trend ?? []),
    ]
    const rows = exhibit.records === undefined ? exhibit.rows : []
    for (const key of [...rows, ...exhibit.columns, ...trends.map(({ along }) => along)]) wanted.add(key)
    for (const condition of exhibit.where)
      for (const ref of referencesOf(condition)) if (ref.kind !== 'parameter') wanted.add(ref.name)
  }
  for (const { bound } of where) for (const ref of referencesOf(bound)) wanted.add(ref.name)
  for (const { bound } of measures)
    walk(bound, (part) => {
      if (part.op === 'sameKeys') wanted.add(part.by)
    })
  return wanted
}
