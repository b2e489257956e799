import type { DecidedReport } from '../assemble/answer.js'
import { whyCell } from '../assemble/inspect.js'
import { trendBehind } from '../assemble/trend-behind.js'
import { escapeText } from '../view/markup.js'
import { trendChart } from '../view/trend.js'
import { keysOfCell, type ShownCell } from './cells.js'

/** Value, status and reasons of a cell. */
export function reasons(decided: DecidedReport, { exhibit, cell }: ShownCell): string {
  const answer = whyCell(decided, exhibit, cell.measure, keysOfCell(cell))
  const sentences =
    'why' in answer ? answer.why.sentences.slice(1).filter((text) => !text.includes(': not applied')) : []
  const status = cell.statusText === '' ? '' : ` · ${escapeText(cell.statusText)}`
  const value = cell.text === '' ? 'missing' : escapeText(cell.text)
  const list = sentences.map((text) => `<li>${escapeText(text)}</li>`).join('')
  return `<p class="cap">${escapeText(cell.row[0]?.name === 'record' ? `Row ${cell.name}` : cell.name)}</p><p>${escapeText(cell.measureLabel)} ${value}${status}</p>${
    list === '' ? '<p>No rule reaches it.</p>' : `<ul>${list}</ul>`
  }`
}

/** What lies behind a cell, month by month, as a small chart; empty where nothing does. */
export async function lineBehind(decided: DecidedReport, { exhibit, cell }: ShownCell): Promise<string> {
  const line = await trendBehind(decided, exhibit, cell.measure, keysOfCell(cell))
  return line === null ? '' : `${trendChart(line)}<p class="v">${escapeText(line.hint)}</p>`
}
