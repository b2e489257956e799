import { type Output, whole } from '../output.js'

export const output: Output = {
  key: 'text',
  ending: 'txt',
  about: 'for a terminal, and the default: as wide as it is, in the colours it has',
  library: '`toText(page, { width, colors, ascii })` of `acuarela/terminal`',
  terminal: true,
  render: async (page, { width, colors, ascii }) =>
    whole((await import('../../view/terminal/text.js')).toText(page, { width, colors, ascii })),
}
