import type { BinaryFormat } from '../format.js'
import { isParquet } from './signature.js'

export const format: BinaryFormat = {
  key: 'parquet',
  label: 'Parquet',
  endings: ['parquet'],
  of: 'bytes',
  begins: isParquet,
  load: async () => (await import('./read.js')).readParquet,
}
