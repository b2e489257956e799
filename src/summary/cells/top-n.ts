import { compareMissingLast } from '../../column/rank.js'
import { type Axis, type AxisNode, pathText } from './axis.js'
import type { CellSet, CellSetKey } from './cell-set.js'

/**
 * How many of a row key are shown, and what the others together are called; without a name they are
 * left out.
 */
export interface TopN {
  key: string
  count: number
  rest?: string
  /** Which are shown, as `pathText` tells them, where another summary has decided it already. */
  shown?: ReadonlySet<string>
}

/** The headers that were decided to be shown elsewhere. */
export function shownChildren(axis: Axis, depth: number, shown: ReadonlySet<string>): Set<number> {
  return new Set(axis.depths[depth].flatMap((node, i) => (shown.has(pathText(axis, node)) ? [i] : [])))
}

/** The others of a key, under each header of which some are left out. */
export interface Others {
  /** The depth at which they stand. */
  depth: number
  label: string
  /** The headers one depth up that have others. */
  parents: readonly number[]
  /** The codes of the key that are shown, for each of `parents`. */
  shown: readonly ReadonlySet<number>[]
}

/**
 * The children kept under each header of a depth: the first by a measure, missing last; ties stay
 * in the axis' own order.
 */
export function topChildren(
  axis: Axis,
  depth: number,
  count: number,
  values: Float64Array,
  falling: boolean,
): Set<number> {
  const children: number[][] = axis.depths[depth - 1].map(() => [])
  axis.depths[depth].forEach((node, i) => {
    children[node.parent].push(i)
  })
  const sign = falling ? -1 : 1
  const kept = new Set<number>()
  for (const list of children) {
    list.sort((a, b) => compareMissingLast(values[a], values[b], sign))
    for (const node of list.slice(0, count)) kept.add(node)
  }
  return kept
}

/**
 * The axis without the headers of a depth that are not kept, and without what stands under them.
 */
export function pruned(axis: Axis, depth: number, kept: ReadonlySet<number>): Axis {
  const depths: AxisNode[][] = []
  let places: Map<number, number> | undefined
  axis.depths.forEach((nodes, d) => {
    if (d < depth) {
      depths.push([...nodes])
      return
    }
    const own = new Map<number, number>()
    const next: AxisNode[] = []
    nodes.forEach((node, i) => {
      const parent = places === undefined ? node.parent : places.get(node.parent)
      if ((d === depth && !kept.has(i)) || parent === undefined) return
      own.set(i, next.length)
      next.push({ codes: node.codes, parent })
    })
    places = own
    depths.push(next)
  })
  return { keys: axis.keys, depths }
}

/** What is left out at a depth; undefined where nothing is. */
export function restOf(axis: Axis, depth: number, kept: ReadonlySet<number>, label: string): Others | undefined {
  const shown = axis.depths[depth - 1].map(() => new Set<number>())
  const some = axis.depths[depth - 1].map(() => false)
  axis.depths[depth].forEach(({ codes, parent }, i) => {
    if (kept.has(i)) shown[parent].add(codes[depth - 1])
    else some[parent] = true
  })
  const parents = some.flatMap((has, p) => (has ? [p] : []))
  return parents.length === 0 ? undefined : { depth, label, parents, shown: parents.map((p) => shown[p]) }
}

/** The cells of what is left out: split by the keys above it, without the groups that are shown. */
export function restFrame(rows: Axis, rest: Others, columns: readonly CellSetKey[], width: number): CellSet {
  const nodes = rest.parents.map((parent) => rows.depths[rest.depth - 1][parent])
  const count = nodes.length * width
  const codes = (of: (cell: number) => number): Int32Array => Int32Array.from({ length: count }, (_, i) => of(i))
  const keys = rows.keys
    .slice(0, rest.depth - 1)
    .map((key, k) => ({ ...key, codes: codes((i) => nodes[Math.floor(i / width)].codes[k]) }))
  const across = columns.map((key) => ({ ...key, codes: codes((i) => key.codes[i % width]) }))
  const { name, domain } = rows.keys[rest.depth - 1]
  const without = { name, domain, shown: codes((i) => Math.floor(i / width)), sets: rest.shown }
  return { count, keys: [...keys, ...across], without }
}
