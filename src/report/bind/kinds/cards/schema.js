// @ts-check
import { z } from 'zod'
import { trendSchema } from '../../../../../scripts/schema/exhibit-parts.js'

const cardSchema = z.strictObject({
  show: z.string().describe('a measure'),
  label: z.string().optional().describe("the caption; default: the measure's label"),
  versus: z.string().optional().describe('the measure that it is compared with'),
  note: z.string().optional().describe("words with formatted values in them: '{growth} on last year'"),
  trend: trendSchema.optional().describe('a line under the value'),
})

/** What the key of this kind holds in an exhibit. */
export const schema = z.array(cardSchema).min(1)

/** What an editor shows of it. */
export const description = 'single figures'

/** The parts that have a name in TypeScript. */
export const named = { CardSpec: cardSchema }
