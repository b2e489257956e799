// @ts-check
import { z } from 'zod'
import { keys, sorts } from '../../../../../scripts/schema/exhibit-parts.js'
import { names } from '../../../../../scripts/schema/parts.js'

const listSchema = z.strictObject({
  status: names.describe('the statuses whose cells are listed'),
  of: z.string().describe('the measure whose cells are judged'),
  by: keys,
  show: names.optional().describe('more measures beside it'),
  sort: sorts.optional().describe('default: from the lowest if higher is better, else from the highest'),
})

/** What the key of this kind holds in an exhibit. */
export const schema = listSchema

/** What an editor shows of it. */
export const description = 'the cells of some statuses, by name'

/** The parts that have a name in TypeScript. */
export const named = { ListSpec: listSchema }
