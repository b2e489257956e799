import type { Card, CardsExhibit, PageRecord, RecordsExhibit, WordsExhibit } from '../../page/page.js'
import { iconUse } from '../icon.js'
import { escapeText } from '../markup.js'
import { tableCell, trendMarkup, type Writing, wideClass } from './cell.js'
import { fitOf, recordsRoom } from './fit.js'

/** Cards in a row, their parts in line with each other. */
export function cardsMarkup({ cards }: CardsExhibit, writing: Writing): string {
  return `<div class="cards">${cards.map((card) => cardMarkup(card, writing)).join('')}</div>`
}

function cardMarkup({ label, cell, change, note, trend }: Card, writing: Writing): string {
  const { look, statusText } = cell
  const style = writing.classes.of(look)
  const icon = look.icon === null || look.hide === 'icon' ? '' : iconUse(look.icon, writing.icons)
  const status = statusText === '' ? '' : `<p class="st">${icon}${escapeText(statusText)}</p>`
  const text = escapeText(cell.text === '' ? 'no value' : cell.text)
  const value = `<p class="big">${statusText === '' ? icon : ''}${look.hide === 'value' ? `<span class="v">${text}</span>` : text}</p>`
  const flag = cell.flag === null ? '' : `<p class="st">${escapeText(cell.flag)}</p>`
  const against = change === null ? '' : `<p class="ch">${iconUse(change.icon)}${escapeText(change.text)}</p>`
  const words = note === null ? '' : `<p class="ch">${escapeText(note)}</p>`
  const box = look.fill === null ? style : `dab ${style}`
  return `<article class="card${box === '' ? '' : ` ${box}`}"><p class="cap">${escapeText(label)}</p>${value}${status}${flag}${against}${words}${trend === null ? '' : trendMarkup(trend)}</article>`
}

/** Rows of the source: as a table, or each by itself beside the averages of all. */
export function recordsMarkup(exhibit: RecordsExhibit, writing: Writing): string {
  if (exhibit.one)
    return `<div class="ones">${exhibit.records.map((record, i) => oneMarkup(exhibit, record, i, writing)).join('')}</div>`
  const head = exhibit.columns.map(
    ({ label, numeric }) => `<th scope="col" class="${numeric ? 'n' : 'x'}">${escapeText(label)}</th>`,
  )
  const rows = exhibit.records.map(({ record, cells }) => {
    const own = cells.map((cell, c) =>
      tableCell(cell, writing, { draw: 'number', icon: 'before' }, undefined, exhibit.columns[c].numeric ? '' : 'x'),
    )
    return `<tr><th scope="row"><span>${record}</span></th>${own.join('')}</tr>`
  })
  return `<div class="${wideClass(rows.length)}" role="region" aria-label="${escapeText(`${exhibit.title}, table`)}" tabindex="0"><table class="grid close"${fitOf(recordsRoom(exhibit))}><caption class="v">${escapeText(exhibit.title)}</caption><thead><tr><th scope="col">Row</th>${head.join('')}</tr></thead><tbody>${rows.join('\n')}</tbody></table></div>`
}

/** One record: its values beside the average and the total of all, its place, and ways to its neighbours and to the next painted one. */
function oneMarkup(exhibit: RecordsExhibit, { record, cells }: PageRecord, i: number, writing: Writing): string {
  const id = (at: number): string => `r-${encodeURIComponent(exhibit.name.toWellFormed())}-${at + 1}`
  const { records } = exhibit
  const match = records.findIndex((own, at) => at > i && own.painted)
  const link = (at: number, text: string): string =>
    at < 0 || at >= records.length ? '' : `<a href="#${escapeText(id(at))}">${text}</a>`
  const rows = exhibit.columns.map(
    ({ label, numeric }, c) =>
      `<tr><th scope="row"><span>${escapeText(label)}</span></th>${tableCell(cells[c], writing, { draw: 'number', icon: 'before' }, undefined, numeric ? '' : 'x')}<td><span><b>${escapeText(exhibit.averages[c])}</b></span></td><td><span><b>${escapeText(exhibit.totals[c])}</b></span></td></tr>`,
  )
  return `<article class="one" id="${escapeText(id(i))}"><p class="cap">Row ${record}</p><p class="pos">${i + 1} of ${records.length} ${link(i - 1, 'previous')} ${link(i + 1, 'next')} ${match < 0 ? '' : link(match, 'next painted')}</p><table class="grid close"><caption class="v">Row ${record}</caption><thead><tr><td></td><th scope="col" class="n">This row</th><th scope="col" class="n">Average</th><th scope="col" class="n">Total</th></tr></thead><tbody>${rows.join('')}</tbody></table></article>`
}

/** Sentences, each status with its drawing. */
export function wordsMarkup({ sentences }: WordsExhibit, { classes, icons }: Writing): string {
  const items = sentences.map(({ text, look, statusText }) => {
    if (look === null) return `<li>${escapeText(text)}</li>`
    const icon = look.icon === null ? '' : iconUse(look.icon, icons)
    // The tag stands for the words and their colon.
    const rest = text.startsWith(`${statusText}: `) ? text.slice(statusText.length + 1) : text
    const style = classes.of(look)
    return `<li><span class="tag${style === '' ? '' : ` ${style}`}">${icon}${escapeText(statusText)}</span>${escapeText(rest)}</li>`
  })
  return `<ul class="words">${items.join('')}</ul>`
}
