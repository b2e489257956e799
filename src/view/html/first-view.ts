import type { Trend } from '../../page/page.js'
import { escapeText } from '../markup.js'
import type { PartedRows } from './cells/cell.js'

/** What a page needs as markup because no script has run yet, or none will. */

/** Longer tables are written in part: these rows are shown before the script runs. */
const MIN_LONG_ROWS = 300
const FIRST_ROWS = 20
/** Rows of a long table that can be read without scripts. */
const READABLE_ROWS = 500

/**
 * The rows of a table that a page with a script has as markup; undefined where it has all. The note
 * is outside of `noscript`: a host's policy may block the script of a browser that runs scripts.
 */
export function partedRows(rows: number, totals: number): PartedRows | undefined {
  if (rows <= MIN_LONG_ROWS) return undefined
  const end = rows - totals
  const readable = Math.min(end, READABLE_ROWS)
  const note =
    readable === end
      ? ''
      : `<p class="note">The first ${READABLE_ROWS} of ${end} rows are shown without scripts. acuarela paint --to csv writes all rows, and --static all of them as a page.</p>`
  return { shown: FIRST_ROWS, end, readable, note }
}

/** More values than these are not listed. */
const MAX_LISTED = 40

/** Every value of a trend, for a page without scripts. */
export function trendValues({ points }: Trend): string {
  if (points.length > MAX_LISTED) return ''
  const items = points.map(
    ({ label, text }) => `<span>${escapeText(label)} <b>${escapeText(text === '' ? 'missing' : text)}</b></span>`,
  )
  return `<span class="all" aria-hidden="true">${items.join('')}</span>`
}
