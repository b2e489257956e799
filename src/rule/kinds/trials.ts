// Made by scripts/schema/make.js from the lists in scripts/schema/registries.js.
// Change those, then run `npm run schema`.
import type { RuleKindKey } from '../../spec/rules.js'
import type { Trials } from '../model.js'
import { trials as bands } from './bands/trials.js'
import { trials as bar } from './bar/trials.js'
import { trials as gradient } from './gradient/trials.js'
import { trials as rank } from './rank/trials.js'

/** What `rehearse` tries of each kind; one without trials has no limits to try. */
// biome-ignore lint/suspicious/noExplicitAny: each kind reads back only what it made itself
export const TRIALS: Readonly<Partial<Record<RuleKindKey, Trials<any, any>>>> = { bands, gradient, bar, rank }
