// @ts-check
import { z } from 'zod'
import { CATALOGUE } from '../../dist/problem/catalogue/findings.js'
import { since } from './exhibit-parts.js'
import { EXHIBIT_PARTS, exhibitSchema } from './exhibits.js'
import { expression, level, limit, names, number, outcome, styleSchema } from './parts.js'
import { loadSchemas, RULE_KINDS } from './registries.js'

/** The kinds of rules, each with the schema in its own folder. */
const KINDS = await loadSchemas('src/rule/kinds', RULE_KINDS)

const FINDING_CODES = /** @type {[string, ...string[]]} */ (Object.keys(CATALOGUE))

/**
 * The one schema of a report: the TypeScript types, the JSON Schema and the table that shapes are
 * checked by are made from it (see make.js). A `describe` is what an editor shows; names that refer
 * to each other are checked elsewhere, where their meaning is known.
 */

const better = z.enum(['higher', 'lower', 'neither']).describe('which direction is good; default: none')
const format = z
  .string()
  .describe(
    'money CUR, percent or number, then digits, signed, compact, and for a number unit: money EUR 0 signed, number 1 unit kg',
  )

export const statusSchema = styleSchema
  .extend({
    label: z.string().optional().describe('for readers; default: the name'),
    verdict: z.enum(['good', 'fair', 'bad']).optional().describe('whether it is good news; left out, it is neither'),
  })
  .describe('a state of a cell with its style')

export const ruleSchema = z.strictObject({
  name: z.string().optional().describe('an id, unique; default: derived from its title or kind'),
  title: z.string().optional().describe('for readers; default: the name'),
  paint: names.describe(
    'the measures, fields or row headings painted, each a population of its own; row is whole rows, all every measure',
  ),
  judge: expression.optional().describe('the expression whose value decides; default: the painted one'),
  where: expression.optional().describe('selects the painted cells, never the population'),
  among: expression.optional().describe('selects the population'),
  within: names.optional().describe('each group is a population of its own'),
  grain: names.optional().describe('the keys that a cell must be split by for the rule to apply'),
  only: z.array(z.string()).min(1).optional().describe('the exhibits it is for; default: all that show the measure'),
  levels: z
    .union([level, z.literal('all'), z.array(level).min(1)])
    .optional()
    .describe('the cells it is for: details, subtotals and the others of a key, totals, or all three; default: detail'),
  oneScale: z
    .boolean()
    .optional()
    .describe('the painted measures, or columns of records, are one population on one scale; their units must agree'),
  hide: z.enum(['value', 'icon']).optional().describe('what it hides of the cells that it matches'),
  icon: z
    .enum(['before', 'after'])
    .optional()
    .describe(
      'where its icons stand: before or after the number; a cell can have one at each side, of two rules; default: before',
    ),
  final: z.boolean().optional().describe('no later rule paints the cells that it matches'),
  paused: z.boolean().optional().describe('kept, not applied'),
  unfinished: z
    .literal('unpainted')
    .optional()
    .describe('leaves cells unpainted whose own period ends after the date of the report; default: painted'),
  ...Object.fromEntries(KINDS.map(({ key, schema, description }) => [key, schema.optional().describe(description)])),
})

const sentence = z
  .string()
  .describe("a rule as one sentence: 'revenue of each shop: at least target → ahead; otherwise → behind'")

export const saidSchema = z
  .strictObject({
    name: z.string().optional().describe('an id, unique; default: derived from its title or kind'),
    title: z.string().optional().describe('for readers; default: the name'),
    say: sentence,
  })
  .describe('a rule as a sentence, with a name or a title')

// A sentence without quotes is a map of one entry for YAML; rules are sentences or have keys.
const unquoted = z.record(z.string(), z.string()).meta({ maxProperties: 1, minProperties: 1, inText: true })

export const writtenRuleSchema = z
  .union([ruleSchema, saidSchema, sentence, unquoted])
  .meta({ shapedAs: 'first' })
  .describe('a rule in keys, or as a sentence')

export const measureSchema = z.union([
  expression,
  z.strictObject({
    formula: expression,
    label: z.string().optional().describe('for readers; default: the name'),
    format: format.optional(),
    better: better.optional(),
  }),
])

export const parameterSchema = z
  .union([
    number,
    z.string().describe('a number, or a percent such as 15%'),
    z.strictObject({
      value: z.union([number, z.string()]).describe('a number, or a percent such as 15%'),
      from: z.union([number, z.string()]).optional().describe('the lowest a reader can set'),
      to: z.union([number, z.string()]).optional().describe('the highest a reader can set'),
      step: number.optional().describe('the step of the control in a live page'),
      label: z.string().optional().describe('for readers; default: the name'),
      format: format.optional(),
    }),
  ])
  .describe('a named number, or one with its bounds, label and format')

const pigmentSchema = z.union([
  z.string().describe('any CSS colour; wash and ink are derived from it'),
  z.strictObject({
    wash: z.string().describe('for fills'),
    body: z.string().describe('for bars and marks'),
    ink: z.string().describe('for text on the wash'),
  }),
])

const sourceSchema = z.strictObject({
  file: z
    .string()
    .describe(
      'CSV, TSV, JSON, NDJSON, Parquet or an OpenDocument spreadsheet, texts also gzipped; a pattern such as orders-*.csv; or stdin; relative to the report',
    )
    .optional(),
  sheet: z
    .string()
    .optional()
    .describe('of a workbook: the sheet, or a pattern such as 20*, whose names become a column; default: the first'),
  range: z
    .string()
    .optional()
    .describe('of a workbook: the range of the table with its header, as A3:H200 or A:H; default: all that is used'),
  header: z
    .number()
    .int()
    .positive()
    .optional()
    .describe('of a workbook: the row of the header; default: the first with a word above every column'),
  merged: z
    .enum(['repeat'])
    .optional()
    .describe('of a workbook: fills the cells that a merged one covers; default: they are missing'),
  postgres: z
    .string()
    .optional()
    .describe(
      'instead of a file: env: and the environment variable that holds the address of a server, as in env:LEDGER_URL',
    ),
  table: z.string().optional().describe('a table or view of the server'),
  query: z.string().optional().describe('a SELECT instead of a table'),
  timeLimit: z.number().positive().optional().describe('time limit of a statement in seconds; default: 60'),
  engine: z
    .enum(['memory', 'duckdb'])
    .optional()
    .describe('the engine of a Parquet file; default: duckdb for a large one if it is installed, else memory'),
  date: z.string().optional().describe('the column with the date'),
  read: z
    .record(z.string(), z.string())
    .optional()
    .describe('declared formats of columns: text, condition, number comma, date dd/mm/yyyy; default: inferred'),
  labels: z.record(z.string(), z.string()).optional().describe('labels of keys for readers; default: their names'),
  match: z
    .union([z.string(), z.array(z.union([z.string(), z.record(z.string(), z.string())]))])
    .optional()
    .describe(
      'the keys on which it is joined with the first source, besides time; with shop: shop_name where a lookup table calls the key shop otherwise',
    ),
  lookup: z
    .union([z.boolean(), z.enum(['exact', 'latest'])])
    .optional()
    .describe(
      'its columns are looked up by match and may stand wherever a column may, as in shops.manager: true without a date; exact for the row of the same period, latest for the last one at or before it',
    ),
  per: z
    .enum(['year', 'quarter', 'month', 'week', 'day'])
    .optional()
    .describe('of a lookup table without a date: its amounts are for each such period, as a monthly target'),
  grain: z
    .enum(['year', 'quarter', 'month', 'week', 'day'])
    .optional()
    .describe('the period of a date; default: the precision of its text'),
  expect: z
    .record(z.string(), number)
    .optional()
    .describe('control totals: rows, and sums of columns; other data are refused'),
  stack: z
    .strictObject({
      columns: z.array(z.string()).min(1).optional().describe('left out if the data are such pairs already'),
      name: z.string().describe('the new column of names'),
      value: z.string().describe('the new column of values'),
      unlike: z
        .boolean()
        .optional()
        .describe(
          'whether the values measure different things, which are never added; default: true if columns is left out',
        ),
    })
    .optional()
    .describe('turns columns into pairs of a name and a value'),
  unstack: z
    .strictObject({
      name: z.string().describe('the column whose values become columns'),
      value: z.string().describe('the new column of their values'),
    })
    .optional()
    .describe('turns pairs of a name and a value into columns'),
  strict: z.boolean().optional().describe('refuses values that cannot be read, instead of counting them as missing'),
})

export const reportSchema = z
  .strictObject({
    title: z.string().describe('the heading of the page'),
    note: z.string().optional().describe('words under the title'),
    locale: z.string().optional().describe('BCP 47; default: en'),
    asOf: z.string().optional().describe('latest (default), or an ISO 8601 date'),
    since: since.optional(),
    period: z
      .union([z.string(), number])
      .optional()
      .describe('the period of exhibits without one of their own; default: all'),
    where: expression.optional(),
    calendar: z
      .strictObject({
        yearStarts: z
          .enum([
            'January',
            'February',
            'March',
            'April',
            'May',
            'June',
            'July',
            'August',
            'September',
            'October',
            'November',
            'December',
          ])
          .optional()
          .describe('the month in which years begin; they are named by the year they begin in; default: January'),
        zone: z
          .string()
          .optional()
          .describe('an IANA time zone: moments are converted to it before their day is taken'),
      })
      .optional(),
    sources: z
      .record(z.string(), sourceSchema)
      .describe('where rows come from, by name; the first is the one that exhibits are split by'),
    labels: z
      .record(z.string(), z.string())
      .optional()
      .describe('labels of keys for readers, whatever their source; default: those of the sources, or their names'),
    fields: z.record(z.string(), z.record(z.string(), expression)).optional().describe('worked out per row, by source'),
    measures: z
      .record(z.string(), measureSchema)
      .optional()
      .describe('the aggregated values, as formulas; a report that only lists rows has none'),
    parameters: z.record(z.string(), parameterSchema).optional().describe('named numbers for limits and formulas'),
    include: z
      .array(z.string())
      .min(1)
      .optional()
      .describe(
        'files shared with other reports: their rules, statuses, parameters, pigments and icons, and their sources, fields, measures, labels and calendar',
      ),
    statuses: z
      .record(z.string(), statusSchema)
      .optional()
      .describe('the states of cells with their styles; legends keep this order'),
    pigments: z
      .record(z.string(), pigmentSchema)
      .optional()
      .describe('colours of the report under new or house names: one colour, or wash, body and ink'),
    icons: z.record(z.string(), z.string()).optional().describe('icons of the report: image files, or data URLs'),
    rules: z
      .array(writtenRuleSchema)
      .optional()
      .describe('in order of precedence: the first that sets a channel of a cell wins it'),
    exhibits: z.array(exhibitSchema).describe('what is on the page, in this order'),
    strip: z
      .string()
      .optional()
      .describe(
        'the exhibit and measure whose statuses are counted in the band under the title, as shops.revenue, or none; default: the first table, heatmap, chart or list with statuses',
      ),
    filters: z
      .array(z.string())
      .min(1)
      .optional()
      .describe('what the reader of a live report may filter by: columns and fields of the first source, and period'),
    proof: z
      .strictObject({
        ignore: z
          .array(
            z.strictObject({
              code: z.enum(FINDING_CODES).meta({ names: 'FindingCode' }).describe('its code'),
              at: z.string().optional().describe('a rule, exhibit, exhibit.measure, status …; left out: everywhere'),
              because: z.string().describe('the reason, for readers of the file'),
            }),
          )
          .optional(),
      })
      .optional()
      .describe('findings that proof ignores'),
  })
  .describe('a report as written, in a file or as a plain object')

/** The JSON Schema of a report file, for editors. */
export function reportJsonSchema() {
  return {
    $id: 'https://acuarela.example/report.schema.json',
    title: 'Acuarela report',
    ...z.toJSONSchema(reportSchema, {
      // For the TypeScript types and the table of shapes alone.
      override: ({ jsonSchema }) => {
        for (const key of ['names', 'shapedAs', 'inText']) delete jsonSchema[key]
      },
    }),
    // A report that includes others may have its sources from them alone.
    required: ['title', 'exhibits'],
    anyOf: [{ required: ['sources'] }, { required: ['include'] }],
  }
}

/** The parts that have a name in TypeScript. */
export const NAMED = {
  Limit: limit,
  Style: styleSchema,
  Status: statusSchema,
  Outcome: outcome,
  LevelName: level,
  ...Object.assign({}, ...KINDS.map(({ named }) => named)),
  RuleSpec: ruleSchema,
  SaidRule: saidSchema,
  WrittenRule: writtenRuleSchema,
  MeasureEntry: measureSchema,
  ParameterSpec: parameterSchema,
  PigmentSpec: pigmentSchema,
  SourceSpec: sourceSchema,
  ...EXHIBIT_PARTS,
  ReportSpec: reportSchema,
}
