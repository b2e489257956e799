import type { Cell, RecordCell } from '../../page/page.js'
import type { Kept, LookCache } from '../../rule/model.js'
import { createKept } from '../../rule/run/run-cache.js'
import type { Level } from '../../summary/cells/summarise.js'
import type { Memory } from '../model/answered.js'

export function createMemory(): Memory {
  const kept = new Map<Level, Kept>()
  const looks = new Map<Level, Map<string, LookCache>>()
  const cells = new Map<Level, Map<string, (Cell | RecordCell)[]>>()
  return {
    kept: (level) => taken(kept, level, createKept),
    looks: (level) => taken(looks, level, () => new Map()),
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
