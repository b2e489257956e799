import type { TextFormat } from '../format.js'
import { addJson } from './read.js'

export const format: TextFormat = {
  key: 'json',
  label: 'JSON, NDJSON',
  endings: ['json', 'ndjson', 'jsonl'],
  shared: ['json'],
  of: 'text',
  begins: (text) => /^\uFEFF?\s*[[{]/.test(text),
  add: (raw, { name, text }, { noLimit }) => addJson(raw, text, name, noLimit),
}
