// @ts-check
import { z } from 'zod'

/** What the parts of the schema are made of. */

export const expression = z.string().describe('an expression')
export const number = z.number()
export const limit = z
  .union([number, z.string()])
  .describe('a number, or an expression in which value is the judged value')
export const literal = z.union([z.string(), number, z.boolean()])
export const names = z.union([z.string(), z.array(z.string()).min(1)])
/** A text for which TypeScript suggests names; own names are texts like any other. */
export const pigment = z.string().meta({ names: 'PigmentName' })
export const color = z.string().meta({ names: 'ColorName' })
export const drawing = z.string().meta({ names: 'IconName' })

export const styleSchema = z
  .strictObject({
    wash: pigment.optional().describe('a pigment: sets the fill and a readable ink together'),
    fill: color.optional().describe('a pigment or any CSS colour'),
    ink: color.optional().describe('a pigment or any CSS colour'),
    weight: z.enum(['bold', 'normal']).optional().describe('of the text'),
    icon: drawing
      .optional()
      .describe(
        'an icon, a step of a family such as petals-2-of-5, or bySign: the arrow by the sign of the judged value',
      ),
    flag: z.string().optional().describe("words with formatted values in them: '{growth} {status}'"),
    picture: z.string().optional().describe('an image file beside the report, or a data URL'),
    hide: z
      .enum(['value', 'icon'])
      .optional()
      .describe('hides the value or icon; it stays in tooltips, in exports and for assistive technology'),
  })
  .describe('the style of a cell; channels that are left out are left to other rules')

export const outcome = z.union([z.string(), styleSchema]).describe('a status by name, or a style')
/** A status and a style as keys beside others. */
export const outcomes = {
  status: z.string().optional().describe('a status by name'),
  style: styleSchema.optional().describe('a style without a status'),
}

export const level = z
  .enum(['detail', 'subtotal', 'total'])
  .describe('a detail has every key of its exhibit, a total has none, a subtotal some of them')
