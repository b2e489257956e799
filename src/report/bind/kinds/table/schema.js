// @ts-check
import {
  columnSchema,
  keySchema,
  tableSchema,
  totalsSchema,
  trendSchema,
} from '../../../../../scripts/schema/exhibit-parts.js'

/** What the key of this kind holds in an exhibit. */
export const schema = tableSchema

/** What an editor shows of it. */
export const description = 'measures by keys, with totals'

/** The parts that have a name in TypeScript. */
export const named = {
  KeySpec: keySchema,
  TotalsSpec: totalsSchema,
  TrendSpec: trendSchema,
  ColumnSpec: columnSchema,
  TableSpec: tableSchema,
}
