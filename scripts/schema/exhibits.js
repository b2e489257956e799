// @ts-check
import { z } from 'zod'
import { period, since } from './exhibit-parts.js'
import { expression, names } from './parts.js'
import { EXHIBIT_KINDS, loadSchemas } from './registries.js'

/** What is on the page: the part of the schema that says where cells are shown. */

/** The kinds of exhibits, each with the schema in its own folder. */
const KINDS = await loadSchemas('src/report/bind/kinds', EXHIBIT_KINDS)

export const exhibitSchema = z.strictObject({
  name: z.string().optional().describe('an id, unique; default: derived from its title or kind'),
  title: z.string().optional().describe('its heading; default: its name'),
  note: z.string().optional().describe('words under it'),
  section: z.string().optional().describe('the heading of a section that begins with this exhibit'),
  period: period.optional().describe("what it shows; default: the report's own period"),
  where: expression.optional(),
  since: since.optional(),
  unfinished: z
    .enum(['unpainted', 'leaveOut'])
    .optional()
    .describe(
      'cells whose own period ends after the date of the report: unpainted, or left out with their period; default: painted',
    ),
  showing: z
    .strictObject({
      status: names.describe('the statuses'),
      of: z.string().describe('a shown measure, or of records a shown column'),
    })
    .optional()
    .describe(
      'hides rows without a detail cell of these statuses, after everything is decided; for tables, heatmaps and records',
    ),
  hide: z.literal('value').optional().describe('hides the numbers; they stay in tooltips and for assistive technology'),
  besideUnpainted: z.boolean().optional().describe('the same without colours beside it'),
  beside: z
    .string()
    .optional()
    .describe(
      'the exhibit before it, beside which it is placed; none: on lines of its own; default: narrow exhibits share a line',
    ),
  ...Object.fromEntries(KINDS.map(({ key, schema, description }) => [key, schema.optional().describe(description)])),
})

/** The parts that have a name in TypeScript. */
export const EXHIBIT_PARTS = {
  ...Object.assign({}, ...KINDS.map(({ named }) => named)),
  ExhibitSpec: exhibitSchema,
}
