import type { Keys } from '../../page/page.js'
import { explainCell, type Why } from '../../rule/explain/why.js'
import { styleOf } from '../../style/painting.js'
import { phraseContextOf } from '../answer/facts.js'
import { CellMaker } from '../layout/cells.js'
import type { AnsweredExhibit } from '../model/answered.js'
import { type Place, placeTitle } from './cells.js'

/** Explains the cell at a place. */
export function whyPlace(
  answered: AnsweredExhibit,
  measure: string,
  place: Place,
): { keys: Record<string, string | null>; name: string; why: Why } {
  const { report } = answered
  const { cells, result } = place.painted
  const context = { cells, rules: report.rules, results: result.results, facts: phraseContextOf(report) }
  const make = new CellMaker(answered)
  const text = cellTextAt(make, place, measure)
  const why = explainCell(context, measure, place.cell, styleOf(result.painting, measure, place.cell), text)
  const method = answered.moving?.methodAt(place.painted.level, place.cell, measure)
  const was = cells.level === 'detail' ? answered.since?.was(place.cell, measure) : undefined
  for (const words of [was?.words, method?.words])
    if (words) for (const list of [why.sentences, why.remarks]) list.push(`It ${words}.`)
  return { keys: keysOf(place.keys), name: placeTitle(answered, place, measure), why }
}

/** The value at a place as it is shown. */
export function cellTextAt(make: CellMaker, { painted, cell }: Place, measure: string): string {
  const column = painted.cells.table.columns.get(measure)
  return column === undefined ? '' : make.labels.text(column, cell)
}

export function keysOf(keys: Keys): Record<string, string | null> {
  return Object.fromEntries(keys.map(({ name, value }) => [name, value]))
}
