import type { Axis } from '../../../summary/cells/axis.js'

/**
 * For each node of each depth of an axis, the node with the same keys on another axis with the same
 * keys in the same order; -1 where there is none. Periods of time are the same period.
 */
export function pairNodes(axis: Axis, other: Axis): Int32Array[] {
  const codes = axis.keys.map((_, k) => pairCodes(axis, other, k))
  const paired = [Int32Array.of(0)]
  for (let depth = 1; depth < axis.depths.length; depth++) {
    const k = depth - 1
    const size = sizeOf(other, k)
    const byPlace = new Map<number, number>()
    other.depths[depth].forEach((node, i) => {
      byPlace.set(node.parent * size + node.codes[k] + 1, i)
    })
    const nodes = axis.depths[depth]
    const above = paired[k]
    const pairs = new Int32Array(nodes.length)
    for (const [i, node] of nodes.entries()) {
      const code = node.codes[k]
      const [parent, known] = [above[node.parent], code < 0 ? -1 : codes[k][code]]
      pairs[i] = parent < 0 || known === ABSENT ? -1 : (byPlace.get(parent * size + known + 1) ?? -1)
    }
    paired.push(pairs)
  }
  return paired
}

/** A value that the other axis does not have; -1 is the missing group. */
const ABSENT = -2

function sizeOf({ keys }: Axis, k: number): number {
  const { domain } = keys[k]
  return (domain.kind === 'text' ? domain.words : domain.periods).length + 1
}

/** The code of each value of a key on the other axis. */
function pairCodes(axis: Axis, other: Axis, k: number): Int32Array {
  const [here, there] = [axis, other].map(({ keys }) => {
    const { domain } = keys[k]
    return domain.kind === 'text' ? domain.words : domain.periods
  })
  const codes = new Map<string | number, number>()
  there.forEach((value, code) => {
    codes.set(value, code)
  })
  return Int32Array.from(here as readonly (string | number)[], (value) => codes.get(value) ?? ABSENT)
}
