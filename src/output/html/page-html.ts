import type { PageBundle } from '../../node/live.js'
import type { Page } from '../../page/page.js'
import type { RenderOptions } from '../output.js'

/** A page as one HTML file; with a bundle it is live. */
export async function pageHtml(page: Page, { theme, paper }: RenderOptions, live?: PageBundle): Promise<string> {
  const { toHtml } = await import('../../view/html/document.js')
  const options = {
    ...(theme === undefined ? {} : { theme }),
    ...(paper === undefined ? {} : { paper }),
  }
  if (live === undefined) return toHtml(page, options)
  const { liveParts } = await import('../../node/live.js')
  return toHtml(page, options, liveParts(live))
}
