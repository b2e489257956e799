import type { BoundExhibit, BoundParts } from '../model/bound.js'

/** What a kind leaves as it is. */
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

/** Lists and words tell of cells that other exhibits show. */
export function isReading({ kind }: BoundExhibit): boolean {
  return kind === 'list' || kind === 'reading'
}
