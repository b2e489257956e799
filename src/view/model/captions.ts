import type { ChartPlace, Exhibit, Page } from '../../page/page.js'
import type { LegendEntry } from '../../style/legend.js'

/** The line under a page's title: its date, sources and condition. */
export function aboutPage({ asOfText, sources, where }: Pick<Page, 'asOfText' | 'sources' | 'where'>): string[] {
  return [asOfText === null ? '' : `as of ${asOfText}`, ...sources, where === null ? '' : `where ${where}`].filter(
    (text) => text !== '',
  )
}

/**
 * The line under an exhibit's title: its note, or the measure of a chart, its period, and what
 * changed since an earlier date.
 */
export function aboutExhibit(exhibit: Exhibit): string {
  const note = exhibit.note ?? (exhibit.kind === 'chart' ? exhibit.measureLabel : '')
  return [note, exhibit.periodText, exhibit.since?.text ?? ''].filter((text) => text !== '').join(' · ')
}

/** A place of a chart in a table: `Apr 2025, to 17`, `Coast, Larkmoor`. */
export function placeText({ label, outer, nested, until }: ChartPlace): string {
  const name = nested ? `${outer}, ${label}` : `${label} ${outer}`.trim()
  return name + (until === '' ? '' : `, to ${until}`)
}

/** The text after an entry of a legend: its limit and its number of cells. */
export function aboutEntry({ limit, countText }: LegendEntry): string {
  return [limit, countText === '' ? '' : `· ${countText}`].filter((text) => text !== '').join(' ')
}
