import type { NumberPrinter } from '../format/format.js'
import type { Legend } from '../look/legend.js'
import type { Look } from '../look/look.js'
import type { Cell, Keys, RecordCell, Row } from '../page/page.js'
import { createKept, type Kept } from '../rule/kept.js'
import type { LookCache } from '../rule/layers.js'
import type { AxisNode } from '../summary/axis.js'
import type { Level } from '../summary/summarise.js'

/**
 * What was made of one summary and may be taken again when the same summary is decided with other values of parameters: what looks as before
 * is the same object as before, so that whoever draws it sees at once that nothing changed.
 */
export interface Memory {
  /** What rules found out about the cells of a level. */
  kept(level: Level): Kept
  /** Looks of a level settled before, by what is painted. */
  looks(level: Level): Map<string, LookCache>
  /** The cells of one column of a level, by their place. */
  cells(level: Level, measure: string): (Cell | RecordCell)[]
  printers: Map<string, NumberPrinter>
  keys: Map<AxisNode, Keys>
  /** Looks with their number hidden, by the look without. */
  hidden: Map<Look, Look>
  /** Cells with a bar or dot that the exhibit asks for, by the cell without. */
  drawn: WeakMap<Cell, Cell>
  order: ((depth: number, node: number) => number[]) | undefined
  /** Keys to ramps, which no other rule changes, by what their rule gave. */
  legends: WeakMap<object, Legend>
  /** Rows as they were laid out last. */
  rows: readonly Row[]
}

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
