import type { Cell } from '../../page/page.js'
import { extentOf, placeBeyond } from '../../style/painting.js'
import type { AnsweredExhibit } from '../model/answered.js'

/**
 * The bars and points of an exhibit's columns, where no rule draws one: from zero, over the detail
 * values of each measure. None without values other than zero.
 */
export function extentsOf(
  { exhibit, summary }: AnsweredExhibit,
  slots: readonly { measure: string; style: { draw: string } }[],
): (measure: string, value: unknown) => Cell['extent'] {
  const scales = new Map<string, { from: number; to: number }>()
  const { table } = summary.levels[exhibit.rows.length][exhibit.columns.length]
  for (const { measure, style } of slots) {
    if (style.draw !== 'bar' && style.draw !== 'point') continue
    const column = table.columns.get(measure)?.column
    if (column?.kind !== 'number') continue
    let [from, to] = [0, 0]
    for (const value of column.values) {
      if (value < from) from = value
      if (value > to) to = value
    }
    if (to > from) scales.set(measure, { from, to })
  }
  return (measure, value) => {
    const scale = scales.get(measure)
    if (scale === undefined || typeof value !== 'number') return null
    // A total may lie outside the scale of its details.
    const at = (v: number): number => placeBeyond((v - scale.from) / (scale.to - scale.from))
    return extentOf(Math.min(at(0), at(value)), Math.max(at(0), at(value)))
  }
}
