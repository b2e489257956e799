import type { Card, CardsExhibit } from '../../../page/page.js'
import { escapeText } from '../../markup.js'
import { rowAddress } from '../../model/address.js'
import { cardFlag, cardValue } from '../../model/card-parts.js'
import { iconUse } from '../../model/icon.js'
import { iconsMarkup, trendMarkup, type Writing } from '../cells/cell.js'

/** Cards in a row, with their parts aligned. */
export function cardsMarkup({ cards }: CardsExhibit, writing: Writing): string {
  return `<div class="cards">${cards.map((card, i) => cardMarkup(card, i, writing)).join('')}</div>`
}

function cardMarkup(card: Card, i: number, writing: Writing): string {
  const { label, cell, change, note, trend } = card
  const { style: look, statusText } = cell
  const style = writing.classes.of(look)
  const [icon, second] = iconsMarkup(cell, writing)
  const status = statusText === '' ? '' : `<p class="st">${icon}${escapeText(statusText)}</p>`
  const text = escapeText(cardValue(card))
  const value = `<p class="big">${statusText === '' ? icon : ''}${look.hide === 'value' ? `<span class="v">${text}</span>` : text}${second}</p>`
  const flag = cell.flag === null ? '' : `<p class="st">${escapeText(cardFlag(cell))}</p>`
  const against = change === null ? '' : `<p class="ch">${iconUse(change.icon)}${escapeText(change.text)}</p>`
  const words = note === null ? '' : `<p class="ch">${escapeText(note)}</p>`
  const box = look.fill === null ? style : `dab ${style}`
  return `<article class="card${box === '' ? '' : ` ${box}`}"${rowAddress(i, writing)}><p class="cap">${escapeText(label)}</p>${value}${status}${flag}${against}${words}${trend === null ? '' : trendMarkup(trend, writing)}</article>`
}
