// @ts-check
import { z } from 'zod'
import { names } from '../../../../../scripts/schema/parts.js'

const recordsSchema = z.strictObject({
  show: names.describe('columns and fields of the first source, and measures of a single row'),
  sort: names.optional().describe('shown columns, the first one first; with a minus in descending order'),
  group: z.string().optional().describe('a column or field: its values head the rows that have them'),
  first: z
    .int()
    .min(1)
    .optional()
    .describe('how many are shown, of each group if there are groups; rules compare with all; default: 200 in all'),
  oneAtATime: z.boolean().optional().describe('one record at a time, beside the averages and totals of all'),
})

/** What the key of this kind holds in an exhibit. */
export const schema = recordsSchema

/** What an editor shows of it. */
export const description = 'rows of the first source as they are'

/** The parts that have a name in TypeScript. */
export const named = { RecordsSpec: recordsSchema }
