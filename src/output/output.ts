import type { PageRenderer } from '../node/browser.js'
import type { PageBundle } from '../node/live.js'
import type { Page } from '../page/page.js'

/** What a run asks of its pages. */
export interface RenderOptions {
  theme?: 'auto' | 'light' | 'dark'
  paper?: 'A4' | 'Letter'
  fragment?: boolean
  /** Of text. */
  width?: number
  colors?: 1 | 4 | 8 | 24
  ascii?: boolean
  /** What an html page carries to be live. */
  live?: PageBundle | undefined
}

/** A file that a page was printed to. `part` is its exhibit, empty for the whole page. */
export interface Rendered {
  part: string
  content: string | Uint8Array
}

/**
 * A form that a page is printed in. Adding one is a folder here and its name in
 * `scripts/schema/registries.js`; what it needs is loaded when it is asked for.
 */
export interface Output {
  /** What `--to` calls it. */
  key: string
  /** The ending of its files; default: the key. */
  ending?: string
  /** For docs, in one line. */
  about: string
  /** For docs: the function of the library that makes it. */
  library: string
  /** One file for each exhibit. */
  parted?: true
  /** Bytes, which a terminal cannot show. */
  binary?: true
  /** Made for a terminal: control characters in it are its own. */
  terminal?: true
  /** Prints a page. `renderer` starts the browser once for all pages. */
  render(page: Page, options: RenderOptions, renderer: () => Promise<PageRenderer>): Promise<Rendered[]>
}

/** A page printed to one file. */
export function whole(content: string | Uint8Array): Rendered[] {
  return [{ part: '', content }]
}
