// @ts-check
import { tableSchema } from '../../../../../scripts/schema/exhibit-parts.js'

/** What the key of this kind holds in an exhibit. */
export const schema = tableSchema

/** What an editor shows of it. */
export const description = 'a table of coloured fields without gaps'

/** The parts that have a name in TypeScript. */
export const named = {}
