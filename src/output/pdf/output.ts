import { pageHtml } from '../html/page-html.js'
import { type Output, whole } from '../output.js'

export const output: Output = {
  key: 'pdf',
  about:
    'the page as printed: heads of tables repeated, no row or chart cut, wide tables smaller so that they are whole',
  library: '`openRenderer()` of `acuarela/node`',
  binary: true,
  render: async (page, options, renderer) =>
    whole(await (await renderer()).pdf(await pageHtml(page, { paper: 'A4', ...options, theme: 'light' }))),
}
