/** The shapes of rules as written come from the one schema of the report file. */
export type { BandSpec, BarSpec, BorrowSpec, GradientSpec, Limit, Outcome, RankSpec, RuleSpec } from '../file/spec.js'
