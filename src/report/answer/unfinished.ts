import type { BoundRule, Cells } from '../../rule/model.js'
import type { Level } from '../../summary/cells/summarise.js'
import { isPeriodUnit, periodOf, spanOf } from '../../time/period.js'
import type { QueryContext } from '../model/answered.js'
import type { BoundExhibit } from '../model/bound.js'

/**
 * Marks the cells of an exhibit whose own period ends after the date of the report, for the rules
 * that leave them unpainted.
 */
export function unfinishedCells(
  { report, asOf }: QueryContext,
  exhibit: BoundExhibit,
): (level: Level) => Pick<Cells, 'unfinished'> {
  const units = [...exhibit.rows, ...exhibit.columns].filter(isPeriodUnit)
  const skips = (rule: BoundRule): boolean => rule.skipsUnfinished || exhibit.unfinished === 'unpainted'
  return ({ table }) => {
    const marked = new Uint8Array(table.length)
    let any = false
    for (const unit of units) {
      const column = table.columns.get(unit)?.column
      if (column?.kind !== 'date' || asOf === undefined) continue
      for (let cell = 0; cell < marked.length; cell++) {
        const day = column.values[cell]
        if (Number.isNaN(day) || day > asOf) continue
        if (spanOf(unit, periodOf(unit, day, report.calendar), report.calendar).to <= asOf) continue
        marked[cell] = 1
        any = true
      }
    }
    return any ? { unfinished: (rule) => (skips(rule) ? marked : undefined) } : {}
  }
}
