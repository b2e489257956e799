import { compareMissingLast } from '../../column/rank.js'
import type { AnsweredExhibit } from '../model/answered.js'

/**
 * The children of a heading in their order: that of the axis, or by the total of a measure, missing
 * last.
 */
export function childOrder(answered: AnsweredExhibit): (depth: number, node: number) => number[] {
  const { cache: memory } = answered
  const order = memory?.order ?? orderOf(answered)
  if (memory !== undefined) memory.order = order
  return order
}

function orderOf({ exhibit, summary }: AnsweredExhibit): (depth: number, node: number) => number[] {
  const axis = summary.rows
  const { sort } = exhibit
  const children = axis.depths.slice(0, -1).map((nodes, depth) => {
    const lists: number[][] = nodes.map(() => [])
    const below = axis.depths[depth + 1]
    for (let i = 0; i < below.length; i++) lists[below[i].parent].push(i)
    return lists
  })
  for (const name of exhibit.turned) {
    const depth = exhibit.rows.indexOf(name)
    for (const list of children[depth] ?? []) {
      // A missing key stays last.
      const gone = list.filter((i) => axis.depths[depth + 1][i].codes[depth] < 0)
      list.splice(0, list.length, ...list.filter((i) => !gone.includes(i)).reverse(), ...gone)
    }
  }
  if (sort !== undefined)
    children.forEach((lists, depth) => {
      if (exhibit.turned.includes(exhibit.rows[depth])) return
      const column = summary.levels[depth + 1][0].table.columns.get(sort.measure)?.column
      if (column?.kind !== 'number') return
      const { values } = column
      const sign = sort.falling ? -1 : 1
      for (const list of lists) list.sort((a, b) => compareMissingLast(values[a], values[b], sign))
    })
  return (depth, node) => children[depth]?.[node] ?? []
}
