import { iconNamed } from '../../style/icons.js'
import type { Bar } from '../../style/painting.js'
import { escapeText } from '../markup.js'

/** The drawings that a page uses, as symbols to be referred to. */
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

/** A dot on a line, where the value lies. */
export function dotUse(extent: Pick<Bar, 'from' | 'to' | 'beyond'>, negative: boolean): string {
  const at = negative ? extent.from : extent.to
  return `<i class="dot${beyondClass(extent)}" style="--t:${Math.round(at * 1000) / 10}%"></i>`
}

/** What runs beyond its scale has an arrow at that end. */
function beyondClass({ beyond }: Pick<Bar, 'beyond'>): string {
  return beyond === undefined ? '' : ` ${beyond}`
}

/** A bar in its own track beside the number, where it can be read at any length. */
export function barUse(bar: (Pick<Bar, 'from' | 'to' | 'beyond'> & Partial<Pick<Bar, 'finish'>>) | null): string {
  if (bar === null) return ''
  const place = (at: number): string => `${Math.round(at * 1000) / 10}%`
  return `<i class="bar${bar.finish === 'fading' ? ' fade' : ''}${beyondClass(bar)}" style="--f:${place(bar.from)};--t:${place(bar.to)}"></i>`
}

/**
 * A drawing in its place; words for it stand beside it. A report's own is an image, never markup.
 */
export function iconUse(name: string, own: Readonly<Record<string, string>> = {}): string {
  if (Object.hasOwn(own, name)) return `<img class="i" alt="" src="${escapeText(own[name])}">`
  return `<svg class=i aria-hidden=true><use href=#i-${name} /></svg>`
}
