import type { BoundExhibit, BoundParts } from '../model/bound.js'

/** The parts that most kinds leave at their defaults. */
export const DEFAULT_PARTS: BoundParts = {
  rows: [],
  columns: [],
  show: [],
  totals: { rows: 'none', columns: 'none', subtotals: false },
  sort: undefined,
  byDefault: undefined,
  turned: [],
  orders: new Map(),
  topN: [],
  slots: [],
  nest: 'indented',
  spacing: 'normal',
}

/** Whether an exhibit repeats cells of others: a list, a list of moves, or a reading. */
export function isReading({ kind }: BoundExhibit): boolean {
  return kind === 'list' || kind === 'moves' || kind === 'reading'
}
