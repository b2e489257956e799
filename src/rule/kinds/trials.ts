import type { BoundRule, Trials } from '../model.js'
import { bandsTrials } from './bands/trials.js'
import { barTrials } from './bar/trials.js'
import { gradientTrials } from './gradient/trials.js'
import { rankTrials } from './rank/trials.js'

/** What `rehearse` tries of each kind. What comes from a column has no limits to try. */
// biome-ignore lint/suspicious/noExplicitAny: each kind reads back only what it made itself
export const TRIALS: Readonly<Record<BoundRule['kind']['key'], Trials<any, any>>> = {
  bands: bandsTrials,
  bar: barTrials,
  gradient: gradientTrials,
  rank: rankTrials,
  fromColumn: { boundaries: () => [] },
}
