import type { Column } from '../column/column.js'
import type { Vector } from '../expression/evaluate.js'

/** A column as a vector; nothing is copied. */
export function columnVector(column: Column): Vector {
  if (column.kind === 'text') return { kind: 'text', constant: false, codes: column.codes, words: column.words }
  if (column.kind === 'condition') return { kind: 'condition', constant: false, values: column.values }
  return { kind: 'number', constant: false, values: column.values }
}

/** A vector as a column of `n` rows. */
export function vectorColumn(vector: Vector, n: number, date: boolean): Column {
  const spread = vector.constant && n !== 1
  if (vector.kind === 'text')
    return { kind: 'text', codes: spread ? new Int32Array(n).fill(vector.codes[0]) : vector.codes, words: vector.words }
  if (vector.kind === 'condition')
    return { kind: 'condition', values: spread ? new Int8Array(n).fill(vector.values[0]) : vector.values }
  return { kind: date ? 'date' : 'number', values: spread ? new Float64Array(n).fill(vector.values[0]) : vector.values }
}
