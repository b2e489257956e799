import type { ReadingExhibit } from '../../page/page.js'
import { escapeText } from '../markup.js'
import { iconUse } from '../model/icon.js'
import type { Writing } from './cell.js'

/** Sentences, each status with its drawing. */
export function wordsMarkup({ sentences }: ReadingExhibit, { classes, icons }: Writing): string {
  const items = sentences.map(({ text, style: look, statusText }) => {
    if (look === null) return `<li>${escapeText(text)}</li>`
    const icon = look.icon === null ? '' : iconUse(look.icon, icons)
    // The tag stands for the words and their colon.
    const rest = text.startsWith(`${statusText}: `) ? text.slice(statusText.length + 1) : text
    const style = classes.of(look)
    return `<li><span class="tag${style === '' ? '' : ` ${style}`}">${icon}${escapeText(statusText)}</span>${escapeText(rest)}</li>`
  })
  return `<ul class="words">${items.join('')}</ul>`
}
