// @ts-check
import { z } from 'zod'
import { keySchema } from '../../../../../scripts/schema/exhibit-parts.js'
import { limit } from '../../../../../scripts/schema/parts.js'

const labelsSchema = z.union([z.enum(['full', 'short', 'ends', 'none']), z.boolean()]).optional()

const seriesSchema = z.union([
  z.string(),
  z.strictObject({
    show: z.string().describe('a measure'),
    draw: z
      .enum(['bar', 'line', 'point', 'mark'])
      .optional()
      .describe('mark is a short line across the place of a bar, as for a plan; default: bar'),
    labels: labelsSchema.describe(
      'values written at its marks: full as in tables, short with as many digits as distinguish them, ends (the first and the last of a series), none; true: full if that fits, else short; default: true at bars of a single series',
    ),
    label: z.string().optional().describe("in the legend; default: the measure's label"),
  }),
])

const chartSchema = z.strictObject({
  along: z
    .union([keySchema, z.array(keySchema).min(1)])
    .describe('the key along the axis; of several, outermost first, the places of each group stand together'),
  show: z.union([seriesSchema, z.array(seriesSchema).min(1)]).describe('measures of one unit, and how each is drawn'),
  series: z.string().optional().describe('a key: each of its values is a series of marks'),
  panels: z.string().optional().describe('a key: each of its values has a small chart of its own, all on one scale'),
  stacked: z.boolean().optional().describe('bars on top of each other instead of side by side'),
  horizontal: z.boolean().optional().describe('bars from left to right'),
  references: z
    .array(z.strictObject({ at: limit, label: z.string().optional().describe('written at it; default: its words') }))
    .optional()
    .describe(
      'reference lines across the chart: a number, a parameter, a measure that is one value, or a statistic such as mean(revenue)',
    ),
  labels: labelsSchema.describe(
    'values written at the bars: full, short or none; true: full if that fits, else short; default: true for a single series',
  ),
})

/** What the key of this kind holds in an exhibit. */
export const schema = chartSchema

/** What an editor shows of it. */
export const description = 'measures along a key, as bars, lines, points or marks'

/** The parts that have a name in TypeScript. */
export const named = { SeriesSpec: seriesSchema, ChartSpec: chartSchema }
