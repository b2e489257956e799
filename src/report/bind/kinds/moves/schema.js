// @ts-check
import { z } from 'zod'
import { keys } from '../../../../../scripts/schema/exhibit-parts.js'

const movesSchema = z.strictObject({
  of: z.string().describe('the measure whose statuses are compared'),
  by: keys,
})

/** What the key of this kind holds in an exhibit. */
export const schema = movesSchema

/** What an editor shows of it. */
export const description = 'the cells whose status changed since an earlier date'

/** The parts that have a name in TypeScript. */
export const named = { MovesSpec: movesSchema }
