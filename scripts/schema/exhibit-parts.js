// @ts-check
import { z } from 'zod'
import { literal, names, number } from './parts.js'

/** What the schemas of several kinds of exhibits are made of. */

export const keySchema = z.union([
  z.string(),
  z.strictObject({
    key: z.string().describe('a column, or year quarter month week day monthOfYear weekday'),
    order: z.array(literal).min(1).optional().describe('these values first, in this order'),
    first: z
      .union([
        z.int().min(1),
        z.strictObject({
          count: z.int().min(1).describe('how many'),
          of: z.literal('table').describe('over all groups of the table'),
        }),
      ])
      .optional()
      .describe(
        'how many are shown: the first by the sort order, or by the first measure, in each group, or of the whole table as in { count: 10, of: table }',
      ),
    others: z.string().optional().describe('the label of the others together; left out, they are not shown'),
  }),
])

export const keys = z
  .union([keySchema, z.array(keySchema).min(1)])
  .describe('keys, outermost first: columns, or year quarter month week day monthOfYear weekday')

export const sorts = names.describe('a shown measure or a row key; with a minus in descending order')

export const period = z.union([z.string(), number])

export const since = z
  .string()
  .describe('marks what changed its status since an earlier date of the report: 1 month before, or an ISO 8601 date')

export const trendSchema = z.strictObject({
  of: z.string().optional().describe('the measure; default: the first shown, or that of the card'),
  along: z.string().describe('the time unit, or another key, along the line'),
  period: period.optional().describe("default: the exhibit's own"),
})

export const totalsSchema = z.union([
  z.enum(['top', 'bottom', 'none']),
  z.strictObject({
    rows: z.enum(['top', 'bottom', 'none']).optional().describe('where the row of totals stands; default: none'),
    columns: z.enum(['left', 'right', 'none']).optional().describe('where the column of totals stands; default: none'),
    subtotals: z.boolean().optional().describe('default: if there are totals of rows'),
  }),
])

export const columnSchema = z.union([
  z.string(),
  z.strictObject({
    show: z.string().optional().describe('a measure'),
    trend: trendSchema.optional().describe('instead of a measure: a trend line in each row'),
    status: z.string().optional().describe('instead of a measure: the status of one, as its icon and label'),
    label: z.string().optional().describe("the heading; default: the measure's label"),
    draw: z
      .enum(['number', 'bar', 'point', 'block'])
      .optional()
      .describe('beside the number a bar, or a point on a line; block fills the whole cell; default: number'),
    icon: z
      .enum(['before', 'after', 'alone'])
      .optional()
      .describe('the position of the icon; alone hides the number; default: before'),
  }),
])

export const tableSchema = z.strictObject({
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
    .describe('indented: nested rows; columns: each key in a column of its own; default: indented'),
  spacing: z.enum(['close', 'normal', 'wide']).optional().describe('between rows; default: normal'),
})
