// Made by scripts/schema/make.js from the lists in scripts/schema/registries.js.
// Change those, then run `npm run schema`.
import type { RuleKindKey } from '../../spec/rules.js'
import type { Production } from '../grammar/productions.js'
import { check as bands } from './bands/check.js'
import { clauses as bandsClauses } from './bands/sentence.js'
import { check as bar } from './bar/check.js'
import { clauses as barClauses } from './bar/sentence.js'
import type { Check } from './check.js'
import { check as fromColumn } from './from-column/check.js'
import { clauses as fromColumnClauses } from './from-column/sentence.js'
import { check as gradient } from './gradient/check.js'
import { clauses as gradientClauses } from './gradient/sentence.js'
import { check as rank } from './rank/check.js'
import { clauses as rankClauses } from './rank/sentence.js'

/**
 * How each kind is checked and written as a sentence, apart from the kinds themselves: a page with
 * checked rules runs them and checks none. A plan is opaque outside its own kind.
 */
export const CHECKS: Readonly<Record<RuleKindKey, { check: Check<unknown>; clauses: Production }>> = {
  bands: { check: bands, clauses: bandsClauses },
  gradient: { check: gradient, clauses: gradientClauses },
  bar: { check: bar, clauses: barClauses },
  rank: { check: rank, clauses: rankClauses },
  fromColumn: { check: fromColumn, clauses: fromColumnClauses },
}
