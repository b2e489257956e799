// Made by scripts/schema/make.js from the lists in scripts/schema/registries.js.
// Change those, then run `npm run schema`.
import type { RuleKindKey } from '../../spec/rules.js'
import type { BoundRule } from '../model.js'

/** Each kind by itself, for a page whose rules are of some kinds only: it loads no others. */
const LOAD: Readonly<Record<RuleKindKey, () => Promise<BoundRule['kind']>>> = {
  bands: async () => (await import('./bands/run.js')).kind,
  gradient: async () => (await import('./gradient/run.js')).kind,
  bar: async () => (await import('./bar/run.js')).kind,
  rank: async () => (await import('./rank/run.js')).kind,
  fromColumn: async () => (await import('./from-column/run.js')).kind,
}

/** Loads kinds by their keys, in that order. */
export function loadKinds(keys: readonly RuleKindKey[]): Promise<BoundRule['kind'][]> {
  return Promise.all(keys.map((key) => LOAD[key]()))
}
