import { type Output, whole } from '../output.js'

export const output: Output = {
  key: 'json',
  about: '[the painted data](painted-data.md), every channel of every cell',
  library: '`toJson(page)` of `acuarela/data`',
  render: async (page) => whole((await import('../../view/data/json.js')).toJson(page)),
}
