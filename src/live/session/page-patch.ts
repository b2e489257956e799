import type { Exhibit, GridExhibit, Page, Row } from '../../page/page.js'

/**
 * What changed from one page to the next, as data for another thread. A copy has other objects than
 * its original, so what has not changed is named by its place in the page before, and both sides
 * keep that page.
 */
export interface PagePatch {
  page: Omit<Page, 'exhibits'>
  exhibits: readonly ExhibitPatch[]
}

/**
 * An exhibit as it was, by its place; or another, with those of its rows that it had before by
 * place.
 */
export type ExhibitPatch = number | { exhibit: Exhibit; rows?: readonly (number | Row)[] }

/** What makes `after` of `before`; all of it where there was none before. */
export function pagePatch(before: Page | undefined, after: Page): PagePatch {
  const { exhibits, ...page } = after
  return { page, exhibits: exhibits.map((exhibit) => exhibitPatch(before?.exhibits ?? [], exhibit)) }
}

/** A row that can be copied: cells that were not made yet are made. */
function plainRow({ heading, depth, group, place, cells, trends }: Row): Row {
  return { heading, depth, group, ...(place !== undefined && { place }), cells, trends }
}

/** The page that a patch makes of the one before. */
export function patchedPage(before: Page | undefined, { page, exhibits }: PagePatch): Page {
  return { ...page, exhibits: exhibits.map((exhibit) => patchedExhibit(before?.exhibits ?? [], exhibit)) }
}

function exhibitPatch(before: readonly Exhibit[], exhibit: Exhibit): ExhibitPatch {
  const place = before.indexOf(exhibit)
  if (place >= 0) return place
  const old = gridNamed(before, exhibit.name)
  if (!('rows' in exhibit)) return { exhibit }
  if (old === undefined) return { exhibit: { ...exhibit, rows: exhibit.rows.map(plainRow) } }
  const places = new Map(old.rows.map((row, at): [Row, number] => [row, at]))
  return { exhibit: { ...exhibit, rows: [] }, rows: exhibit.rows.map((row) => places.get(row) ?? plainRow(row)) }
}

function patchedExhibit(before: readonly Exhibit[], patch: ExhibitPatch): Exhibit {
  if (typeof patch === 'number') return before[patch] as Exhibit
  const { exhibit, rows } = patch
  const old = gridNamed(before, exhibit.name)
  if (!('rows' in exhibit) || rows === undefined || old === undefined) return exhibit
  return { ...exhibit, rows: rows.map((row) => (typeof row === 'number' ? (old.rows[row] as Row) : row)) }
}

function gridNamed(exhibits: readonly Exhibit[], name: string): GridExhibit | undefined {
  const previous = exhibits.find((candidate) => candidate.name === name)
  return previous !== undefined && 'rows' in previous ? previous : undefined
}
