import { type Output, whole } from '../output.js'
import { pageHtml } from './page-html.js'

export const output: Output = {
  key: 'html',
  about:
    'one self-contained file, [live](live.md) unless `--static` is given; nothing is fetched; light and dark by the reader’s system, light on paper',
  library: '`toHtml(page, { document, theme, paper })` of `acuarela/html`',
  async render(page, options) {
    if (options.fragment === true) return whole((await import('../../view/html/fragment.js')).toFragment(page))
    return whole(await pageHtml(page, options, options.live))
  },
}
