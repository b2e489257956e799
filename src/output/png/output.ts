import { pageHtml } from '../html/page-html.js'
import { type Output, whole } from '../output.js'

export const output: Output = {
  key: 'png',
  about: 'the whole page as a picture, as wide as its widest table asks for, by a browser of yours',
  library: '`openRenderer()` of `acuarela/node`',
  binary: true,
  async render(page, options, renderer) {
    const theme = options.theme === 'dark' ? 'dark' : 'light'
    return whole(await (await renderer()).png(await pageHtml(page, { ...options, theme }), { theme }))
  },
}
