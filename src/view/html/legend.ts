import { escapeText } from '../markup.js'
import { barUse, iconUse } from '../model/icon.js'
import type { LegendParts } from '../model/parts.js'
import type { StyleClasses } from './cells/style-classes.js'

/** The legends of an exhibit: one list for each rule, with every limit as a number. */
export function legendMarkup(
  title: string,
  { heading, entries, ramp }: LegendParts,
  classes: StyleClasses,
  ownIcons: Readonly<Record<string, string>>,
): string {
  const head = heading === '' ? '' : `<li class="of">${escapeText(heading)}</li>`
  const items = entries.map(({ style, icons, label, about, letters }) => {
    const icon = icons.map((name) => iconUse(name, ownIcons)).join('')
    const name = label === '' ? '' : `<strong>${escapeText(label)}</strong>`
    const bar = style.bar === null ? '' : barUse({ ...style.bar, from: 0, to: 1 })
    const sample = letters ? '<span aria-hidden="true">Aa</span>' : ''
    return `<li><span class="sw ${classes.of(style)}">${icon}${bar}${sample}</span><span>${name}${about === '' ? '' : ` ${escapeText(about)}`}</span></li>`
  })
  return `<ul class="key" aria-label="${escapeText(`Key: ${title}`)}">${head}${items.join('')}${rampMarkup(ramp, classes)}</ul>`
}

function rampMarkup(ramp: LegendParts['ramp'], classes: StyleClasses): string {
  if (ramp === undefined) return ''
  const mark = (at: number): string => {
    const mark = ramp.marks.find((candidate) => candidate.at === at)
    return mark === undefined ? '<span></span>' : `<span>${escapeText(mark.text)}</span>`
  }
  return `<li class="ramp"><i class="${classes.ramp(ramp.colors)}"></i>${mark(0)}${mark(0.5)}${mark(1)}</li>`
}
