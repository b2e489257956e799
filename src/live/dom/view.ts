import type { Writing } from '../../view/html/cells/cell.js'
import type { Update } from '../session/model.js'
import type { LiveState } from '../state/state.js'
import type { CellMap } from './elements.js'
import type { Highlights } from './highlights.js'
import type { OptionalFeatures } from './optional.js'

/** The elements of a mounted report. */
export interface View {
  root: ShadowRoot | HTMLElement
  main: HTMLElement
  tools: HTMLElement
  strip: HTMLElement
  exhibits: HTMLElement
  why: HTMLElement
  /** The cells in the page. */
  cells(): CellMap
  marks: Highlights
  /** Features of long tables and single records, if they are loaded. */
  extras(): OptionalFeatures
  /** Shows an update; what is said of it is shown with the strip, before the exhibits. */
  show(update: Update, state: LiveState, writing: Writing, said: string): Promise<void>
  say(markup: string): void
  remove(): void
}
