import type { BinaryFormat } from '../format.js'
import { containerOf } from './signature.js'

export const format: BinaryFormat = {
  key: 'ods',
  label: 'OpenDocument spreadsheets',
  endings: ['ods', 'fods'],
  sheets: true,
  of: 'bytes',
  begins: (content) => containerOf(content) !== undefined,
  load: async () => (await import('./read.js')).readOds,
}
