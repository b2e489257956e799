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
