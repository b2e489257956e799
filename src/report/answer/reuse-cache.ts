import type { Cell, RecordCell } from '../../page/page.js'
import type { RunCache, StyleCache } from '../../rule/model.js'
import { createRunCache } from '../../rule/run/run-cache.js'
import type { Level } from '../../summary/cells/summarise.js'
import type { ReuseCache } from '../model/answered.js'

export function createReuseCache(): ReuseCache {
  const kept = new Map<Level, RunCache>()
  const looks = new Map<Level, Map<string, StyleCache>>()
  const cells = new Map<Level, Map<string, (Cell | RecordCell)[]>>()
  return {
    runCache: (level) => taken(kept, level, createRunCache),
    styleCaches: (level) => taken(looks, level, () => new Map()),
    cells: (level, measure) =>
      taken(
        taken(cells, level, () => new Map()),
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
  }
}

function taken<K, V>(from: Map<K, V>, key: K, make: () => V): V {
  let found = from.get(key)
  if (found === undefined) {
    found = make()
    from.set(key, found)
  }
  return found
}
