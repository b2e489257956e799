import type { BoundRule } from '../model.js'

/** Each kind by itself, for a page that carries rules of some: it loads no others. */
const LOAD: Readonly<Record<BoundRule['kind']['key'], () => Promise<BoundRule['kind']>>> = {
  bands: async () => (await import('./bands.js')).bands,
  gradient: async () => (await import('./gradient.js')).gradient,
  bar: async () => (await import('./bar.js')).bar,
  rank: async () => (await import('./rank.js')).rank,
  borrow: async () => (await import('./borrow.js')).borrow,
}

export function loadKinds(keys: readonly BoundRule['kind']['key'][]): Promise<BoundRule['kind'][]> {
  return Promise.all(keys.map((key) => LOAD[key]()))
}
