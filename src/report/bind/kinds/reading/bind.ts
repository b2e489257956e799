import type { KeySpec, ReadingSpec } from '../../../../spec/exhibits.js'
import { isPeriodUnit } from '../../../../time/period.js'
import { DEFAULT_PARTS } from '../../exhibit-defaults.js'
import { asList, type BindKind, checkKeys, checkMeasure, checkVersus, keepsOf, ordersOf } from '../../exhibit-keys.js'

export const bind: BindKind<ReadingSpec> = (reading, context, diagnostics) => {
  const rows = checkKeys(reading.by, context, diagnostics.at('by'))
  checkMeasure(reading.of, context, diagnostics.at('of'))
  if (reading.versus !== undefined) checkVersus(reading.of, reading.versus, context, diagnostics.at('versus'))
  if (reading.along !== undefined) {
    checkKeys(reading.along, context, diagnostics.at('along'))
    if (!isPeriodUnit(reading.along)) diagnostics.at('along').report('words-along', { key: reading.along })
  }
  return {
    ...DEFAULT_PARTS,
    rows,
    show: [reading.of, ...(reading.versus === undefined ? [] : [reading.versus])],
    sort: { measure: reading.of, falling: true },
    topN: keepsOf(reading.by),
    orders: ordersOf(asList<KeySpec>(reading.by)),
    reading: {
      of: reading.of,
      versus: reading.versus,
      along: reading.along ?? (context.hasDates ? 'month' : undefined),
    },
  }
}
