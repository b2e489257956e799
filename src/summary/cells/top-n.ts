import { compareMissingLast } from '../../column/rank.js'
import { type Axis, type AxisNode, pathText, placedBelow } from './axis.js'
import type { CellSet, CellSetKey } from './cell-set.js'

/** Top n of a row key, and the label of the others; without one they are left out. */
export interface TopN {
  key: string
  count: number
  /** The first n over all groups, instead of those of each group. */
  of?: 'table'
  rest?: string
  /** The shown headings, as `pathText` names them, if another summary determines them. */
  shown?: ReadonlySet<string>
}

/** The headings that another summary determined. */
export function shownChildren(axis: Axis, depth: number, shown: ReadonlySet<string>): Set<number> {
  return new Set(axis.depths[depth].flatMap((node, i) => (shown.has(pathText(axis, node)) ? [i] : [])))
}

/** The others of a key, under each heading that has some. */
export interface Others {
  /** The depth of the key. */
  depth: number
  label: string
  /** The parent headings that have others. */
  parents: readonly number[]
  /** The shown codes of the key, for each of `parents`. */
  shown: readonly ReadonlySet<number>[]
}

/**
 * The shown headings of a depth: the first n of each group by a measure, or of all, missing last;
 * ties keep the order of the axis.
 */
export function topChildren(
  axis: Axis,
  depth: number,
  { count, of }: TopN,
  values: Float64Array,
  falling: boolean,
): Set<number> {
  const groups: number[][] = of === 'table' ? [[]] : axis.depths[depth - 1].map(() => [])
  axis.depths[depth].forEach((node, i) => {
    groups[of === 'table' ? 0 : node.parent].push(i)
  })
  const sign = falling ? -1 : 1
  const kept = new Set<number>()
  for (const list of groups) {
    list.sort((a, b) => compareMissingLast(values[a], values[b], sign))
    for (const node of list.slice(0, count)) kept.add(node)
  }
  return kept
}

/**
 * The axis with the shown headings of a depth alone, and the others of its groups. Of the first n
 * of a table, groups without a shown heading are left out, and are others of their own group.
 */
export function keptRows(
  axis: Axis,
  depth: number,
  kept: ReadonlySet<number>,
  keep: TopN,
): { rows: Axis; rests: Others[] } {
  // Codes stay the same objects while headings around them are left out.
  const shown: Set<AxisNode['codes']>[] = []
  let nodes = [...kept]
  for (let d = depth; d > (keep.of === 'table' ? 0 : depth - 1); d--) {
    shown[d] = new Set(nodes.map((i) => axis.depths[d][i].codes))
    nodes = [...new Set(nodes.map((i) => axis.depths[d][i].parent))]
  }
  const rests: Others[] = []
  let rows = axis
  shown.forEach((codes, d) => {
    const here = new Set(rows.depths[d].flatMap((node, i) => (codes.has(node.codes) ? [i] : [])))
    const rest = keep.rest === undefined ? undefined : restOf(rows, d, here, keep.rest)
    if (rest !== undefined) rests.push(rest)
    rows = pruned(rows, d, here)
  })
  return { rows, rests }
}

/** The axis without the headings of a depth that are not shown, and without their descendants. */
function pruned(axis: Axis, depth: number, kept: ReadonlySet<number>): Axis {
  const depths: AxisNode[][] = []
  let places: Map<number, number> | undefined
  axis.depths.forEach((nodes, d) => {
    if (d < depth) {
      depths.push([...nodes])
      return
    }
    const placeOf = new Map<number, number>()
    const next: AxisNode[] = []
    nodes.forEach((node, i) => {
      const parent = places === undefined ? node.parent : places.get(node.parent)
      if ((d === depth && !kept.has(i)) || parent === undefined) return
      placeOf.set(i, next.length)
      next.push(placedBelow(node, parent))
    })
    places = placeOf
    depths.push(next)
  })
  return { keys: axis.keys, depths }
}

/** The others at a depth; undefined if there are none. */
function restOf(axis: Axis, depth: number, kept: ReadonlySet<number>, label: string): Others | undefined {
  const shown = axis.depths[depth - 1].map(() => new Set<number>())
  const some = axis.depths[depth - 1].map(() => false)
  axis.depths[depth].forEach(({ codes, parent }, i) => {
    if (kept.has(i)) shown[parent].add(codes[depth - 1])
    else some[parent] = true
  })
  const parents = some.flatMap((has, p) => (has ? [p] : []))
  return parents.length === 0 ? undefined : { depth, label, parents, shown: parents.map((p) => shown[p]) }
}

/** The cells of the others: split by the keys above, without the shown groups. */
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
