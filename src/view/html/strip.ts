import type { Page, Strip } from '../../page/page.js'
import { iconOf } from '../../style/cell-style.js'
import { escapeText } from '../markup.js'
import { iconUse } from '../model/icon.js'
import { stripWords } from '../model/strip.js'
import type { Writing } from './cells/cell.js'

/**
 * The strip: a painted band whose parts are as wide as they have cells. A narrow part keeps a
 * readable width. Each part is a link to its exhibit; a live page lists the cells instead.
 *
 * @param before the strip of the report as it was opened, drawn as a thin band above.
 */
export function stripMarkup(
  { strip, locale }: Pick<Page, 'strip' | 'locale'>,
  { classes, icons }: Writing,
  before?: Strip | null,
): string {
  if (strip === null) return ''
  const { caption, parts } = stripWords(strip, locale)
  const href = `#x-${escapeText(encodeURIComponent(strip.exhibit.toWellFormed()))}`
  const items = parts.map(({ part: { kind, status, label, limit, count: cells, style }, count }) => {
    const icon = iconUse(iconOf(style), icons)
    const limitText = limit === '' ? '' : `<small>${escapeText(limit)}</small>`
    return `<li style="flex-grow:${cells}"><a class="${kind === 'missing' ? 'no' : classes.of(style)}" href="${href}" data-part="${escapeText(status ?? '')}" data-kind="${kind}"><span><b>${icon}${count}</b> ${escapeText(label)}</span>${limitText}</a></li>`
  })
  const thin =
    before === undefined || before === null
      ? ''
      : `<ol class="before" aria-hidden="true">${before.parts
          .filter(({ count }) => count > 0)
          .map(({ count, style }) => `<li style="flex-grow:${count}" class="${classes.of(style)}"></li>`)
          .join('')}</ol>`
  return `<nav class="strip" aria-label="${escapeText(caption)}"><p class="of" aria-hidden="true">${escapeText(caption)}</p>${thin}<ol class="band">${items.join('')}</ol></nav>`
}

/** The filter that draws the edges of the strip: pigment pools there, and runs unevenly. */
export const STRIP_FILTER =
  '<filter id="brush" x="-3%" y="-12%" width="106%" height="124%"><feTurbulence type="fractalNoise" baseFrequency=".012 .03" numOctaves="3" seed="8" result="n"/><feDisplacementMap in="SourceGraphic" in2="n" scale="12"/></filter>'
