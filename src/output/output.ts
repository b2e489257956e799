import type { PageRenderer } from '../node/browser.js'
import type { PageBundle } from '../node/live.js'
import type { Page } from '../page/page.js'

/** Options of an output. */
export interface RenderOptions {
  theme?: 'auto' | 'light' | 'dark'
  paper?: 'A4' | 'Letter'
  fragment?: boolean
  /** Of text output. */
  width?: number
  colors?: 1 | 4 | 8 | 24
  ascii?: boolean
  /** Whether painted cells of a workbook are annotated with what painted them. */
  why?: boolean
  /** The rules as sentences. */
  rules?: readonly { title: string; sentence: string }[] | undefined
  /** The bundle of a live HTML page. */
  live?: PageBundle | undefined
}

/** A printed file. `part` is its exhibit, empty for the whole page. */
export interface Rendered {
  part: string
  content: string | Uint8Array
}

/**
 * An output format. To add one, add a folder here and its name in `scripts/schema/registries.js`;
 * its writer is loaded when it is used.
 */
export interface Output {
  /** Its name for `--to`. */
  key: string
  /** The file ending; default: the key. */
  ending?: string
  /** For docs, in one line. */
  about: string
  /** For docs: the library function that makes it. */
  library: string
  /** Whether it makes one file for each exhibit. */
  parted?: true
  /** Whether it is binary: a terminal cannot show it. */
  binary?: true
  /** Whether `--with-why` annotates its cells. */
  annotates?: true
  /** Whether it is made for a terminal: its control characters are intended. */
  terminal?: true
  /** Prints a page. `renderer` starts the browser once for all pages. */
  render(page: Page, options: RenderOptions, renderer: () => Promise<PageRenderer>): Promise<Rendered[]>
}

/** A page printed to one file. */
export function whole(content: string | Uint8Array): Rendered[] {
  return [{ part: '', content }]
}
