import type { CellStyle } from '../../style/cell-style.js'
import type { Legend } from '../../style/legend.js'
import { escapeText } from '../markup.js'
import { aboutEntry } from '../model/captions.js'
import { barUse, iconUse } from '../model/icon.js'
import type { StyleClasses } from './style-classes.js'

/** What `direction` becomes, by the sign of a value. */
const DIRECTIONS = ['up', 'sideways', 'down']

/** The key under an exhibit: one list a scheme, every limit as a number. */
export function legendMarkup(
  legend: Legend,
  classes: StyleClasses,
  alone: boolean,
  own: Readonly<Record<string, string>>,
): string {
  // Where an exhibit has one scheme its title need not be said again; with several each is named.
  const of = [alone ? '' : `${legend.measureLabel}: ${legend.title}`, legend.population]
    .filter((text) => text !== '')
    .join(', ')
  const heading = of === '' ? '' : `<li class="of">${escapeText(of)}</li>`
  const entries = legend.entries.map((entry) => {
    const icon =
      entry.style.icon === null
        ? ''
        : entry.style.icon === 'bySign'
          ? DIRECTIONS.map((name) => iconUse(name)).join('')
          : iconUse(entry.style.icon, own)
    const name = entry.label === '' ? '' : `<strong>${escapeText(entry.label)}</strong>`
    const about = aboutEntry(entry)
    return `<li><span class="sw ${classes.of(entry.style)}">${icon}${entry.style.bar === null ? '' : barUse({ ...entry.style.bar, from: 0, to: 1 })}${legendSample(entry.style)}</span><span>${name}${about === '' ? '' : ` ${escapeText(about)}`}</span></li>`
  })
  return `<ul class="key" aria-label="${escapeText(`Key: ${legend.title}`)}">${heading}${entries.join('')}${rampMarkup(legend, classes)}</ul>`
}

/** An ink or a weight with nothing else is shown on letters. */
function legendSample({ fill, ink, weight, icon, bar }: CellStyle): string {
  const bare = fill === null && icon === null && bar === null
  return bare && (ink !== null || weight !== null) ? '<span aria-hidden="true">Aa</span>' : ''
}

function rampMarkup({ ramp }: Legend, classes: StyleClasses): string {
  if (ramp === undefined || ramp.marks.length === 0) return ''
  const mark = (at: number): string => {
    const found = ramp.marks.find((m) => m.at === at)
    if (found === undefined) return '<span></span>'
    return `<span>${escapeText(`${found.text} ${found.what}`.trim())}</span>`
  }
  return `<li class="ramp"><i class="${classes.ramp(ramp.colors)}"></i>${mark(0)}${mark(0.5)}${mark(1)}</li>`
}
