import type { DecidedReport } from '../assemble/answer.js'
import type { Answered } from '../assemble/answer-exhibit.js'
import { type Place, placesFor } from '../assemble/places.js'
import { trendBehind } from '../assemble/trend-behind.js'
import { whyPlace } from '../assemble/why-place.js'
import { escapeText } from '../view/markup.js'
import { trendChart } from '../view/trend.js'
import { keysOfCell, type ShownCell } from './cells.js'

/** Where a shown cell was decided; undefined where that cannot be told. */
function placeIn({ exhibits }: DecidedReport, { exhibit, cell }: ShownCell): [Answered, Place] | undefined {
  const answered = exhibits.find((own) => own.exhibit.name === exhibit)
  const one = answered && placesFor(answered, keysOfCell(cell)).one
  return answered === undefined || one === undefined ? undefined : [answered, one]
}

/** Value, status and reasons of a cell. */
export function reasons(decided: DecidedReport, own: ShownCell): string {
  const { cell } = own
  const place = placeIn(decided, own)
  const told = place === undefined ? [] : whyPlace(place[0], cell.measure, place[1]).why.sentences.slice(1)
  const list = told.flatMap((text) => (text.includes(': not applied') ? [] : [`<li>${escapeText(text)}</li>`])).join('')
  const status = cell.statusText === '' ? '' : ` · ${escapeText(cell.statusText)}`
  const value = cell.text === '' ? 'missing' : escapeText(cell.text)
  return `<p class="cap">${escapeText(cell.row[0]?.name === 'record' ? `Row ${cell.name}` : cell.name)}</p><p>${escapeText(cell.measureLabel)} ${value}${status}</p>${
    list === '' ? '<p>No rule reaches it.</p>' : `<ul>${list}</ul>`
  }`
}

/** What lies behind a cell, month by month, as a small chart; empty where nothing does. */
export async function lineBehind(decided: DecidedReport, own: ShownCell): Promise<string> {
  const place = placeIn(decided, own)
  const line = place === undefined ? null : await trendBehind(decided, place[0], own.cell.measure, place[1])
  return line === null ? '' : `${trendChart(line)}<p class="v">${escapeText(line.hint)}</p>`
}
