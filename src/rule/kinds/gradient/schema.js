// @ts-check
import { z } from 'zod'
import { color, drawing, limit } from '../../../../scripts/schema/parts.js'

const ramp = z.string().meta({ names: 'Ramp' })
const gradientSchema = z
  .strictObject({
    ramp: z
      .union([ramp, z.array(color)])
      .optional()
      .describe(
        'pigments or colours from low to high; one pigment: paper to it; or badToGood, by the direction of the measure',
      ),
    icons: z
      .union([drawing, z.array(drawing).min(2)])
      .optional()
      .describe('instead of a ramp: icons from low to high, or a family: petals, arrows, stems'),
    from: limit.optional().describe('the low end; default: lowest'),
    middle: limit.optional().describe('default: 0 if the ends are on both sides of zero, else halfway'),
    to: limit.optional().describe('the high end; default: highest'),
    steps: z.int().min(2).max(64).optional().describe('a number of steps; left out, the ramp is smooth'),
    as: z
      .enum(['fill', 'ink', 'icon'])
      .optional()
      .describe('the channel that is set; default: fill, or icon with icons'),
  })
  .describe('a scale of colours or icons, and its ends')

/** What the key of this kind holds in a rule. */
export const schema = gradientSchema

/** What an editor shows of it. */
export const description = 'where the value lies between two ends, as a colour'

/** The parts that have a name in TypeScript. */
export const named = { GradientSpec: gradientSchema }
