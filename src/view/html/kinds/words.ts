import type { ReadingExhibit } from '../../../page/page.js'
import { escapeText } from '../../markup.js'
import { iconUse } from '../../model/icon.js'
import { sentenceParts } from '../../model/parts.js'
import type { Writing } from '../cells/cell.js'

/** Sentences, each with the icon of its status. */
export function wordsMarkup({ sentences }: ReadingExhibit, { classes, icons }: Writing): string {
  const items = sentences.map((sentence) => {
    const { tag, rest } = sentenceParts(sentence)
    if (tag === null) return `<li>${escapeText(rest)}</li>`
    const icon = tag.style.icon === null ? '' : iconUse(tag.style.icon, icons)
    const style = classes.of(tag.style)
    return `<li><span class="tag${style === '' ? '' : ` ${style}`}">${icon}${escapeText(tag.text)}</span>${escapeText(rest)}</li>`
  })
  return `<ul class="words">${items.join('')}</ul>`
}
