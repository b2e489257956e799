import type { Exhibit } from '../../page/page.js'
import type { Writing } from '../../view/html/cell.js'
import type { WrittenRow } from '../../view/model/rows.js'

/** From so many rows on only those in sight are in the page. */
export const MIN_VIRTUAL_ROWS = 300

/** The long tables of a report: of each only the rows in sight are in the page. */
export interface VirtualTables {
  /** Takes up what is shown by now. */
  show(exhibits: readonly Exhibit[], writing: Writing): void
  /**
   * The place of a row among all that are written; -1 for one that nobody sees, undefined for one
   * of a table that is whole.
   */
  indexOf(row: Element): number | undefined
  /** All rows of a long table, by the name of its exhibit; undefined for a table that is whole. */
  rowsOf(exhibit: string): readonly WrittenRow[] | undefined
  /** Brings a row in sight and gives its element. */
  reveal(exhibit: string, index: number): HTMLTableRowElement | undefined
  remove(): void
}

/** Finds text in the rows of a long table, those out of sight included. */
export interface TextFinder {
  /**
   * Looks for what an input holds and goes to the next row that has it: 1 on, -1 back, 0 from where
   * it stands.
   */
  find(input: HTMLInputElement, step: -1 | 0 | 1): void
  /** Marks the found row when it comes in sight. */
  drawn(rows: readonly Element[]): void
  /** Takes up what is shown by now. */
  show(exhibits: readonly Exhibit[]): void
}

/** Records that are shown one at a time: the others are out of sight until the reader steps on. */
export interface RecordPager {
  /** Goes where a link of a record leads; false for any other link. */
  follow(link: Element): boolean
  /** Steps by so many from the record that holds an element; false outside of records. */
  step(element: Element, by: number): boolean
  /**
   * Goes to the value so many above or below the one that has the focus, the first before any;
   * false outside of records.
   */
  walk(element: Element, by: number): boolean
  /** Takes up what is shown by now. */
  show(): void
}

/** What few reports have and what is loaded for those that do. */
export interface OptionalFeatures {
  windows: VirtualTables
  finder: TextFinder
  stepper: RecordPager
}

const none = (): undefined => undefined

const not = (): boolean => false

/** What stands in their place until then. */
export const NO_FEATURES: Readonly<OptionalFeatures> = {
  windows: { show: none, indexOf: none, rowsOf: none, reveal: none, remove: none },
  finder: { find: none, drawn: none, show: none },
  stepper: { follow: not, step: not, walk: not, show: none },
}
