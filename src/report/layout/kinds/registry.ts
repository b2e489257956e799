// Made by scripts/schema/make.js from the lists in scripts/schema/registries.js.
// Change those, then run `npm run schema`.
import type { ExhibitKindKey } from '../../../spec/exhibits.js'
import type { Prepare } from './prepare.js'

/** What answers and builds each kind of exhibit; loaded when a report has it. */
export const LOAD: Readonly<Record<ExhibitKindKey, () => Promise<Prepare>>> = {
  table: async () => (await import('./table.js')).prepare,
  heatmap: async () => (await import('./heatmap.js')).prepare,
  chart: async () => (await import('./chart.js')).prepare,
  cards: async () => (await import('./cards.js')).prepare,
  records: async () => (await import('./records.js')).prepare,
  list: async () => (await import('./list.js')).prepare,
  moves: async () => (await import('./moves.js')).prepare,
  reading: async () => (await import('./reading.js')).prepare,
}
