import type { ReadingExhibit } from '../../../page/page.js'
import { iconOf } from '../../../style/cell-style.js'
import { escapeText } from '../../markup.js'
import { iconUse } from '../../model/icon.js'
import { sentenceParts } from '../../model/sentence-parts.js'
import type { Writing } from '../cells/cell.js'

/** Sentences, each with the icon of its status. */
export function wordsMarkup({ sentences }: ReadingExhibit, { classes, icons }: Writing): string {
  const items = sentences.map((sentence) => {
    const { tag, rest } = sentenceParts(sentence)
    if (tag === null) return `<li>${escapeText(rest)}</li>`
    const icon = iconUse(iconOf(tag.style), icons)
    const style = classes.of(tag.style)
    return `<li><span class="tag${style === '' ? '' : ` ${style}`}">${icon}${escapeText(tag.text)}</span>${escapeText(rest)}</li>`
  })
  return `<ul class="words">${items.join('')}</ul>`
}
