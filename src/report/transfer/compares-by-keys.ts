import { referencesOf } from '../../expression/bound.js'
import { filtersByParameter } from '../answer/facts.js'
import type { AnsweredExhibit, DecidedReport } from '../model/answered.js'

/** Whether changes are found by keys: where numbers change, or cells are shown by a list alone. */
export function comparesByKeys({
  bound,
  report,
  exhibits,
}: Pick<DecidedReport, 'bound' | 'report' | 'exhibits'>): boolean {
  const measures = [...report.measures.values()].flatMap(({ bound }) => [...referencesOf(bound)])
  return (
    measures.some(({ kind }) => kind === 'parameter') ||
    readsAlone(exhibits) ||
    exhibits.some(({ exhibit }) => exhibit.showing !== undefined) ||
    bound.exhibits.some(filtersByParameter)
  )
}

/**
 * Whether a list or reading contains cells that no other exhibit shows: then changes are found by
 * keys.
 */
function readsAlone(exhibits: readonly AnsweredExhibit[]): boolean {
  const counted = exhibits.filter(({ exhibit: { kind } }) => kind !== 'list' && kind !== 'moves' && kind !== 'reading')
  const shown = (counted.length > 0 ? counted : exhibits).map(({ exhibit }) => exhibit)
  return exhibits.some(
    ({ exhibit: bound }) =>
      !shown.some(({ show, rows, columns }) => {
        const names = [...show, ...rows, ...columns]
        return [...bound.show, ...bound.rows].every((name) => names.includes(name))
      }),
  )
}
