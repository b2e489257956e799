// @ts-check
import { z } from 'zod'
import { color, limit } from '../../../../scripts/schema/parts.js'

const barSchema = z
  .strictObject({
    from: limit.optional().describe('the left end; default: 0, or lowest if some values are negative'),
    to: limit.optional().describe('the right end; default: highest, or 0 if all values are negative'),
    base: limit.optional().describe('where bars start; default: 0, or the end nearest to it'),
    color: color.optional().describe('a pigment or any CSS colour; default: stone'),
    negative: color.optional().describe('the colour left of the base; default: that of color'),
    finish: z.enum(['solid', 'fading']).optional().describe('default: solid'),
  })
  .describe('a bar in each cell: its ends and its colours')

/** What the key of this kind holds in a rule. */
export const schema = barSchema

/** What an editor shows of it. */
export const description = 'where the value lies between two ends, as a bar in its cell'

/** The parts that have a name in TypeScript. */
export const named = { BarSpec: barSchema }
