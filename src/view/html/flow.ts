import type { Exhibit } from '../../page/page.js'
import { neededWidth } from '../model/width.js'

/** The width of the page between its margins, in pixels, and the distance of exhibits beside. */
const PAGE_WIDTH = 1152
const GAP = 52
/** The width that a legend at the side of a table needs. */
const LEGEND_WIDTH = 300

/** Exhibits in one line, in their order. */
export interface ExhibitLine {
  exhibits: readonly Exhibit[]
  /** Whether the author placed them beside each other. */
  written: boolean
  /** Whether there is room for the legend at the right of its single exhibit. */
  aside: boolean
}

/**
 * The lines of a page: an exhibit that the author places beside the one before shares its line, and
 * narrow ones do so by themselves where they fit. A new section begins a new line.
 */
export function exhibitLines(exhibits: readonly Exhibit[]): ExhibitLine[] {
  const lines: { exhibits: Exhibit[]; written: boolean; width: number }[] = []
  for (const [i, exhibit] of exhibits.entries()) {
    const last = lines.at(-1)
    const width = neededWidth(exhibit)
    if (exhibit.beside && last !== undefined) {
      last.exhibits.push(exhibit)
      last.written = true
      continue
    }
    const next = exhibits[i + 1]
    const free = width !== undefined && !exhibit.alone && next?.beside !== true
    const fits =
      free &&
      last !== undefined &&
      !last.written &&
      exhibit.section === null &&
      last.width + GAP + width <= PAGE_WIDTH &&
      // What is shown without colours beside it has a line for the two.
      !last.exhibits.some(({ name }) => name === `${exhibit.name}-plain`)
    if (fits) {
      last.exhibits.push(exhibit)
      last.width += GAP + width
    } else lines.push({ exhibits: [exhibit], written: false, width: free ? width : Number.POSITIVE_INFINITY })
  }
  return lines.map(({ exhibits: line, written, width }) => {
    const [{ legends, kind }] = line
    const aside = line.length === 1 && legends.length > 0 && kind !== 'reading' && width + LEGEND_WIDTH <= PAGE_WIDTH
    return { exhibits: line, written, aside }
  })
}
