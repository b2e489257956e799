import { iconNamed } from '../../style/icons.js'
import type { Bar } from '../../style/painting.js'
import { escapeText } from '../markup.js'

/** The icons of a page, as symbols to be referred to. */
export function iconSymbols(names: Iterable<string>): string {
  let out = ''
  for (const name of names) {
    const icon = iconNamed(name)
    if (icon === undefined) continue
    const paths = `${icon.line === undefined ? '' : `<path class="line" d="${icon.line}"/>`}${icon.fill === undefined ? '' : `<path class="full" d="${icon.fill}"/>`}`
    out += `<symbol id="i-${name}" viewBox="0 0 16 16">${paths}</symbol>`
  }
  return out
}

/** A point on a line, at the value. */
export function dotUse(extent: Pick<Bar, 'from' | 'to' | 'beyond'>, negative: boolean): string {
  const at = negative ? extent.from : extent.to
  return `<i class="dot${beyondClass(extent)}" style="--t:${Math.round(at * 1000) / 10}%"></i>`
}

/** A bar beyond its scale has an arrow at that end. */
function beyondClass({ beyond }: Pick<Bar, 'beyond'>): string {
  return beyond === undefined ? '' : ` ${beyond}`
}

/** A bar in a track beside the number, readable at any length. */
export function barUse(bar: (Pick<Bar, 'from' | 'to' | 'beyond'> & Partial<Pick<Bar, 'finish'>>) | null): string {
  if (bar === null) return ''
  const place = (at: number): string => `${Math.round(at * 1000) / 10}%`
  return `<i class="bar${bar.finish === 'fading' ? ' fade' : ''}${beyondClass(bar)}" style="--f:${place(bar.from)};--t:${place(bar.to)}"></i>`
}

/**
 * An icon, nothing for null. Without words beside it, `alone`, it has its name for assistive
 * technology. An icon of the report is an image, never markup.
 */
export function iconUse(
  name: string | null,
  icons: Readonly<Record<string, string>> = {},
  alone = false,
  classes = 'i',
): string {
  if (name === null) return ''
  const words = alone ? escapeText(name.replaceAll('-', ' ')) : ''
  return Object.hasOwn(icons, name)
    ? `<img class=${classes} alt="${words}" src="${escapeText(icons[name])}">`
    : `<svg class=${classes} ${alone ? `role=img aria-label="${words}"` : 'aria-hidden=true'}><use href=#i-${name} /></svg>`
}
