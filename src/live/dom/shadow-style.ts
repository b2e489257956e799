import { LIVE_STYLE } from '../../view/html/live-sheet.js'
import { STYLE } from '../../view/html/sheet.js'

/** The style of a report in a shadow root: rules for the document become rules for the host. */
export function shadowStyle(css: string): string {
  const text = `${STYLE}${css}`
    .replace(/(^|[\s{}])(?::root|html|body)\{/g, '$1:host{')
    .replace(/(^|[\s{}])main\{/g, '$1.main{')
  return `:host{display:block;background:var(--paper)}\n${text}${LIVE_STYLE}`
}
