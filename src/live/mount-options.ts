import type { Page } from '../page/page.js'
import type { ShownCell } from './dom/elements.js'
import type { ReportControls } from './session/model.js'
import type { Action, LiveState } from './state/state.js'

/** The initial state of a report, and its callback. */
export interface MountOptions {
  /**
   * Parameters with other initial values than in the report: plain numbers (0.15 for 15 %), or
   * texts such as '15%'.
   */
  parameters?: Readonly<Record<string, number | string>>
  /** Filters that are set initially, by key. */
  filters?: Readonly<Record<string, readonly string[]>>
  /** Called with the state after every change, the first one included. */
  onChange?: (state: LiveState) => void
  /**
   * Keeps the state in the URL after `#`, so that it can be sent as a link; for pages with the
   * report alone. Default: false.
   */
  address?: boolean
}

/**
 * A mounted report. An unknown name or value is refused with a ProblemError and changes nothing. Of
 * calls that arrive faster than they are answered the last one wins. A call that fails is reported
 * on the page and rejected; the report stays as it was, and the next call works.
 */
export interface Mounted {
  /**
   * Sets a parameter: a plain number, 0.15 for 15 %, or a text, '15%'. A value outside its bounds
   * becomes the bound.
   */
  set(parameter: string, value: number | string): Promise<void>
  /** Filters by the values of a key; an empty list removes the filter. */
  filter(key: string, values: readonly string[]): Promise<void>
  /** Any other action of a reader. */
  act(action: Action): Promise<void>
  /** What the reader has changed. */
  state(): LiveState
  /**
   * The report as it is shown: what `toHtml`, `toSvg`, `toJson` and the others print. A row or
   * exhibit that has not changed since the last action is the same object. Not to be written to.
   */
  page(): Page
  /** What a reader may change, with the report's own values: for controls of your own. */
  controls(): ReportControls
  /**
   * Gives the shown cells that `holds` for a class, and takes it from all others; null takes it
   * from all. Cells that a change draws anew are without it until the next call. What it looks like
   * is the style of the host, in the shadow root.
   *
   * @throws ProblemError for what is no name of a class, or no test of cells.
   */
  mark(className: string, holds: ((cell: ShownCell) => boolean) | null): void
  /** Takes everything away again, and ends the session. */
  destroy(): void
}
