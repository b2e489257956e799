import { problem } from '../../problem/optional.js'
import type { Problem } from '../../problem/problem.js'
import { joinWithAnd } from '../../rule/kinds/limit-text.js'
import { statusLabel } from '../../style/status.js'
import type { AnsweredExhibit } from '../model/answered.js'

/** The rows of an exhibit that are shown, and how many there are. */
export interface ShownRows {
  /** 1 for each detail row with a detail cell of one of the statuses. */
  details: Uint8Array
  /** `6 of 9 rows are shown: …`. */
  note: Problem
}

/**
 * Which rows have a detail cell with a status that the exhibit shows. Everything is decided before:
 * totals, ranks, legends and counts are those of all rows.
 */
export function shownRows({ exhibit, report, summary, levels }: AnsweredExhibit): ShownRows | undefined {
  const { showing, rows, columns } = exhibit
  if (showing === undefined) return undefined
  const painted = levels.of(summary.levels[rows.length][columns.length]).result.painting.get(showing.of)
  const width = summary.columns.depths[columns.length].length
  const details = new Uint8Array(summary.rows.depths[rows.length].length)
  let shown = 0
  for (let row = 0; row < details.length; row++)
    for (let at = row * width; at < (row + 1) * width && details[row] === 0; at++) {
      const status = painted?.styles[painted.ids[at]].status
      if (status == null || !showing.statuses.includes(status)) continue
      details[row] = 1
      shown++
    }
  const measure = report.measures.get(showing.of)?.label ?? report.labels.get(showing.of) ?? showing.of
  const statuses = joinWithAnd(showing.statuses.map((name) => statusLabel(report.statuses, name)))
  return { details, note: problem('note-showing', { shown, all: details.length, measure, statuses }) }
}

/** The order of rows without those that are not shown, and without groups that none is left of. */
export function shownOrder(
  { summary }: AnsweredExhibit,
  { details }: ShownRows,
  order: (depth: number, node: number) => number[],
): (depth: number, node: number) => number[] {
  const { depths } = summary.rows
  const kept: Uint8Array[] = depths.map((nodes) => new Uint8Array(nodes.length))
  kept[depths.length - 1] = details
  for (let depth = depths.length - 1; depth > 0; depth--)
    depths[depth].forEach(({ parent }, node) => {
      if (kept[depth][node] === 1) kept[depth - 1][parent] = 1
    })
  return (depth, node) => order(depth, node).filter((child) => kept[depth + 1][child] === 1)
}
