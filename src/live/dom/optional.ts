import type { Exhibit } from '../../page/page.js'
import type { Writing } from '../../view/html/cells/cell.js'
import type { WrittenRows } from '../../view/model/rows.js'

/** Tables with more rows than this are virtual: only visible rows are in the page. */
export const MIN_VIRTUAL_ROWS = 300

/** The long tables of a report; only their visible rows are in the page. */
export interface VirtualTables {
  /** Uses the exhibits of a new update. */
  show(exhibits: readonly Exhibit[], writing: Writing): void
  /**
   * The index of a row among all rows; -1 for a hidden row, undefined for a row of a table that is
   * not virtual.
   */
  indexOf(row: Element): number | undefined
  /** All rows of a virtual table by the name of its exhibit; undefined for other tables. */
  rowsOf(exhibit: string): WrittenRows | undefined
  /** Scrolls a row into view and returns its element. */
  reveal(exhibit: string, index: number): HTMLTableRowElement | undefined
  remove(): void
}

/** Finds text in the rows of a long table, those out of view included. */
export interface TextFinder {
  /**
   * Searches for the text of an input and moves to a hit: 1 to the next, -1 to the previous, 0 to
   * the first from the current row.
   */
  find(input: HTMLInputElement, step: -1 | 0 | 1): void
  /** Marks the found row when it is scrolled into view. */
  drawn(rows: readonly Element[]): void
  /** Uses the exhibits of a new update. */
  show(exhibits: readonly Exhibit[]): void
}

/** Records that are shown one at a time. */
export interface RecordPager {
  /** Follows a link of a record; false for any other link. */
  follow(link: Element): boolean
  /** Moves by so many records from the one that contains an element; false outside of records. */
  step(element: Element, by: number): boolean
  /**
   * Moves the focus by so many values inside a record, the first value if none has it; false
   * outside of records.
   */
  walk(element: Element, by: number): boolean
  /** Uses the elements of a new update. */
  show(): void
}

/** Features that few reports need, loaded for those that do. */
export interface OptionalFeatures {
  windows: VirtualTables
  finder: TextFinder
  stepper: RecordPager
}

const none = (): undefined => undefined

const not = (): boolean => false

/** The features before they are loaded: they do nothing. */
export const NO_FEATURES: Readonly<OptionalFeatures> = {
  windows: { show: none, indexOf: none, rowsOf: none, reveal: none, remove: none },
  finder: { find: none, drawn: none, show: none },
  stepper: { follow: not, step: not, walk: not, show: none },
}
