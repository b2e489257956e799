import type { LevelName } from '../spec/rules.js'

/** The levels of cells, the finest first. */
export const LEVELS: readonly LevelName[] = ['detail', 'subtotal', 'total']

/** `details, subtotals and totals`. */
export function levelsText(levels: readonly LevelName[]): string {
  const plural = LEVELS.filter((level) => levels.includes(level)).map((level) => `${level}s`)
  return plural.length < 2 ? plural.join() : `${plural.slice(0, -1).join(', ')} and ${plural.at(-1)}`
}
