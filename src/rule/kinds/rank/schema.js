// @ts-check
import { z } from 'zod'
import { number, outcome, outcomes } from '../../../../scripts/schema/parts.js'

const size = z.union([number, z.string()]).describe('a count, or a share such as 10%')

const rankSchema = z
  .strictObject({
    top: size.optional(),
    bottom: size.optional(),
    best: size.optional().describe('the good end, by the direction of the measure'),
    worst: size.optional(),
    split: z
      .array(z.strictObject({ share: size.optional(), otherwise: outcome.optional(), ...outcomes }))
      .min(1)
      .optional()
      .describe('parts from best to worst, or from highest to lowest without a direction'),
    of: z
      .string()
      .optional()
      .describe('what the shares of a split are shares of: a measure, or value; default: the number of cells'),
    ...outcomes,
  })
  .describe('which places of the population get something: one end of it, or parts of it')

/** What the key of this kind holds in a rule. */
export const schema = rankSchema

/** What an editor shows of it. */
export const description = "the value's place in its population"

/** The parts that have a name in TypeScript. */
export const named = { RankSpec: rankSchema }
