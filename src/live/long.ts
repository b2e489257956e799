import type { Exhibit } from '../page/page.js'
import type { Writing } from '../view/html/cell.js'
import type { WrittenRow } from '../view/rows.js'

/** From so many rows on only those in sight are in the page. */
export const LONG = 300

/** The long tables of a report: of each only the rows in sight are in the page. */
export interface Windows {
  /** Takes up what is shown by now. */
  show(exhibits: readonly Exhibit[], writing: Writing): void
  /** The place of a row among all that are written; -1 for one that nobody sees, undefined for one of a table that is whole. */
  indexOf(row: Element): number | undefined
  /** All rows of a long table, by the name of its exhibit; undefined for a table that is whole. */
  rowsOf(exhibit: string): readonly WrittenRow[] | undefined
  /** Brings a row in sight and gives its element. */
  reveal(exhibit: string, index: number): HTMLTableRowElement | undefined
  remove(): void
}

/** Finds text in the rows of a long table, those out of sight included. */
export interface Finder {
  /** Looks for what an input holds and goes to the next row that has it: 1 on, -1 back, 0 from where it stands. */
  find(input: HTMLInputElement, step: -1 | 0 | 1): void
  /** Marks the found row when it comes in sight. */
  drawn(rows: readonly Element[]): void
  /** Takes up what is shown by now. */
  show(exhibits: readonly Exhibit[]): void
}

/** What long tables take: loaded when a report has one. */
export interface Long {
  windows: Windows
  finder: Finder
}

const none = (): undefined => undefined

/** What stands in its place while no table is long. */
export const NO_LONG: Long = {
  windows: { show: none, indexOf: none, rowsOf: none, reveal: none, remove: none },
  finder: { find: none, drawn: none, show: none },
}

/**
 * Loads it where a table is long, and says so to whoever writes the page. A page that was made without it, since none was, writes tables
 * whole.
 */
export async function loadLong(
  exhibits: readonly Exhibit[],
  root: ParentNode,
  drawn: (rows: readonly HTMLTableRowElement[]) => void,
): Promise<Long | undefined> {
  if (!exhibits.some((own) => 'rows' in own && own.rows.length > LONG)) return undefined
  const loaded = await Promise.all([import('./windows.js'), import('./find.js')]).catch(() => undefined)
  if (loaded === undefined) return undefined
  const [{ createWindows }, { createFinder }] = loaded
  const windows = createWindows(root, (rows) => {
    drawn(rows)
    finder.drawn(rows)
  })
  const finder = createFinder(root, windows)
  return { windows, finder }
}
