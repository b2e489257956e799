import type { KINDS } from '../kinds/index.js'
import { checkBands } from './bands.js'
import { checkBar } from './bar.js'
import { checkBorrow } from './borrow.js'
import type { Check } from './check.js'
import { checkGradient } from './gradient.js'
import { checkRank } from './rank.js'

/**
 * How each kind is checked, apart from the kinds themselves: a page that carries checked rules runs them and checks none.
 * A plan is opaque outside its own kind.
 */
export const CHECKS: Readonly<Record<(typeof KINDS)[number]['key'], Check<unknown>>> = {
  bands: checkBands,
  gradient: checkGradient,
  bar: checkBar,
  rank: checkRank,
  borrow: checkBorrow,
}
