import type { TextFormat } from '../format.js'
import { addCsv } from './read.js'

export const format: TextFormat = {
  key: 'csv',
  label: 'CSV, TSV',
  endings: ['csv', 'tsv', 'txt'],
  of: 'text',
  add: (raw, { name, text, ending }, { onRows, noLimit }) =>
    addCsv(raw, text, name, { ...(ending === 'tsv' ? { delimiter: '\t' } : {}), onRows, noLimit }),
}
