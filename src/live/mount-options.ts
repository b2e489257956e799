import type { Page } from '../page/page.js'
import type { ReportControls } from './session/model.js'
import type { Action, LiveState } from './state/state.js'

/** How a report begins in a page, and what its program hears. */
export interface MountOptions {
  /**
   * Parameters that start with another value than the report's: plain numbers (0.15 for 15 %), or
   * texts such as '15%'.
   */
  parameters?: Readonly<Record<string, number | string>>
  /** Filters that start narrowed, by key. */
  filters?: Readonly<Record<string, readonly string[]>>
  /** Called with the state after every change, the first one included. */
  onChange?: (state: LiveState) => void
  /**
   * Keeps the state in the address behind `#`, so that it can be sent as a link; for pages that are
   * the report alone. Default: false.
   */
  address?: boolean
}

/**
 * A mounted report. Calls that ask for an unknown name or value are refused with a ProblemError,
 * and change nothing. Of calls that come faster than they can be answered the last one wins. A call
 * that fails is reported on the page and rejected; the report stays as it was shown last, and the next
 * call works.
 */
export interface Mounted {
  /**
   * Moves a parameter: a plain number, 0.15 for 15 %, or a text, '15%'. A value beyond its bounds
   * is the bound.
   */
  set(parameter: string, value: number | string): Promise<void>
  /** Narrows by the values of a key, or with an empty list takes the filter away. */
  filter(key: string, values: readonly string[]): Promise<void>
  /** Any other thing that a reader can do. */
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
  /** Takes everything away again, and ends the session. */
  destroy(): void
}
