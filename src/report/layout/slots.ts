import type { ColumnStyle } from '../../page/page.js'
import { PLAIN_STYLE } from '../../style/cell-style.js'
import type { AnsweredExhibit, PaintedColumn } from '../model/answered.js'

/** The style of a heading that no rule can paint. */
export const PLAIN = { style: PLAIN_STYLE, bar: null, flag: null, statusText: '' } as const

/** Tables with more detail rows make their cells when they are looked at. */
export const MAX_MADE_ROWS = 300

/** One column of cells: a column key or total, and a measure. */
export interface Slot {
  depth: number
  node: number
  measure: string
  /** The label, if it is not that of the measure. */
  label: string | undefined
  style: ColumnStyle
}

/** The columns of cells of a table, in order. */
export function slotsOf({ exhibit, summary }: AnsweredExhibit): Slot[] {
  const deepest = exhibit.columns.length
  const nodes = summary.columns.depths[deepest]
  const shown = exhibit.slots.flatMap((slot) => {
    if (!('measure' in slot)) return []
    const { measure, label, ...style } = slot
    return [{ measure, label, style }]
  })
  const details = nodes.flatMap((_, node) => shown.map((slot) => ({ depth: deepest, node, ...slot })))
  const totals = shown.map((slot) => ({ depth: 0, node: 0, ...slot }))
  const side = deepest === 0 ? 'none' : exhibit.totals.columns
  return [...(side === 'left' ? totals : []), ...details, ...(side === 'right' ? totals : [])]
}

/** The painting of each column of details. */
export function paintedColumns(answered: AnsweredExhibit, slots: readonly Slot[] = slotsOf(answered)): PaintedColumn[] {
  const { exhibit, summary, levels } = answered
  const deepest = exhibit.rows.length
  return slots.map(({ depth, node, measure }) => ({
    painted: levels.of(summary.levels[deepest][depth]).result.painting.get(measure),
    width: summary.columns.depths[depth].length,
    node,
  }))
}
