import type { PageRecord, RecordCell, RecordsExhibit } from '../../../page/page.js'
import { escapeText } from '../../markup.js'
import { columnAddress, rowAddress } from '../../model/address.js'
import { emptyText } from '../../model/parts.js'
import { isWholeRow, tableCell, type Writing, wideClass } from '../cells/cell.js'
import { CELL_PADDING, CHARACTER_WIDTH, DRAWING_WIDTH, fitOf, ICON_WIDTH, type Room } from '../cells/fit.js'

/** Rows of the source: as a table, or each by itself beside the averages. */
export function recordsMarkup(exhibit: RecordsExhibit, writing: Writing): string {
  const empty = emptyText(exhibit)
  if (empty !== null) return `<p class="none">${empty}</p>`
  if (exhibit.oneAtATime)
    return `<div class="ones">${exhibit.records.map((record, i) => oneMarkup(exhibit, record, i, writing)).join('')}</div>`
  const head = exhibit.columns.map(
    ({ label, numeric }) => `<th scope="col" class="${numeric ? 'n' : 'x'}">${escapeText(label)}</th>`,
  )
  const rows = exhibit.records.map(({ record, cells, group }, i) => {
    const cellsMarkup = cells.map((cell, c) =>
      tableCell(cell, writing, { draw: 'number', icon: 'before' }, undefined, exhibit.columns[c].numeric ? '' : 'x'),
    )
    const whole = isWholeRow(cells) ? ' class="w"' : ''
    const heading =
      group === undefined
        ? ''
        : `<tr class="g"><th scope="rowgroup" colspan="${cells.length + 1}"><span>${escapeText(group)}</span></th></tr>`
    return `${heading}<tr${whole}${rowAddress(i, writing)}><th scope="row"><span>${record}</span></th>${cellsMarkup.join('')}</tr>`
  })
  return `<div class="${wideClass(rows.length)}" role="region" aria-label="${escapeText(`${exhibit.title}, table`)}" tabindex="0"><table class="grid close"${fitOf(recordsRoom(exhibit))}><caption class="v">${escapeText(exhibit.title)}</caption><thead><tr><th scope="col">Row</th>${head.join('')}</tr></thead><tbody>${rows.join('\n')}</tbody></table></div>`
}

/**
 * One record: its values beside averages and totals, its number, and links to its neighbours and to
 * the next painted one.
 */
function oneMarkup(exhibit: RecordsExhibit, { record, cells }: PageRecord, i: number, writing: Writing): string {
  const id = (at: number): string => `r-${encodeURIComponent(exhibit.name.toWellFormed())}-${at + 1}`
  const { records } = exhibit
  const match = records.findIndex((record, at) => at > i && record.painted)
  const link = (at: number, text: string): string =>
    at < 0 || at >= records.length ? '' : `<a href="#${escapeText(id(at))}">${text}</a>`
  const rows = exhibit.columns.map(
    ({ label, numeric }, c) =>
      `<tr${columnAddress(c, writing)}><th scope="row"><span>${escapeText(label)}</span></th>${tableCell(cells[c], writing, { draw: 'number', icon: 'before' }, undefined, numeric ? '' : 'x')}<td><span><b>${escapeText(exhibit.averages[c])}</b></span></td><td><span><b>${escapeText(exhibit.totals[c])}</b></span></td></tr>`,
  )
  return `<article class="one" id="${escapeText(id(i))}"${rowAddress(i, writing)}><p class="cap">Row ${record}</p><p class="pos">${i + 1} of ${records.length} ${link(i - 1, 'previous')} ${link(i + 1, 'next')} ${match < 0 ? '' : link(match, 'next painted')}</p><table class="grid close"><caption class="v">Row ${record}</caption><thead><tr><td></td><th scope="col" class="n">This row</th><th scope="col" class="n">Average</th><th scope="col" class="n">Total</th></tr></thead><tbody>${rows.join('')}</tbody></table></article>`
}

function recordsRoom({ columns, records }: RecordsExhibit): Room {
  const width = columns.reduce(
    (sum, { label }, c) =>
      Math.max(label.length * CHARACTER_WIDTH + CELL_PADDING, ...records.map((record) => widthOf(record.cells[c]))) +
      sum,
    60,
  )
  const flag = Math.max(0, ...records.flatMap(({ cells }) => cells.map((cell) => cell.flag?.length ?? 0)))
  return { width, flag }
}

function widthOf({ text, flag, style: look }: RecordCell): number {
  const letters = text.length + (flag === null ? 0 : flag.length + 1)
  return (
    letters * CHARACTER_WIDTH +
    CELL_PADDING +
    (look.icon === null ? 0 : ICON_WIDTH) +
    (look.bar === null ? 0 : DRAWING_WIDTH)
  )
}
