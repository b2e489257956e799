import type { Output } from '../output.js'

export const output: Output = {
  key: 'svg',
  about: 'a file for each exhibit, tables up to 50 rows',
  library: '`toSvg(page, { document, rows })` of `acuarela/svg`',
  parted: true,
  async render(page) {
    const { toSvg } = await import('../../view/svg/checked.js')
    return (await toSvg(page)).map(({ name, text }) => ({ part: name, content: text }))
  },
}
