import { type Output, whole } from '../output.js'

export const output: Output = {
  key: 'csv',
  about: 'the same cells as flat rows; texts that look like formulas are guarded',
  library: '`toCsv(page)` of `acuarela/data`',
  render: async (page) => whole((await import('../../view/data/csv.js')).toCsv(page)),
}
