import { checkBands } from './bands/check.js'
import { checkBar } from './bar/check.js'
import type { Check } from './check.js'
import { checkFromColumn } from './from-column/check.js'
import { checkGradient } from './gradient/check.js'
import { checkRank } from './rank/check.js'
import type { KINDS } from './registry.js'

/**
 * How each kind is checked, apart from the kinds themselves: a page that carries checked rules runs
 * them and checks none. A plan is opaque outside its own kind.
 */
export const CHECKS: Readonly<Record<(typeof KINDS)[number]['key'], Check<unknown>>> = {
  bands: checkBands,
  gradient: checkGradient,
  bar: checkBar,
  rank: checkRank,
  fromColumn: checkFromColumn,
}
