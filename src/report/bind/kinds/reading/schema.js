// @ts-check
import { z } from 'zod'
import { keys } from '../../../../../scripts/schema/exhibit-parts.js'

const readingSchema = z.strictObject({
  of: z.string().describe('the measure of the reading'),
  by: keys,
  along: z
    .string()
    .optional()
    .describe('the time unit of its strong and weak periods; default: month if there are dates'),
  versus: z.string().optional().describe('the measure that it is compared with'),
})

/** What the key of this kind holds in an exhibit. */
export const schema = readingSchema

/** What an editor shows of it. */
export const description = 'sentences about a measure'

/** The parts that have a name in TypeScript. */
export const named = { ReadingSpec: readingSchema }
