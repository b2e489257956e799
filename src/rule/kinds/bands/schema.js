// @ts-check
import { z } from 'zod'
import { expression, limit, literal, outcome, outcomes } from '../../../../scripts/schema/parts.js'

const bandSchema = z
  .strictObject({
    atLeast: limit.optional(),
    above: limit.optional(),
    atMost: limit.optional(),
    below: limit.optional(),
    equals: literal.optional().describe('plain text, number, period, true or false; never a name'),
    in: z.array(literal).min(1).optional().describe('any of these values, as in equals'),
    contains: z.string().optional().describe('a part of the judged text'),
    when: expression.optional().describe('a free condition'),
    missing: outcome
      .optional()
      .describe('the status or style of a missing value, or of one compared with a missing limit'),
    otherwise: outcome.optional().describe('the status or style of all other values; comes last'),
    ...outcomes,
  })
  .describe('one band: its limits or condition, and its status or style')

/** What the key of this kind holds in a rule. */
export const schema = z.array(bandSchema).min(1)

/** What an editor shows of it. */
export const description = 'limits in order; the first that holds decides'

/** The parts that have a name in TypeScript. */
export const named = { BandSpec: bandSchema }
