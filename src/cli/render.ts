import type { PageRenderer } from '../node/browser.js'
import type { PageBundle } from '../node/live.js'
import type { Page } from '../page/page.js'

export const FORMATS = ['html', 'svg', 'png', 'pdf', 'text', 'json', 'csv'] as const
export type Format = (typeof FORMATS)[number]

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

/**
 * A page in one format: one file, or for svg one for each exhibit. `part` is the exhibit, empty for
 * the whole.
 */
export interface Rendered {
  part: string
  content: string | Uint8Array
}

/**
 * Prints a page; what a format needs is loaded when it is asked for. `press` starts the browser
 * once for all pages.
 */
export async function renderPage(
  page: Page,
  format: Format,
  options: RenderOptions,
  press: () => Promise<PageRenderer>,
): Promise<Rendered[]> {
  const whole = (content: string | Uint8Array): Rendered[] => [{ part: '', content }]
  switch (format) {
    case 'json':
      return whole((await import('../view/data/json.js')).toJson(page))
    case 'csv':
      return whole((await import('../view/data/csv.js')).toCsv(page))
    case 'text': {
      const { width, colors, ascii } = options
      return whole((await import('../view/terminal/text.js')).toText(page, { width, colors, ascii }))
    }
    case 'svg': {
      const { toSvg } = await import('../view/svg/page.js')
      return (await toSvg(page)).map(({ name, text }) => ({ part: name, content: text }))
    }
    case 'png': {
      const theme = options.theme === 'dark' ? 'dark' : 'light'
      return whole(await (await press()).png(await html(page, { ...options, theme }), { theme }))
    }
    case 'pdf':
      return whole(await (await press()).pdf(await html(page, { paper: 'A4', ...options, theme: 'light' })))
    case 'html':
      if (options.fragment === true) return whole((await import('../view/html/fragment.js')).toFragment(page))
      return whole(await html(page, options, options.live))
  }
}

async function html(page: Page, { theme, paper }: RenderOptions, live?: PageBundle): Promise<string> {
  const { toHtml } = await import('../view/html/document.js')
  const options = {
    ...(theme === undefined ? {} : { theme }),
    ...(paper === undefined ? {} : { paper }),
  }
  if (live === undefined) return toHtml(page, options)
  const { liveParts } = await import('../node/live.js')
  return toHtml(page, options, liveParts(live))
}
