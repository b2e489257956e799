// @ts-check
import { z } from 'zod'

const fromColumnSchema = z
  .strictObject({
    status: z.string().optional().describe('a text column of names or labels of statuses'),
    fill: z.string().optional().describe('a text column of pigments or CSS colours'),
    ink: z.string().optional().describe('a text column of pigments or CSS colours'),
    icon: z.string().optional().describe('a text column of icons'),
    picture: z.string().optional().describe('a text column of image files or data URLs'),
  })
  .describe('the text columns that styles are taken from')

/** What the key of this kind holds in a rule. */
export const schema = fromColumnSchema

/** What an editor shows of it. */
export const description = 'text columns that already hold the answer'

/** The parts that have a name in TypeScript. */
export const named = { FromColumnSpec: fromColumnSchema }
