import type { Cell, RecordCell } from '../../page/page.js'
import type { RunCache, StyleCache } from '../../rule/model.js'
import { createRunCache } from '../../rule/run/run-cache.js'
import type { Level } from '../../summary/cells/summarise.js'
import type { ReuseCache } from '../model/answered.js'

/**
 * The one cache of what is decided again. Its contract:
 *
 * - A cache belongs to one summary of one exhibit. A new summary needs a new cache;
 *   moving a parameter that no measure reads keeps summary and cache (`redecideExhibit`).
 * - What stands in it holds whatever the parameters are, or is compared with what they give now
 *   before it is taken: a cell is taken where its style, bar, flag and status text are those of
 *   before.
 * - So **the same object means: nothing has changed.** It holds for cells, lists of cells, rows,
 *   headings, legends, exhibits and styles. What is said to be unchanged further on (`PagePatch`,
 *   rows that a page does not write again, cells that are not compared) is read from this alone.
 * - Nothing that was put in is written to afterwards.
 * - A report that is decided once has none, and everything works without.
 */
export function createReuseCache(): ReuseCache {
  const runs = new Map<Level, RunCache>()
  const styles = new Map<Level, Map<string, StyleCache>>()
  const cells = new Map<Level, Map<string, (Cell | RecordCell)[]>>()
  return {
    runCache: (level) => entry(runs, level, createRunCache),
    styleCaches: (level) => entry(styles, level, () => new Map()),
    cells: (level, measure) =>
      entry(
        entry(cells, level, () => new Map()),
        measure,
        () => [],
      ),
    printers: new Map(),
    keys: new Map(),
    hidden: new Map(),
    drawn: new WeakMap(),
    order: undefined,
    legends: new WeakMap(),
    rows: [],
    headings: [],
    ends: [],
    painted: [],
  }
}

/** An entry of a map, made where there is none. */
function entry<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  const cached = map.get(key)
  if (cached !== undefined) return cached
  const value = make()
  map.set(key, value)
  return value
}
