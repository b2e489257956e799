import type { BoundRule } from '../model.js'

/** Each kind by itself, for a page that carries rules of some: it loads no others. */
const LOAD: Readonly<Record<BoundRule['kind']['key'], () => Promise<BoundRule['kind']>>> = {
  bands: async () => (await import('./bands/run.js')).bands,
  gradient: async () => (await import('./gradient/run.js')).gradient,
  bar: async () => (await import('./bar/run.js')).bar,
  rank: async () => (await import('./rank/run.js')).rank,
  fromColumn: async () => (await import('./from-column/run.js')).fromColumn,
}

export function loadKinds(keys: readonly BoundRule['kind']['key'][]): Promise<BoundRule['kind'][]> {
  return Promise.all(keys.map((key) => LOAD[key]()))
}
