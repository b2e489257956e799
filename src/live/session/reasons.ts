import { conditions } from '../../expression/evaluate.js'
import type { Trend } from '../../page/page.js'
import { headingsFor, type Place, placeOf, placesFor, placeTitle } from '../../report/inspect/cells.js'
import { trendBehind } from '../../report/inspect/history.js'
import { whyPlace } from '../../report/inspect/why-place.js'
import { CellMaker } from '../../report/layout/cells.js'
import type { AnsweredExhibit, DecidedReport } from '../../report/model/answered.js'
import { type CellRequest, cellId, type Reasons } from './model.js'

/** Where a shown cell was decided; undefined if that is unknown. */
function placeIn({ exhibits }: DecidedReport, cell: CellRequest): [AnsweredExhibit, Place] | undefined {
  const answered = exhibits.find(({ exhibit }) => exhibit.name === cell.exhibit)
  if (answered === undefined) return undefined
  const isHeading = !answered.exhibit.show.includes(cell.measure)
  const place = isHeading ? headingsFor(answered, cell.measure, cell.keys)[0] : placesFor(answered, cell.keys).one
  return place === undefined ? undefined : [answered, place]
}

/** The reasons of a cell. */
export function reasonsOf(decided: DecidedReport, cell: CellRequest): Reasons {
  const at = placeIn(decided, cell)
  if (at === undefined) return { title: null, sentences: [] }
  const [answered, place] = at
  const { why } = whyPlace(answered, cell.measure, place)
  const applied = why.rules.filter(({ skipped }) => skipped === null).map(({ sentence }) => sentence)
  return { title: placeTitle(answered, place, cell.measure), sentences: [...applied, ...why.remarks] }
}

/** The measure of a cell month by month; null where there is no such line. */
export async function trendOf(decided: DecidedReport, cell: CellRequest): Promise<Trend | null> {
  const at = placeIn(decided, cell)
  return at === undefined ? null : trendBehind(decided, at[0], cell.measure, at[1])
}

/**
 * The cells that a rule is applied to: those of its levels and measures for which its condition
 * holds.
 */
export function coveredCells({ exhibits }: DecidedReport, name: string): string[] {
  const covered = new Set<string>()
  for (const answered of exhibits) {
    const make = new CellMaker(answered)
    for (const painted of answered.levels.decided())
      for (const { rule, measure, judged, judgedAt } of painted.result.results) {
        if (rule.name !== name) continue
        const { length } = painted.cells.table
        const where = rule.where && conditions(judged.run(rule.where.bound), judged.length)
        for (let cell = 0; cell < length; cell++)
          if (where === undefined || where[judgedAt(cell)] === 1)
            covered.add(cellId(answered.exhibit.name, measure, placeOf(answered, make, painted, cell).keys))
      }
  }
  return [...covered]
}
