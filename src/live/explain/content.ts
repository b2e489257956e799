import { conditions } from '../../expression/evaluate.js'
import type { Keys } from '../../page/page.js'
import { headingsFor, type Place, placeOf, placesFor, placeTitle } from '../../report/inspect/cells.js'
import { trendBehind } from '../../report/inspect/history.js'
import { whyPlace } from '../../report/inspect/why-place.js'
import { CellMaker } from '../../report/layout/cells.js'
import type { AnsweredExhibit, DecidedReport } from '../../report/model/answered.js'
import { trendChart } from '../../view/chart/trend.js'
import { escapeText } from '../../view/markup.js'
import { keysOfCell, type ShownCell } from '../dom/elements.js'

/** Where a shown cell was decided; undefined where that cannot be told. */
function placeIn({ exhibits }: DecidedReport, { exhibit, cell }: ShownCell): [AnsweredExhibit, Place] | undefined {
  const answered = exhibits.find((own) => own.exhibit.name === exhibit)
  const keys = keysOfCell(cell)
  const heading = answered && !answered.exhibit.show.includes(cell.measure)
  const one = answered && (heading ? headingsFor(answered, cell.measure, keys)[0] : placesFor(answered, keys).one)
  return answered === undefined || one === undefined ? undefined : [answered, one]
}

/**
 * Tells whether a rule is applied to a cell: its level, its measure, and the condition that the
 * rule has.
 */
export function coveredCells({ exhibits }: DecidedReport, rule: string): (own: ShownCell) => boolean {
  const found = new Set<string>()
  for (const answered of exhibits) {
    const make = new CellMaker(answered)
    for (const painted of answered.levels.decided())
      for (const { rule: own, measure, judged, judgedAt } of painted.result.results) {
        if (own.name !== rule) continue
        const { length } = painted.cells.table
        const where = own.where && conditions(judged.run(own.where.bound), judged.length)
        for (let cell = 0; cell < length; cell++)
          if (where === undefined || where[judgedAt(cell)] === 1)
            found.add(idOf(answered.exhibit.name, measure, placeOf(answered, make, painted, cell).keys))
      }
  }
  return ({ exhibit, cell }) => found.has(idOf(exhibit, cell.measure, [...cell.row, ...cell.column]))
}

function idOf(exhibit: string, measure: string, keys: Keys): string {
  return JSON.stringify([exhibit, measure, keys.map(({ name, value }) => [name, value])])
}

/** Value, status and reasons of a cell. */
export function explanation(decided: DecidedReport, own: ShownCell): string {
  const { cell } = own
  const place = placeIn(decided, own)
  const why = place && whyPlace(place[0], cell.measure, place[1]).why
  const applied = (why?.rules ?? []).filter(({ skipped }) => skipped === null).map(({ sentence }) => sentence)
  const list = [...applied, ...(why?.remarks ?? [])].map((text) => `<li>${escapeText(text)}</li>`).join('')
  const status = cell.statusText === '' ? '' : ` · ${escapeText(cell.statusText)}`
  const value = cell.text === '' ? 'missing' : escapeText(cell.text)
  return `<p class="cap">${escapeText(place === undefined ? cell.name : placeTitle(place[0], place[1], cell.measure))}</p><p>${escapeText(cell.measureLabel)} ${value}${status}</p>${
    list === '' ? '<p>No rule reaches it.</p>' : `<ul>${list}</ul>`
  }`
}

/** What lies behind a cell, month by month, as a small chart; empty where nothing does. */
export async function lineBehind(decided: DecidedReport, own: ShownCell): Promise<string> {
  const place = placeIn(decided, own)
  const line = place === undefined ? null : await trendBehind(decided, place[0], own.cell.measure, place[1])
  return line === null ? '' : `${trendChart(line)}<p class="v">${escapeText(line.hint)}</p>`
}
