/**
 * The effort of a test run. `npm test` runs every law with few seeds; `npm run test:full` (`vitest
 * run --mode full`) runs every seed, state and size, and the tool as a process throughout.
 */
export const FULL = (import.meta as { env?: { MODE?: string } }).env?.MODE === 'full'

/** A number of runs, states or rows: fewer in the short run. */
export function effort(full: number, short: number): number {
  return FULL ? full : short
}

/** Every member in the full run, every n-th in the short one, from `first` on. */
export function some<T>(list: readonly T[], every: number, first = 0): T[] {
  return list.filter((_, i) => FULL || (i + first) % every === 0)
}
