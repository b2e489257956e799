// @ts-check
import { z } from 'zod'
import { expression, limit, literal, names, number } from './parts.js'

/** What is on the page: the part of the schema that says where cells are shown. */

const keySchema = z.union([
  z.string(),
  z.strictObject({
    key: z.string().describe('a column, or year quarter month week day monthOfYear weekday'),
    order: z.array(literal).min(1).optional().describe('these first, in this order; the others behind'),
    first: z.int().min(1).optional().describe('how many are shown: the first by the sort, or by the first measure'),
    others: z.string().optional().describe('what the others together are called; left out, they are not shown'),
  }),
])
const keys = z
  .union([keySchema, z.array(keySchema).min(1)])
  .describe('keys from the outermost in: columns, or year quarter month week day monthOfYear weekday')
const sorts = names.describe('a shown measure or a row key; with a minus from the highest, or from the last')
const period = z.union([z.string(), number])

const totalsSchema = z.union([
  z.enum(['top', 'bottom', 'none']),
  z.strictObject({
    rows: z.enum(['top', 'bottom', 'none']).optional().describe('where the row of totals stands; default: none'),
    columns: z.enum(['left', 'right', 'none']).optional().describe('where the column of totals stands; default: none'),
    subtotals: z.boolean().optional().describe('default: where there are totals of rows'),
  }),
])

const trendSchema = z.strictObject({
  of: z.string().optional().describe('the measure; default: the first shown, or that of the card'),
  along: z.string().describe('the time, or another key, along the line'),
  period: period.optional().describe("default: the exhibit's own"),
})

const columnSchema = z.union([
  z.string(),
  z.strictObject({
    show: z.string().optional().describe('a measure'),
    trend: trendSchema.optional().describe('instead of a measure: a line of its values, one a row'),
    label: z.string().optional().describe("the heading; default: the measure's label"),
    draw: z
      .enum(['number', 'bar', 'point', 'block'])
      .optional()
      .describe('beside the number a bar, or a point on a line; block fills the whole cell; default: number'),
    icon: z
      .enum(['before', 'after', 'alone'])
      .optional()
      .describe('where an icon stands; alone hides the number; default: before'),
  }),
])

const tableSchema = z.strictObject({
  rows: keys,
  columns: keys.optional(),
  show: z
    .union([columnSchema, z.array(columnSchema).min(1)])
    .describe('measures, how they are drawn, and lines of their trend'),
  totals: totalsSchema.optional().describe('default: none'),
  sort: sorts.optional(),
  nest: z
    .enum(['indented', 'columns'])
    .optional()
    .describe('nested rows under each other, or each key in a column of its own; default: indented'),
  spacing: z.enum(['close', 'normal', 'wide']).optional().describe('between rows; default: normal'),
})

const labelsSchema = z.union([z.enum(['full', 'short', 'none']), z.boolean()]).optional()

const seriesSchema = z.union([
  z.string(),
  z.strictObject({
    show: z.string().describe('a measure'),
    draw: z
      .enum(['bar', 'line', 'point', 'mark'])
      .optional()
      .describe('mark is a short line across the place of a bar, as for a plan; default: bar'),
    labels: labelsSchema.describe(
      'values written at its marks: full as in tables, short with as many digits as tell them apart, none; true: full where that fits, else short; default: true at bars of a single series',
    ),
    label: z.string().optional().describe("in the legend; default: the measure's label"),
  }),
])

const chartSchema = z.strictObject({
  along: keySchema.describe('the key along the axis'),
  show: z.union([seriesSchema, z.array(seriesSchema).min(1)]).describe('measures of one unit, and how each is drawn'),
  series: z.string().optional().describe('a key: each of its values has marks of its own'),
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
    'values written at the bars: full, short or none; true: full where that fits, else short; default: true for a single series',
  ),
})

const cardSchema = z.strictObject({
  show: z.string().describe('a measure'),
  label: z.string().optional().describe("the caption; default: the measure's label"),
  versus: z.string().optional().describe('the measure that it is compared with'),
  note: z.string().optional().describe("words with formatted values in them: '{growth} on last year'"),
  trend: trendSchema.optional().describe('a line under the value'),
})

const recordsSchema = z.strictObject({
  show: names.describe('columns of the first source, its fields, and measures, which are then of one row'),
  sort: z.string().optional().describe('a shown column; with a minus from the highest'),
  first: z.int().min(1).optional().describe('how many are shown; rules compare with all; default: 200'),
  oneAtATime: z.boolean().optional().describe('one record at a time, beside the averages and totals of all'),
})

const listSchema = z.strictObject({
  status: names.describe('the statuses whose cells are listed'),
  of: z.string().describe('the measure whose cells are judged'),
  by: keys,
  show: names.optional().describe('more measures beside it'),
  sort: sorts.optional().describe('default: from the lowest where higher is better, else from the highest'),
})

const readingSchema = z.strictObject({
  of: z.string().describe('the measure that is read'),
  by: keys,
  along: z
    .string()
    .optional()
    .describe('the time of its strong and weak periods; default: month where there are dates'),
  versus: z.string().optional().describe('the measure that it is compared with'),
})

export const exhibitSchema = z.strictObject({
  name: z.string().optional().describe('an id, unique; made up when left out'),
  title: z.string().optional().describe('its heading; default: its name'),
  note: z.string().optional().describe('words under it'),
  section: z.string().optional().describe('a heading over this exhibit and those after it'),
  period: period.optional().describe("what it shows; default: the report's own period"),
  where: expression.optional(),
  hide: z.literal('value').optional().describe('numbers taken off the page, kept for hover and assistive technology'),
  besideUnpainted: z.boolean().optional().describe('the same without colours at its side'),
  beside: z.string().optional().describe('the exhibit before it, at whose side it is placed'),
  table: tableSchema.optional().describe('measures by keys, with totals'),
  heatmap: tableSchema.optional().describe('a table of coloured fields without gaps'),
  chart: chartSchema.optional().describe('measures along a key, as bars, lines, points or marks'),
  cards: z.array(cardSchema).min(1).optional().describe('single figures'),
  records: recordsSchema.optional().describe('rows of the first source as they are'),
  list: listSchema.optional().describe('the cells of some statuses, by name'),
  reading: readingSchema.optional().describe('what a measure says, in sentences'),
})

/** The parts that have a name in TypeScript. */
export const EXHIBIT_PARTS = {
  KeySpec: keySchema,
  TotalsSpec: totalsSchema,
  TrendSpec: trendSchema,
  ColumnSpec: columnSchema,
  TableSpec: tableSchema,
  SeriesSpec: seriesSchema,
  ChartSpec: chartSchema,
  CardSpec: cardSchema,
  RecordsSpec: recordsSchema,
  ListSpec: listSchema,
  ReadingSpec: readingSchema,
  ExhibitSpec: exhibitSchema,
}
