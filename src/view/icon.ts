import { ICONS } from '../look/icons.js'

/** The drawings that a page uses, as symbols to be referred to. */
export function iconSymbols(names: Iterable<string>): string {
  let out = ''
  for (const name of names) {
    const icon = ICONS[name]
    const paths = `${icon.line === undefined ? '' : `<path class="line" d="${icon.line}"/>`}${icon.fill === undefined ? '' : `<path class="full" d="${icon.fill}"/>`}`
    out += `<symbol id="i-${name}" viewBox="0 0 16 16">${paths}</symbol>`
  }
  return out
}

/** A drawing in its place; words for it stand beside it. */
export function iconUse(name: string): string {
  return `<svg class="i" aria-hidden="true"><use href="#i-${name}"/></svg>`
}
